import type { RawColumn } from '../read/table.js';
import { times } from '../../model/counted.js';
import type { UnshapedEnergy } from '../../model/log.js';
import type { Flow } from '../../model/quantity.js';
import { followCounter } from './counter.js';
import { counterLines, energiesOf, type CounterLines } from './counterLines.js';
import type { Say } from './rows.js';

/** A counter's readings further apart than so many steps span a gap. */
export const GAP_STEPS = 1.5;

/** A digit that comes to more than this over a step, in W, does not show the course of a step. */
const COARSE_DIGIT_W = 20;

/** Mean powers between the readings of counters, and what they say of the gaps. */
export function counterPower(
  timeMs: Float64Array,
  counters: readonly RawColumn[],
  stepMs: number,
  marks: 'start' | 'end',
  say: Say,
  role: string,
) {
  const n = timeMs.length;
  const total = new Float64Array(n);
  const rises: Float64Array[] = [];
  for (const { values, resolution, rule } of counters) {
    const daily = rule.kind === 'daily-counter';
    const { risen, faults } = followCounter(timeMs, values, resolution, daily);
    rises.push(risen);
    for (let i = 0; i < n; i++) total[i]! += risen[i]!;
    const { resets, rollovers, glitches } = faults;
    if (resets > 0 && !daily)
      say(
        'counter-reset',
        'note',
        `The ${role} counter starts anew ${times(resets)}; what it had counted is kept.`,
      );
    if (rollovers > 0)
      say(
        'counter-rollover',
        'note',
        `The ${role} counter rolls over ${times(rollovers)}; the register is taken as full.`,
      );
    if (glitches > 0)
      say(
        'counter-glitch',
        'warning',
        `The ${role} counter falls and comes back ${times(glitches)}; these readings are left out.`,
      );
  }
  // Reading i closes the interval since the last known one: with labels at the start it belongs to the row before.
  const values = new Float64Array(n).fill(NaN);
  const spans: { from: number; to: number; wh: number }[] = [];
  let last = -1;
  for (let i = 0; i < n; i++) {
    if (Number.isNaN(total[i]!)) continue;
    if (last >= 0) {
      const ms = timeMs[i]! - timeMs[last]!;
      if (ms <= GAP_STEPS * stepMs) values[marks === 'start' ? last : i] = (total[i]! * 3_600_000) / ms;
      else spans.push({ from: last, to: i, wh: total[i]! });
    }
    last = i;
  }
  const digitWh = Math.max(...counters.map((counter) => counter.resolution));
  const resolution = digitWh / (stepMs / 3_600_000);
  const counter = { digitWh, isDaily: counters.some(({ rule }) => rule.kind === 'daily-counter') };
  const isCoarse = resolution > COARSE_DIGIT_W;
  const runs = isCoarse ? runsOf(timeMs, total, stepMs) : [];
  const lines = isCoarse
    ? counters.map((own, c) => counterLines(timeMs, rises[c]!, own.resolution, runs))
    : null;
  return {
    values,
    resolution,
    counter,
    lines,
    /** Energies across gaps; of a power logged beside the counter, across its own gaps too. */
    lumps(flow: Flow, source: string, power: Float64Array | null): UnshapedEnergy[] {
      const own = spans.map(({ from, to, wh }) => lump(flow, source, timeMs[from]!, timeMs[to]!, wh));
      if (!power) return own;
      const gaps: UnshapedEnergy[] = [];
      for (let i = 0; i < n; i++) {
        if (!Number.isNaN(power[i]!) || Number.isNaN(values[i]!)) continue;
        let to = i;
        let wh = 0;
        while (to < n && Number.isNaN(power[to]!) && !Number.isNaN(values[to]!))
          wh += values[to++]! * (stepMs / 3_600_000);
        const shift = marks === 'end' ? -stepMs : 0;
        gaps.push(lump(flow, source, timeMs[i]! + shift, timeMs[to - 1]! + stepMs + shift, wh));
        i = to;
      }
      return [...own, ...gaps];
    },
  };
}

/** Writes the energies of lines as mean powers wherever there is a power. */
export function fillFromLines(
  values: Float64Array,
  lines: readonly CounterLines[],
  timeMs: Float64Array,
  marks: 'start' | 'end',
): void {
  const wh = energiesOf(lines, timeMs.length);
  for (let i = 1; i < timeMs.length; i++) {
    const at = marks === 'start' ? i - 1 : i;
    if (!Number.isNaN(values[at]!)) values[at] = (wh[i]! * 3_600_000) / (timeMs[i]! - timeMs[i - 1]!);
  }
}

/** Stretches of rows [from, to) that follow each other without a gap. */
function runsOf(timeMs: Float64Array, known: Float64Array, stepMs: number): [from: number, to: number][] {
  const runs: [number, number][] = [];
  for (let i = 0; i < timeMs.length; i++) {
    if (Number.isNaN(known[i]!)) continue;
    const last = runs.at(-1);
    if (last?.[1] === i && timeMs[i]! - timeMs[i - 1]! <= GAP_STEPS * stepMs) last[1] = i + 1;
    else runs.push([i, i + 1]);
  }
  return runs;
}

function lump(flow: Flow, source: string, fromMs: number, toMs: number, wh: number): UnshapedEnergy {
  return { flow, fromMs, toMs, wh, source };
}
