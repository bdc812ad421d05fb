import type { Interval } from '../../model/figure.js';
import { seededRandom } from '../../statistics/random.js';
import { YEAR_DAYS } from '../../time/days.js';
import { MONTH_NAMES } from '../../time/months.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { worthOfExport } from '../shared/priceSeries.js';
import type { WhatifFigures } from './scenarioFigures.js';
import { WHATIF_KEYS, type Model, type Modelled, type WhatifKey } from './scenarioValues.js';

const DAY_MS = 86_400_000;
/** Days that are drawn together: dull and bright days come in runs. */
const BLOCK_DAYS = 7;
const BLOCKS = Math.floor(YEAR_DAYS / BLOCK_DAYS);
/** A week stands for its season when it begins so many days from the same date or fewer. */
const SEASON_DAYS = 15;
const DRAWS = 1000;
const TAIL = 0.025;
/** Of a day that is drawn so much must be known. */
const LEAST_KNOWN = 0.9;

/** What is told of another year, of what adds up day by day. */
export const YEAR_KEYS = [
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'account.import',
  'account.export',
  'account.gridFreeDays',
  'money.bill',
] as const satisfies readonly WhatifKey[];
export type YearKey = (typeof YEAR_KEYS)[number];

/** What a change would make of a year whose weather is another than that of the log. */
export interface AnotherYear {
  /** So many years of the range are known. */
  readonly yearsKnown: number;
  /** Changed less as it is, in a year; what the log does not tell is left out. */
  readonly differences: Readonly<Partial<Record<YearKey, Interval>>>;
  /** Why none of them is told; null where they are. */
  readonly reason: string | null;
}

/** Sums of a run over the week that begins with each day; a day that is known in part counts as a whole one like it. */
interface RunWeeks {
  readonly load: Float64Array;
  /** Bought, or without a grid not given, kWh. */
  readonly lack: Float64Array;
  readonly sold: Float64Array;
  readonly freeDays: Float64Array;
  /** What energy costs less what it earns; NaN without prices. */
  readonly cost: Float64Array;
}

/**
 * Another year of a home and of a change: years put together of weeks of the log, each drawn from those that begin within 15 days
 * of the same date in any of its years, the same weeks for both. The interval is the middle 95 % of 1,000 such years, wider by
 * √(1 + 1 ÷ years of log), since what they are drawn from is itself a sample, together with how far the difference may be off.
 * @returns a function of the run of a change and its figures, with their differences over the range
 * @source Künsch, "The jackknife and the bootstrap for general stationary observations", Annals of Statistics 17 (1989); blocks
 *   within a season: common practice, no published source
 */
export function anotherYears(
  model: Model,
  base: Modelled,
): (changed: Modelled, figures: WhatifFigures) => AnotherYear {
  const isKnown = knownDays(model, base);
  const yearsKnown = isKnown.reduce((sum, known) => sum + known, 0) / YEAR_DAYS;
  const weeks = weeksOfSeasons(model, isKnown);
  const without = weeks.flatMap((starts, week) => (starts.length === 0 ? [week] : []));
  if (without.length > 0) {
    const reason = `Another year is not told: ${missingText(without)}.`;
    return () => ({ yearsKnown, differences: {}, reason });
  }
  const was = weeksOf(model, base);
  const { hasGrid } = model.home;
  const widened = Math.sqrt(1 + 1 / yearsKnown);
  return (changed, figures) => {
    const drawn = drawnYears(weeks, was, weeksOf(model, changed));
    const isBilled = isBilledByDay(base) && isBilledByDay(changed);
    const told: Readonly<Record<YearKey, Float64Array | null>> = {
      'account.selfSufficiency.grid': hasGrid ? drawn.selfSufficiency : null,
      'account.selfSufficiency.supply': hasGrid ? null : drawn.selfSufficiency,
      'account.import': hasGrid ? drawn.lack : null,
      'account.export': hasGrid ? drawn.sold : null,
      'account.gridFreeDays': hasGrid ? drawn.free : null,
      'money.bill': hasGrid && isBilled ? drawn.cost : null,
    };
    const differences = YEAR_KEYS.flatMap((key): [YearKey, Interval][] => {
      const years = told[key];
      const over = figures[key]?.basis.difference;
      if (!years || !over) return [];
      const off = (over.high - over.low) / 2;
      return [[key, intervalOf(years, widened, WHATIF_KEYS[key] === 'share' ? off : off / yearsKnown)]];
    });
    return { yearsKnown, differences: Object.fromEntries(differences), reason: null };
  };
}

function intervalOf(years: Float64Array, widened: number, off: number): Interval {
  const sorted = years.slice().sort();
  const value = years.reduce((sum, one) => sum + one, 0) / years.length;
  const at = (share: number) => sorted[Math.round(share * (years.length - 1))]!;
  return {
    value,
    low: value - Math.hypot(widened * (value - at(TAIL)), off),
    high: value + Math.hypot(widened * (at(1 - TAIL) - value), off),
  };
}

/** 1 for each day of the range of which enough is known. Load and sun are the same cells in every run. */
function knownDays({ inputs: { stepMs } }: Model, { run: { importW } }: Modelled): Uint8Array {
  const perDay = Math.max(1, Math.round(DAY_MS / stepMs));
  return Uint8Array.from({ length: Math.floor(importW.length / perDay) }, (_, day) => {
    let known = 0;
    for (let i = day * perDay; i < (day + 1) * perDay; i++) if (importW[i] === importW[i]) known++;
    return known >= LEAST_KNOWN * perDay ? 1 : 0;
  });
}

function weeksOf(model: Model, { load, run, prices }: Modelled): RunWeeks {
  const perDay = Math.max(1, Math.round(DAY_MS / model.inputs.stepMs));
  const { hasGrid } = model.home;
  const days = Math.floor(load.length / perDay);
  const lackW = hasGrid ? run.importW : run.courses.unservedW;
  const all = {
    load: new Float64Array(days),
    lack: new Float64Array(days),
    sold: new Float64Array(days),
    freeDays: new Float64Array(days),
    cost: new Float64Array(days),
  };
  for (let day = 0; day < days; day++) {
    let [used, lack, sold, cost, cells] = [0, 0, 0, 0, 0];
    for (let i = day * perDay; i < (day + 1) * perDay; i++) {
      const lacking = lackW[i]!;
      if (lacking !== lacking) continue;
      cells++;
      used += load[i]!;
      lack += lacking;
      sold += run.exportW[i]!;
      if (prices) {
        if (lacking > 0) cost += lacking * prices.buy[i]!;
        if (run.exportW[i]! > 0) cost -= run.exportW[i]! * worthOfExport(prices, i);
      }
    }
    const kWh = cells > 0 ? 0.024 / cells : 0;
    const tariff = prices?.bills[prices.bill[day * perDay]!]!.tariff;
    all.load[day] = used * kWh;
    all.lack[day] = lack * kWh;
    all.sold[day] = sold * kWh;
    all.cost[day] = tariff ? cost * kWh * (1 + (tariff.taxShare ?? 0)) : NaN;
    all.freeDays[day] = run.importByDayKWh[day]! * 1000 <= model.data.gridFreeWh ? 1 : 0;
  }
  const sums = (values: Float64Array) =>
    values.map((_, day) => values.subarray(day, day + BLOCK_DAYS).reduce((sum, one) => sum + one, 0));
  return {
    load: sums(all.load),
    lack: sums(all.lack),
    sold: sums(all.sold),
    freeDays: sums(all.freeDays),
    cost: sums(all.cost),
  };
}

/** For each week of the year the days of the range with which a known week of its season begins. */
function weeksOfSeasons({ inputs: { startMs, stepMs, zone } }: Model, isKnown: Uint8Array): number[][] {
  const perDay = Math.max(1, Math.round(DAY_MS / stepMs));
  const site = zoneOf(zone);
  const weeks = Array.from({ length: BLOCKS }, (): number[] => []);
  for (let day = 0; day + BLOCK_DAYS <= isKnown.length; day++) {
    if (isKnown.subarray(day, day + BLOCK_DAYS).includes(0)) continue;
    const noonMs = startMs + day * perDay * stepMs + DAY_MS / 2;
    const local = noonMs + offsetAt(site, noonMs);
    const dayOfYear = (local - Date.UTC(new Date(local).getUTCFullYear(), 0, 1)) / DAY_MS - 0.5;
    for (let week = 0; week < BLOCKS; week++) {
      const apart = Math.abs(dayOfYear - week * BLOCK_DAYS);
      if (Math.min(apart, YEAR_DAYS - apart) <= SEASON_DAYS) weeks[week]!.push(day);
    }
  }
  return weeks;
}

/** Differences of the drawn years. */
interface DrawnYears {
  readonly selfSufficiency: Float64Array;
  readonly lack: Float64Array;
  readonly sold: Float64Array;
  readonly free: Float64Array;
  readonly cost: Float64Array;
}

function drawnYears(weeks: readonly (readonly number[])[], was: RunWeeks, is: RunWeeks): DrawnYears {
  const random = seededRandom(52);
  const toYear = YEAR_DAYS / (BLOCKS * BLOCK_DAYS);
  const none = () => new Float64Array(DRAWS);
  const years = { selfSufficiency: none(), lack: none(), sold: none(), free: none(), cost: none() };
  for (let draw = 0; draw < DRAWS; draw++) {
    let [loadWas, loadIs, lackWas, lackIs, sold, free, cost] = [0, 0, 0, 0, 0, 0, 0];
    for (const starts of weeks) {
      const day = starts[Math.floor(random() * starts.length)]!;
      loadWas += was.load[day]!;
      loadIs += is.load[day]!;
      lackWas += was.lack[day]!;
      lackIs += is.lack[day]!;
      sold += is.sold[day]! - was.sold[day]!;
      free += is.freeDays[day]! - was.freeDays[day]!;
      cost += is.cost[day]! - was.cost[day]!;
    }
    years.selfSufficiency[draw] = lackWas / loadWas - lackIs / loadIs;
    years.lack[draw] = toYear * (lackIs - lackWas);
    years.sold[draw] = toYear * sold;
    years.free[draw] = toYear * free;
    years.cost[draw] = toYear * cost;
  }
  return years;
}

/** Whether bills are sums of their days: blocks and demand charges are of the whole bill. */
function isBilledByDay({ prices }: Modelled): boolean {
  return (
    prices?.bills.every(
      ({ tariff }) =>
        (tariff.demand ?? []).length === 0 &&
        (tariff.import ?? []).every(({ aboveKWh }) => aboveKWh === undefined),
    ) ?? false
  );
}

function missingText(weeks: readonly number[]): string {
  const months = [
    ...new Set(weeks.map((week) => new Date(Date.UTC(2023, 0, 4 + week * BLOCK_DAYS)).getUTCMonth())),
  ];
  const names = months.map((month) => MONTH_NAMES[month]!);
  return `the log has no whole week of the season in ${names.length < 12 ? names.join(', ') : 'any month'}`;
}
