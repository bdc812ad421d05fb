import { stretchesLacking } from '../model/blocks.js';
import { cellAt, endMs, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Flow, Quantity } from '../model/quantity.js';
import type { Gap } from '../model/finding.js';

const WATCHED: readonly Quantity[] = ['solar', 'load', 'grid', 'battery', 'batteryDc', 'soc'];
/** A log that is full of holes is described by its longest ones. */
export const MOST_GAPS = 5000;

const FLOWS_OF: Partial<Record<Quantity, readonly Flow[]>> = {
  solar: ['solar'],
  load: ['load'],
  grid: ['import', 'export'],
  battery: ['charge', 'discharge'],
  batteryDc: ['charge', 'discharge'],
};

/**
 * Stretches in which logged quantities are missing, bridged values not counted as known. What is known as a total there is
 * not missing, nor is a state that is noted now and then.
 * @returns in time order, at most 5 000 of them, the longest
 */
export function findGaps(log: Log): Gap[] {
  const watched = WATCHED.flatMap((quantity) => {
    const channel = log.channels.get(quantity);
    return channel?.origin === 'logged' && !channel.isNoted ? [{ quantity, ...channel }] : [];
  });
  const atMs = (i: number) => log.startMs + i * log.stepMs;
  const missing = new Uint8Array(log.count + 1);
  watched.forEach(({ values, bridged }, q) => {
    const bit = 1 << q;
    for (const { from, to } of stretchesLacking(values))
      for (let i = from; i < to; i++) if (values[i] !== values[i]) missing[i]! |= bit;
    for (let i = bridged.indexOf(1); i >= 0; i = bridged.indexOf(1, i + 1)) missing[i]! |= bit;
  });
  watched.forEach(({ quantity }, q) => {
    const flows = FLOWS_OF[quantity];
    if (!flows) return;
    for (const { flow, fromMs, toMs } of log.lumps)
      if (flows.includes(flow)) {
        const to = cellAt(log, toMs);
        for (let i = cellAt(log, fromMs); i < to; i++) missing[i]! &= ~(1 << q);
      }
  });
  const gaps: Gap[] = [];
  let from = 0;
  let mask = 0;
  for (let i = 0; i <= log.count; i++) {
    if (missing[i] === mask) continue;
    if (mask !== 0) {
      const held = mask;
      const quantities = watched.filter((_, q) => held & (1 << q)).map(({ quantity }) => quantity);
      gaps.push({ fromMs: atMs(from), toMs: atMs(i), quantities });
    }
    from = i;
    mask = missing[i]!;
  }
  if (gaps.length <= MOST_GAPS) return gaps;
  return gaps
    .sort((a, b) => b.toMs - b.fromMs - (a.toMs - a.fromMs))
    .slice(0, MOST_GAPS)
    .sort((a, b) => a.fromMs - b.fromMs);
}

/** Gaps within a range, with what of the range lies before and after the log. */
export function gapsIn(gaps: readonly Gap[], log: Log, { fromMs, toMs }: Range): Gap[] {
  const all =
    log.channels.size > 0
      ? WATCHED.filter((quantity) => {
          const channel = log.channels.get(quantity);
          return channel?.origin === 'logged' && !channel.isNoted;
        })
      : [];
  const outside = [
    { fromMs, toMs: Math.min(toMs, log.startMs), quantities: all },
    { fromMs: Math.max(fromMs, endMs(log)), toMs, quantities: all },
  ];
  return [...gaps, ...outside]
    .map((gap) => ({ ...gap, fromMs: Math.max(gap.fromMs, fromMs), toMs: Math.min(gap.toMs, toMs) }))
    .filter((gap) => gap.toMs > gap.fromMs)
    .sort((a, b) => a.fromMs - b.fromMs);
}
