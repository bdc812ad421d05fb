import { times } from '../model/counted.js';
import { largestSize } from '../model/blocks.js';
import { resumable } from '../model/resumable.js';
import type { Log } from '../model/log.js';
import { isPower, quantityText, type Quantity } from '../model/quantity.js';
import { siteTimeOf, zoneOf } from '../time/zone.js';
import { hoursText } from '../model/hoursText.js';
import type { Finding } from '../model/finding.js';

/** A home's flow does not stay on one watt for so long. */
const STUCK_H = 5;
/** Energy that a standing state of charge must have seen pass before it is doubted, as a share of the capacity. */
const PASSED_SHARE = 0.5;
const MOST_TOLD = 20;
/** Below this a standing value is a meter's floor, a trickle or a battery held full, W. */
const STANDING_W: Readonly<Partial<Record<Quantity, number>>> = {
  load: 40,
  solar: 100,
  grid: 150,
  battery: 250,
  batteryDc: 250,
};

/** Values that stand still while the home goes on: powers away from zero, a state of charge while the battery works. */
export function stuckFindings(log: Log, usableWh: number | null): Finding[] {
  const findings: Finding[] = [];
  for (const quantity of ['solar', 'load', 'grid', 'battery', 'batteryDc', 'soc'] as const) {
    const channel = log.channels.get(quantity);
    if (channel?.origin !== 'logged') continue;
    // A line between two ticks of a counter stands still by itself.
    if (isPower(quantity) && channel.counter) continue;
    const runs = isPower(quantity)
      ? stuckPower(channel.values, log, STANDING_W[quantity] ?? 100)
      : stuckSoc(channel.values, log, usableWh);
    if (runs.length === 0) continue;
    const hours = log.stepMs / 3_600_000;
    const long = [...runs].sort((a, b) => b.to - b.from - (a.to - a.from)).slice(0, MOST_TOLD);
    const [first] = long as [Run];
    const kWh = isPower(quantity)
      ? long.reduce((sum, { from, to }) => sum + Math.abs(channel.values[from]!) * (to - from) * hours, 0) /
        1000
      : null;
    const unit =
      quantity === 'soc'
        ? `${(100 * channel.values[first.from]!).toFixed(0)} %`
        : `${Math.round(channel.values[first.from]!)} W`;
    findings.push({
      code: 'stuck-values',
      severity: 'warning',
      fromMs: log.startMs + first.from * log.stepMs,
      toMs: log.startMs + first.to * log.stepMs,
      message: `The ${quantityText(quantity)} stands still ${times(long.length)}, longest at ${unit} for ${hoursText((first.to - first.from) * hours)} from ${siteTimeOf(zoneOf(log.zone), log.startMs + first.from * log.stepMs)}: the meter or the logger may have hung.`,
      source: channel.sources.length === 1 ? channel.sources[0]! : null,
      kWh,
      proposal: {
        kind: 'blank',
        source: null,
        quantity,
        stretches: long.map(({ from, to }) => [
          log.startMs + from * log.stepMs,
          log.startMs + to * log.stepMs,
        ]),
      },
    });
  }
  return findings;
}

interface Run {
  readonly from: number;
  readonly to: number;
}

function stuckPower(values: Float64Array, { stepMs }: Log, leastW: number): readonly Run[] {
  const least = Math.max(12, (STUCK_H * 3_600_000) / stepMs);
  return standing(values, least, leastW, Infinity);
}

function stuckSoc(values: Float64Array, log: Log, usableWh: number | null): Run[] {
  const battery = (log.channels.get('battery') ?? log.channels.get('batteryDc'))?.values;
  if (!battery || usableWh === null) return [];
  const hours = log.stepMs / 3_600_000;
  const leastWh = PASSED_SHARE * usableWh;
  const passedWh = ({ from, to }: Run) => {
    let wh = 0;
    for (let i = from + 1; i < to; i++) wh += Math.abs(battery[i] ?? 0) * hours;
    return wh;
  };
  // So much does not pass in fewer cells, nor does it pass by a store that is full or empty.
  const least = 1 + leastWh / (largestSize(battery) * hours);
  return standing(values, least, 0.02, 0.98).filter((run) => passedWh(run) > leastWh);
}

const resumedRuns = resumable<readonly Run[]>();

/**
 * Runs of one value of at least so many cells, of values whose size lies between two bounds.
 * @param least cells, more than one
 */
function standing(values: Float64Array, least: number, aboveSize: number, belowSize: number): readonly Run[] {
  // A run of so many cells holds two neighbours of every half as many: only where those are alike is it gone through.
  const stride = Math.max(1, Math.floor(least / 2));
  return resumedRuns(values, JSON.stringify([least, aboveSize, belowSize]), (before) => {
    // A run that went on where the column ended may be longer now, or long enough.
    const runs = before?.result.filter(({ to }) => to < before.cells) ?? [];
    const openFrom = before?.result.find(({ to }) => to === before.cells)?.from ?? Infinity;
    const seen = before ? Math.min(openFrom, before.cells - least) : 0;
    let end = runs.at(-1)?.to ?? 0;
    for (let i = Math.max(stride, Math.floor(seen / stride) * stride); i < values.length; i += stride) {
      const value = values[i]!;
      if (i < end || values[i - stride] !== value) continue;
      const size = Math.abs(value);
      if (!(size > aboveSize && size < belowSize)) continue;
      let from = i;
      while (from > 0 && values[from - 1] === value) from--;
      let to = i + 1;
      while (to < values.length && values[to] === value) to++;
      if (to - from >= least) runs.push({ from, to });
      end = to;
    }
    return runs;
  });
}
