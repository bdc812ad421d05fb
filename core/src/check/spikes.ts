import { stretchesBeyond } from '../model/blocks.js';
import type { Log } from '../model/log.js';
import { quantityText, type Quantity } from '../model/quantity.js';
import { sampledSizes } from './sampledSizes.js';
import { quantileOf } from '../statistics/quantile.js';
import { siteTimeOf, zoneOf } from '../time/zone.js';
import type { Finding } from '../model/finding.js';

/** A spike stands so many times above the home's usual top, and above what its neighbours reach. */
const ABOVE_TOP = 3;
const ABOVE_NEIGHBOURS = 4;
const LEAST_W = 3000;
const NEIGHBOURS = 3;
const LONGEST = 2;
const MOST_TOLD = 200;
/** What loggers write where they have no value: the ends of their registers, and rows of nines. */
const SENTINELS = new Set([9999, 99_999, 32_767, 32_768, 65_535]);
const ABOVE_TOP_SENTINEL = 1.5;

/**
 * Single values that no home reaches: far above the 99.5th percentile of their channel and of their neighbours. A kettle
 * is no spike; a register read half is.
 */
export function spikeFindings(log: Log): Finding[] {
  const findings: Finding[] = [];
  for (const quantity of ['solar', 'load', 'grid', 'battery', 'batteryDc'] as const) {
    const channel = log.channels.get(quantity);
    if (channel?.origin !== 'logged' || channel.counter) continue;
    const spikes = spikesOf(channel.values);
    if (spikes.length === 0) continue;
    findings.push(spikeFinding(log, quantity, channel.values, spikes.slice(0, MOST_TOLD)));
  }
  return findings;
}

function spikesOf(values: Float64Array): [from: number, to: number][] {
  const sizes = sampledSizes(values);
  if (sizes.length < 100) return [];
  const top = quantileOf(sizes, 0.995);
  const limit = Math.max(LEAST_W, ABOVE_TOP * top);
  const least = Math.min(limit, ABOVE_TOP_SENTINEL * top);
  const spikes: [number, number][] = [];
  for (const stretch of stretchesBeyond(values, -least, least))
    for (let i = stretch.from; i < stretch.to; i++) {
      const size = Math.abs(values[i]!);
      if (!(size > least)) continue;
      if (size <= limit) {
        if (SENTINELS.has(size)) spikes.push([i, i + 1]);
        continue;
      }
      let to = i + 1;
      while (to < values.length && Math.abs(values[to]!) > limit) to++;
      let around = 0;
      for (let k = 1; k <= NEIGHBOURS; k++)
        around = Math.max(around, Math.abs(values[i - k] ?? 0) || 0, Math.abs(values[to - 1 + k] ?? 0) || 0);
      if (to - i <= LONGEST && Math.abs(values[i]!) > ABOVE_NEIGHBOURS * around) spikes.push([i, to]);
      i = to;
    }
  return spikes;
}

function spikeFinding(
  log: Log,
  quantity: Quantity,
  values: Float64Array,
  spikes: readonly [number, number][],
): Finding {
  const at = (i: number) => log.startMs + i * log.stepMs;
  const [first] = spikes as [[number, number]];
  const wh = spikes.reduce((sum, [from, to]) => {
    let own = 0;
    for (let i = from; i < to; i++) own += Math.abs(values[i]!);
    return sum + (own * log.stepMs) / 3_600_000;
  }, 0);
  return {
    code: 'spikes',
    severity: 'warning',
    fromMs: at(first[0]),
    toMs: at(spikes.at(-1)![1]),
    message: `${spikes.length} ${spikes.length === 1 ? 'value' : 'values'} of the ${quantityText(quantity)} jump far beyond everything around them, first to ${(values[first[0]]! / 1000).toFixed(1)} kW at ${siteTimeOf(zoneOf(log.zone), at(first[0]))}.`,
    source: log.channels.get(quantity)!.sources.length === 1 ? log.channels.get(quantity)!.sources[0]! : null,
    kWh: wh / 1000,
    proposal: {
      kind: 'blank',
      source: null,
      quantity,
      stretches: spikes.map(([from, to]) => [at(from), at(to)]),
    },
  };
}
