import { busChannel } from '../merge/derive.js';
import { cellAt, type Log, type Range } from '../series/log.js';
import type { Configuration } from '../system/configuration.js';

const LEAST_FALL = 0.3;
/** Bounds of the mean rate: below them the idle draw is most of it, above them the voltage sags. */
const RATES = [0.01, 0.5] as const;
/** Charging of less than this share of the nameplate in an hour does not end a discharge. */
const STILL = 0.01;
/** SOC that moves in one interval by so much more than the battery's power explains has been set anew by its monitor. */
const SET_ANEW = 0.03;
const LONGEST_CELL_MS = 15 * 60_000;
const FULL_SOC = 0.99;

/** A discharge without a pause, between two steps of the state of charge. */
export interface Segment extends Range {
  readonly configuration: Configuration;
  /** What came out on the measuring side. */
  readonly dischargeWh: number;
  readonly socFrom: number;
  readonly socTo: number;
  /** How far SOC falls in one interval, on average: its steps are known to so much. */
  readonly fallACell: number;
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
 * Finds discharges of at least 30 % of the capacity at 0.01 to 0.5 C. They run from the first step that the display of
 * SOC takes to its last: there the charge is known far better than to its last digit, and what a display holds at 100 %
 * does no harm.
 */
export function segmentsOf(
  log: Log,
  configurations: readonly Configuration[],
): { segments: Segment[]; resets: Reset[] } {
  const battery = busChannel(log.channels, 'battery')?.values;
  const soc = log.channels.get('soc')?.values;
  const segments: Segment[] = [];
  const resets: Reset[] = [];
  if (!battery || !soc || log.stepMs > 3_600_000) return { segments, resets };
  const temperature = log.channels.get('batteryTemp')?.values;
  const hours = log.stepMs / 3_600_000;
  const atMs = (i: number) => log.startMs + i * log.stepMs;
  for (const configuration of configurations) {
    const { nameplateWh, usableWh } = configuration;
    if (nameplateWh === null || usableWh === null) continue;
    const still = -STILL * nameplateWh;
    const end = cellAt(log, configuration.toMs);
    let start = -1;
    const close = (to: number) => {
      const segment = start < 0 ? null : measured(start, to);
      if (segment) segments.push(segment);
      start = -1;
    };
    const measured = (from: number, to: number): Segment | null => {
      if (soc[from]! - soc[to]! < LEAST_FALL) return null;
      let first = from;
      while (first < to && soc[first]! >= soc[from]!) first++;
      let last = to;
      while (last > first && soc[last - 1]! <= soc[to]!) last--;
      const fall = soc[first]! - soc[last]!;
      let [wh, heat, warm] = [0, 0, 0];
      for (let i = first; i < last; i++) {
        wh += battery[i]! * hours;
        const celsius = temperature ? temperature[i]! : NaN;
        if (celsius === celsius) {
          heat += celsius;
          warm++;
        }
      }
      const rate = wh / ((last - first) * hours) / nameplateWh;
      if (fall < LEAST_FALL || rate < RATES[0] || rate > RATES[1]) return null;
      return {
        configuration,
        fromMs: atMs(first),
        toMs: atMs(last),
        dischargeWh: wh,
        socFrom: soc[first]!,
        socTo: soc[last]!,
        fallACell: fall / (last - first),
        isFromFull: soc[from]! >= FULL_SOC,
        temperature: warm > 0 ? heat / warm : NaN,
      };
    };
    for (let i = cellAt(log, configuration.fromMs); i < end; i++) {
      const level = soc[i]!;
      const power = battery[i]!;
      if (level !== level) {
        close(i - 1);
        continue;
      }
      if (i > 0 && log.stepMs <= LONGEST_CELL_MS && atMs(i) > configuration.fromMs) {
        const moved = level - soc[i - 1]!;
        const expected = (-battery[i - 1]! * hours) / usableWh;
        if (Math.abs(moved - expected) > SET_ANEW + Math.abs(expected)) {
          resets.push({ atMs: atMs(i), configuration, from: soc[i - 1]!, to: level });
          close(i - 1);
        }
      }
      if (!(power >= still)) close(i);
      else if (start < 0) start = i;
    }
    close(end - 1);
  }
  return { segments, resets };
}
