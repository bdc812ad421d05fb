import type { Interval } from '../../model/figure.js';
import { quantile } from '../../statistics/quantile.js';
import { seededRandom } from '../../statistics/random.js';
import type { RangeData } from '../../passes/rangeData.js';
import { YEAR_DAYS } from '../../time/days.js';
import { z } from 'zod';

const positive = z.number().min(0).max(1e9);
/** A battery, or a warranty, that is on offer. */
export const offerSchema = z.object({
  name: z.string().min(1).max(200),
  price: positive,
  usableKWh: positive,
  years: positive.optional(),
  throughputKWh: positive.optional(),
  cycles: positive.optional(),
  /** Depth of the cycles that the warranty counts, a share. */
  cycleDepth: z.number().min(0.01).max(1).optional(),
  /** Share of the capacity that is warranted at its end. */
  endCapacity: z.number().min(0).max(1).optional(),
});
export type Offer = z.infer<typeof offerSchema>;

/** How hard a home works its battery, by its own log. */
export interface BatteryUse {
  /** kWh discharged a day, over the year: value, and the interval that days and seasons leave. */
  readonly dischargeADayKWh: Interval;
  readonly days: number;
}

/** An offer at a home's own use. */
export interface OfferOutcome {
  readonly name: string;
  /** Years until each warranted limit, those that the offer has. */
  readonly limits: readonly { readonly limit: 'years' | 'throughput' | 'cycles'; readonly years: Interval }[];
  /** The first of them; null where the offer has none. */
  readonly first: 'years' | 'throughput' | 'cycles' | null;
  readonly yearsToFirst: Interval | null;
  /** kWh discharged until then, and what each costs. */
  readonly warrantedKWh: Interval | null;
  readonly perWarrantedKWh: Interval | null;
}

const RESAMPLES = 400;
const LEAST_DAYS = 7;

/** What a home discharges a day; null where fewer than seven days tell. A day of less than nine tenths is left out. */
export function batteryUse({ days }: RangeData): BatteryUse | null {
  const daily = days.flatMap(({ sums, day }) => {
    const wholeS = (day.toMs - day.fromMs) / 1000;
    return sums.batteryS >= 0.9 * wholeS ? [(sums.dischargeWh / 1000) * (wholeS / sums.batteryS)] : [];
  });
  if (daily.length < LEAST_DAYS) return null;
  const mean = (values: readonly number[]) => values.reduce((sum, one) => sum + one, 0) / values.length;
  // Weeks are drawn, so that holidays and runs of bad weather stay together.
  const weeks = Array.from({ length: Math.ceil(daily.length / 7) }, (_, k) => daily.slice(7 * k, 7 * k + 7));
  const random = seededRandom(0x0ffe);
  const drawn = Float64Array.from({ length: RESAMPLES }, () =>
    mean(weeks.flatMap(() => weeks[Math.floor(random() * weeks.length)]!)),
  ).sort();
  const value = mean(daily);
  // Less than a year speaks for its season.
  const season = 0.3 * value * Math.max(0, 1 - daily.length / YEAR_DAYS);
  return {
    days: daily.length,
    dischargeADayKWh: {
      value,
      low: Math.max(0, value - Math.hypot(value - quantile(drawn, 0.025), season)),
      high: value + Math.hypot(quantile(drawn, 0.975) - value, season),
    },
  };
}

/**
 * Offers at a home's own measured use: which warranted limit comes first and when, and what a kWh through the battery costs until then. No more
 * than one usable capacity a day is taken to be used.
 * @source common practice, no published source
 */
export function compareOffers(offers: readonly Offer[], use: BatteryUse): OfferOutcome[] {
  return offers.map(({ name, price, usableKWh, years, throughputKWh, cycles, cycleDepth = 1 }) => {
    const aDay = map(use.dischargeADayKWh, (kWh) => Math.min(kWh, usableKWh));
    const until = (kWh: number): Interval => flipped(aDay, (own) => kWh / own / YEAR_DAYS);
    const limits = [
      ...(years === undefined
        ? []
        : [{ limit: 'years' as const, years: { value: years, low: years, high: years } }]),
      ...(throughputKWh === undefined ? [] : [{ limit: 'throughput' as const, years: until(throughputKWh) }]),
      ...(cycles === undefined
        ? []
        : [{ limit: 'cycles' as const, years: until(cycles * cycleDepth * usableKWh) }]),
    ].sort((a, b) => a.years.value - b.years.value);
    const [first] = limits;
    if (!first)
      return { name, limits, first: null, yearsToFirst: null, warrantedKWh: null, perWarrantedKWh: null };
    const least = (bound: 'low' | 'value' | 'high') =>
      Math.min(...limits.map(({ years: own }) => own[bound]));
    const yearsToFirst = { value: least('value'), low: least('low'), high: least('high') };
    // A limit in kWh is reached with that many, however fast; one in years with what is used till then.
    const kWhCaps = [
      ...(throughputKWh === undefined ? [] : [throughputKWh]),
      ...(cycles === undefined ? [] : [cycles * cycleDepth * usableKWh]),
    ];
    const warrantedKWh = map(aDay, (own) =>
      Math.min(...kWhCaps, ...(years === undefined ? [] : [own * YEAR_DAYS * years])),
    );
    return {
      name,
      limits,
      first: first.limit,
      yearsToFirst,
      warrantedKWh,
      perWarrantedKWh: flipped(warrantedKWh, (kWh) => price / kWh),
    };
  });
}

function map({ value, low, high }: Interval, of: (value: number) => number): Interval {
  return { value: of(value), low: of(low), high: of(high) };
}

/** As {@link map}, of something that falls as its argument rises. */
function flipped({ value, low, high }: Interval, of: (value: number) => number): Interval {
  return { value: of(value), low: of(high), high: of(low) };
}
