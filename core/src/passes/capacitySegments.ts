import { happening, within, type Pass } from './pass.js';
import { busChannel } from '../import/merge/derive.js';
import { cellAt, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';

const LEAST_MOVE = 0.3;
/** Bounds of the mean rate: below them the idle draw is most of it, above them the voltage sags. */
const RATES = [0.01, 0.5] as const;
/** Power of less than this share of the nameplate the other way does not end a run. */
const STILL = 0.01;
/** SOC that moves in one interval by so much more than the battery's power explains has been set anew by its monitor. */
const SET_ANEW = 0.03;
const LONGEST_CELL_MS = 15 * 60_000;
const FULL_SOC = 0.99;
const CHARGE_TOP = 0.97;

/** A discharge or a charge without a pause, between two steps of the state of charge. */
export interface Segment extends Range {
  readonly configuration: Configuration;
  readonly direction: 'discharge' | 'charge';
  /** What went through the meter. */
  readonly wh: number;
  readonly socFrom: number;
  readonly socTo: number;
  /** How far SOC moves in one interval, on average: its steps are known to so much. */
  readonly moveACell: number;
  readonly isFromFull: boolean;
  /** Mean temperature of the battery, °C; NaN where it is not logged. */
  readonly temperature: number;
}

/** A place at which a monitor has set its state of charge anew. */
export interface Reset {
  readonly atMs: number;
  readonly configuration: Configuration;
  readonly from: number;
  readonly to: number;
}

/**
 * Finds discharges and charges of at least 30 % of the capacity at 0.01 to 0.5 C. They run from the first step that the
 * display of SOC takes to its last: there the charge is known far better than to its last digit, and what a display holds
 * at 100 % does no harm.
 */
function segmentsOf(
  log: Log,
  configurations: readonly Configuration[],
): { segments: Segment[]; resets: Reset[] } {
  const battery = busChannel(log.channels, 'battery')?.values;
  const soc = log.channels.get('soc')?.values;
  const segments: Segment[] = [];
  const resets: Reset[] = [];
  if (!battery || !soc || log.stepMs > 3_600_000) return { segments, resets };
  const hours = log.stepMs / 3_600_000;
  const atMs = (i: number) => log.startMs + i * log.stepMs;
  for (const configuration of configurations) {
    const { nameplateWh, usableWh } = configuration;
    if (nameplateWh === null || usableWh === null) continue;
    const still = STILL * nameplateWh;
    const end = cellAt(log, configuration.toMs);
    let [falls, rises] = [-1, -1];
    const endFall = (to: number) => {
      if (falls >= 0) segments.push(...measured(log, battery, soc, configuration, falls, to));
      falls = -1;
    };
    const endRise = (to: number) => {
      if (rises >= 0) segments.push(...measured(log, battery, soc, configuration, rises, to));
      rises = -1;
    };
    for (let i = cellAt(log, configuration.fromMs); i < end; i++) {
      const level = soc[i]!;
      const power = battery[i]!;
      if (level !== level) {
        endFall(i - 1);
        endRise(i - 1);
        continue;
      }
      if (i > 0 && log.stepMs <= LONGEST_CELL_MS && atMs(i) > configuration.fromMs) {
        const moved = level - soc[i - 1]!;
        const expected = (-battery[i - 1]! * hours) / usableWh;
        if (Math.abs(moved - expected) > SET_ANEW + Math.abs(expected)) {
          resets.push({ atMs: atMs(i), configuration, from: soc[i - 1]!, to: level });
          endFall(i - 1);
          endRise(i - 1);
        }
      }
      if (!(power >= -still)) endFall(i);
      else if (falls < 0) falls = i;
      if (!(power <= still)) endRise(i);
      else if (rises < 0 && level <= FULL_SOC) rises = i;
      // Close to full many displays wait for the end of the charge.
      if (rises >= 0 && level > CHARGE_TOP) endRise(i);
    }
    endFall(end - 1);
    endRise(end - 1);
  }
  return { segments: segments.sort((a, b) => a.toMs - b.toMs), resets };
}

/** The run between two cells, from the first step of SOC to its last, where it goes far enough and neither slow nor fast. */
function measured(
  log: Log,
  battery: Float64Array,
  soc: Float64Array,
  configuration: Configuration,
  from: number,
  to: number,
): Segment[] {
  const sign = soc[from]! > soc[to]! ? 1 : -1;
  if (sign * (soc[from]! - soc[to]!) < LEAST_MOVE) return [];
  const temperature = log.channels.get('batteryTemp')?.values;
  const hours = log.stepMs / 3_600_000;
  let first = from;
  while (first < to && sign * (soc[first]! - soc[from]!) >= 0) first++;
  let last = to;
  while (last > first && sign * (soc[last - 1]! - soc[to]!) <= 0) last--;
  const moved = sign * (soc[first]! - soc[last]!);
  let [wh, heat, warm] = [0, 0, 0];
  for (let i = first; i < last; i++) {
    wh += sign * battery[i]! * hours;
    const celsius = temperature ? temperature[i]! : NaN;
    if (celsius === celsius) {
      heat += celsius;
      warm++;
    }
  }
  const rate = wh / ((last - first) * hours) / configuration.nameplateWh!;
  if (moved < LEAST_MOVE || rate < RATES[0] || rate > RATES[1]) return [];
  return [
    {
      configuration,
      direction: sign > 0 ? 'discharge' : 'charge',
      fromMs: log.startMs + first * log.stepMs,
      toMs: log.startMs + last * log.stepMs,
      wh,
      socFrom: soc[first]!,
      socTo: soc[last]!,
      moveACell: moved / (last - first),
      isFromFull: soc[from]! >= FULL_SOC,
      temperature: warm > 0 ? heat / warm : NaN,
    },
  ];
}

/** What a log shows of the capacity: runs one way, and where the monitor was set anew. */
export interface CapacityTraces {
  readonly segments: readonly Segment[];
  readonly resets: readonly Reset[];
}

/** Runs and resets. A run ends where the battery works the other way, so one of before the overlap has ended in it. */
export const capacityPass: Pass<CapacityTraces> = {
  scan: ({ log, configurations }) => segmentsOf(log, configurations),
  slice: ({ segments, resets }, range) => ({
    segments: within(segments, range),
    resets: happening(resets, range),
  }),
  join: (before, after, { cutMs, isWorked }) =>
    !isWorked && before.segments.length + after.segments.length > 0
      ? null
      : {
          segments: [
            ...before.segments.filter(({ toMs }) => toMs <= cutMs),
            ...after.segments.filter(({ toMs }) => toMs > cutMs),
          ],
          resets: [
            ...before.resets.filter(({ atMs }) => atMs < cutMs),
            ...after.resets.filter(({ atMs }) => atMs >= cutMs),
          ],
        },
};
