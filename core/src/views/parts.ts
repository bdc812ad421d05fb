import { clearSky, type Facing } from '../books/solar/clearSky.js';
import type { Reading } from '../import/merge/readings.js';
import { cellAt, type Channel, type Log } from '../model/log.js';
import {
  isNamed,
  isPart,
  isSameName,
  nameOfPart,
  type NamedLoad,
  type NamedSolar,
} from '../model/quantity.js';
import type { Range } from '../model/range.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import { channelOf, type RangeData } from '../passes/rangeData.js';
import { configurationAt } from '../system/configuration.js';

/** The sun is reckoned in the middle of blocks of about so much. */
const BLOCK_MS = 1_800_000;
/** Normal irradiance above the air, W/m². */
const ABOVE_AIR = 1353;
/** Of a stretch between two counters of use so much of the part must be known. */
const LEAST_KNOWN = 0.97;

/** A month of a part, cut by the range. */
export interface PartMonth extends Range {
  /** `2024-05`. */
  readonly month: string;
  readonly kWh: number;
  /** Share of the month's time that is known. */
  readonly coverage: number;
  /** Of all solar or all load over the same intervals; null where that is not known. */
  readonly share: number | null;
  /** What a clear sky would give each square metre of the array's plane over the known intervals; null without a facing. */
  readonly clearKWhM2: number | null;
  /** kWh per kWp and per kWh/m² of a clear sky: one without clouds, heat, dirt, shade and losses. */
  readonly ofClearSky: number | null;
  /** The same of that month a year before, where the range's log has it. */
  readonly yearBefore: number | null;
}

/** What a named load took for each unit of its own counter. */
export interface UsePerUnit extends Range {
  readonly unit: string;
  readonly units: number;
  readonly kWh: number;
  readonly coverage: number;
  /** kWh per unit with its interval at about 95 %: the meter's class and the counter's last digit at both ends. */
  readonly perUnit: { readonly value: number; readonly low: number; readonly high: number } | null;
}

/** A part of load or solar that is logged by its own name. */
export interface PartView {
  readonly quantity: NamedLoad | NamedSolar;
  readonly name: string;
  readonly kWh: number;
  readonly share: number | null;
  readonly clearKWhM2: number | null;
  readonly ofClearSky: number | null;
  /** Peak power, where the system describes an array of that name. */
  readonly kWp: number | null;
  readonly months: readonly PartMonth[];
  readonly uses: readonly UsePerUnit[];
}

/**
 * Parts of the home by month: energy, share of the whole, for arrays what they gave of a clear sky on their own tilt and
 * azimuth, and for loads what they took for each unit that a counter beside them moved.
 * @param readings those of the home; their counters of use are held against the log
 */
export function partsView(prepared: Prepared, range: Range, readings: readonly Reading[]): PartView[] {
  const data = rangeDataOf(prepared, range);
  return [...data.log.channels].flatMap(([quantity, channel]) => {
    if (!isPart(quantity)) return [];
    const array = isNamed(quantity) ? null : arrayOf(data, prepared, nameOfPart(quantity));
    const months = monthsOf(data.days.map(({ day }) => day)).map((month) => {
      const sums = sumsOf(data, quantity, channel, month, array);
      const before = yearEarlier(data, month);
      const earlier = before && sumsOf(data, quantity, channel, before, array);
      return { ...month, ...sums, yearBefore: earlier?.ofClearSky ?? null };
    });
    const whole = sumsOf(data, quantity, channel, range, array);
    if (whole.coverage === 0) return [];
    return [
      {
        quantity,
        name: nameOfPart(quantity).replaceAll('_', ' '),
        kWh: whole.kWh,
        share: whole.share,
        clearKWhM2: whole.clearKWhM2,
        ofClearSky: whole.ofClearSky,
        kWp: array?.kWp ?? null,
        months: months.filter(({ coverage }) => coverage > 0),
        uses: isNamed(quantity) ? usesOf(data, channel, nameOfPart(quantity), readings) : [],
      },
    ];
  });
}

interface DescribedArray {
  readonly kWp: number;
  /** Null where place, tilt or azimuth are not described. */
  readonly facing: Facing | null;
}

/** The array of a name, as the configuration at the end of the range describes it. */
function arrayOf(data: RangeData, { system }: Prepared, name: string): DescribedArray | null {
  const arrays = configurationAt(data.configurations, data.range.toMs - 1).described?.arrays ?? [];
  const own = arrays.find((array) => isSameName(array.name ?? '', name));
  if (!own) return null;
  const { latitude, longitude } = system;
  const faces = latitude !== undefined && longitude !== undefined && own.tilt !== undefined;
  return {
    kWp: own.kWp,
    facing:
      faces && (own.tilt === 0 || own.azimuth !== undefined) ? { latitude, longitude, arrays: [own] } : null,
  };
}

function monthsOf(days: readonly (Range & { readonly date: string })[]): (Range & { month: string })[] {
  const months: { month: string; fromMs: number; toMs: number }[] = [];
  for (const { date, fromMs, toMs } of days) {
    const last = months.at(-1);
    if (last?.month === date.slice(0, 7)) last.toMs = toMs;
    else months.push({ month: date.slice(0, 7), fromMs, toMs });
  }
  return months;
}

/** A stretch a calendar year before, where the log reaches back to it; a day that is missing then is left out by both. */
function yearEarlier({ log }: RangeData, { fromMs, toMs }: Range): Range | null {
  const back = (ms: number) => {
    const date = new Date(ms);
    return date.setUTCFullYear(date.getUTCFullYear() - 1);
  };
  return back(fromMs) < log.startMs ? null : { fromMs: back(fromMs), toMs: back(toMs) };
}

function sumsOf(
  data: RangeData,
  quantity: NamedLoad | NamedSolar,
  { values }: Channel,
  { fromMs, toMs }: Range,
  array: DescribedArray | null,
) {
  const { log } = data;
  const whole = channelOf(data, isNamed(quantity) ? 'load' : 'solar')?.values;
  const block = Math.max(1, Math.round(BLOCK_MS / log.stepMs));
  const hours = log.stepMs / 3_600_000;
  const [from, to] = cellsOf(log, fromMs, toMs);
  let [wh, known, wholeWh, partOfWholeWh, clearWhM2] = [0, 0, 0, 0, 0];
  for (let start = from; start < to; start += block) {
    const end = Math.min(to, start + block);
    const knownBefore = known;
    for (let i = start; i < end; i++) {
      const watts = values[i]!;
      if (Number.isNaN(watts)) continue;
      known++;
      wh += watts * hours;
      if (whole === undefined || Number.isNaN(whole[i]!)) continue;
      wholeWh += whole[i]! * hours;
      partOfWholeWh += watts * hours;
    }
    if (array?.facing && known > knownBefore) {
      const middleMs = log.startMs + ((start + end) / 2) * log.stepMs;
      clearWhM2 += ABOVE_AIR * clearSky(array.facing, middleMs).sky * (known - knownBefore) * hours;
    }
  }
  const clearKWhM2 = array?.facing ? clearWhM2 / 1000 : null;
  return {
    kWh: wh / 1000,
    coverage: toMs > fromMs ? Math.min(1, (known * log.stepMs) / (toMs - fromMs)) : 0,
    share: wholeWh > 0 ? partOfWholeWh / wholeWh : null,
    clearKWhM2,
    ofClearSky: array && clearKWhM2 ? wh / 1000 / array.kWp / clearKWhM2 : null,
  };
}

function cellsOf(log: Log, fromMs: number, toMs: number): [number, number] {
  return [Math.max(0, cellAt(log, fromMs)), Math.min(log.count, cellAt(log, toMs))];
}

/** What a load took between its first and its last counter of each unit in the range. */
function usesOf(
  data: RangeData,
  { values }: Channel,
  name: string,
  readings: readonly Reading[],
): UsePerUnit[] {
  const { log, range, accuracy } = data;
  const own = readings
    .filter(
      ({ atMs, use }) => atMs >= range.fromMs && atMs <= range.toMs && use && isSameName(use.part, name),
    )
    .sort((a, b) => a.atMs - b.atMs);
  const units = [...new Set(own.map(({ use }) => use!.unit))];
  return units.flatMap((unit) => {
    const shown = own.filter(({ use }) => use!.unit === unit);
    const [first, last] = [shown[0]!, shown.at(-1)!];
    const moved = last.use!.shown - first.use!.shown;
    const [from, to] = cellsOf(log, first.atMs, last.atMs);
    let [sum, known] = [0, 0];
    for (let i = from; i < to; i++)
      if (!Number.isNaN(values[i]!)) {
        sum += values[i]!;
        known++;
      }
    if (to <= from || moved <= 0) return [];
    const kWh = (sum * log.stepMs) / 3_600_000_000;
    const coverage = known / (to - from);
    const digit = 10 ** -Math.min(first.use!.decimals, last.use!.decimals);
    // What is missing was used as the rest at best, and not at all at worst.
    const lacking = 1 / coverage - 1;
    const half = Math.hypot(accuracy.load, digit / moved);
    const value = kWh / moved;
    const perUnit =
      coverage >= LEAST_KNOWN ? { value, low: value * (1 - half), high: value * (1 + half + lacking) } : null;
    return [{ unit, units: moved, kWh, coverage, perUnit, fromMs: first.atMs, toMs: last.atMs }];
  });
}
