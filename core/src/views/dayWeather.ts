import { cellAt } from '../model/log.js';
import type { InstantQuantity } from '../model/quantity.js';
import type { RangeData } from '../passes/rangeData.js';
import { quantile } from '../statistics/quantile.js';

/** A day is told only where so much of it is logged; of an amount, what is missing would be missing in its sum. */
const LEAST_SHARE = 0.75;
/** Days on either side that are a day's season. */
const SEASON_DAYS = 20;
const LEAST_OF_SEASON = 10;
/** A day with less than this share of what the good days of its season give had little sun. */
const LITTLE_SUN = 0.3;
const GOOD_DAYS = 0.9;
/** Among the coldest tenth, with a load so far above the usual one, the cold is a cause. */
const COLD_DAYS = 0.1;
const COLD_LOAD = 1.2;

/** What a home's log tells of a day's weather; null where it is not logged for most of the day. */
export interface DayWeather {
  /** Outdoors, in °C. */
  readonly temperature: { readonly low: number; readonly mean: number; readonly high: number } | null;
  readonly rainMm: number | null;
  /** kWh/m² in the plane of the sensor. */
  readonly irradiation: number | null;
  /** What the log itself gives as the day's cost, in the home's currency. */
  readonly cost: number | null;
}

/** What of the weather explains a poor day. */
export type WeatherNote =
  | {
      readonly kind: 'little-sun';
      /** Of what the good days of the season give. */
      readonly share: number;
      readonly rainMm: number | null;
      readonly irradiation: number | null;
    }
  | { readonly kind: 'cold'; readonly meanC: number };

/** The weather of each day of a range, null for those without any. */
export function dailyWeather({ log, days }: RangeData): (DayWeather | null)[] {
  const channels = (['outdoorTemp', 'rain', 'irradiance', 'cost'] as const).map((quantity) =>
    log.channels.get(quantity satisfies InstantQuantity),
  );
  if (channels.every((channel) => !channel)) return days.map(() => null);
  const hours = log.stepMs / 3_600_000;
  return days.map(({ day }) => {
    const [from, to] = [Math.max(0, cellAt(log, day.fromMs)), Math.min(log.count, cellAt(log, day.toMs))];
    const whole = (day.toMs - day.fromMs) / log.stepMs;
    const [air, rain, sun, cost] = channels.map((channel) => {
      if (!channel) return null;
      let [sum, known, low, high] = [0, 0, Infinity, -Infinity];
      for (let i = from; i < to; i++) {
        const value = channel.values[i]!;
        if (Number.isNaN(value)) continue;
        known++;
        sum += value;
        low = Math.min(low, value);
        high = Math.max(high, value);
      }
      return known < LEAST_SHARE * whole ? null : { sum, mean: sum / known, low, high };
    });
    const weather = {
      temperature: air ? { low: air.low, mean: air.mean, high: air.high } : null,
      rainMm: rain ? rain.sum * hours : null,
      irradiation: sun ? (sun.sum * hours) / 1000 : null,
      cost: cost ? cost.sum * hours : null,
    };
    return Object.values(weather).every((value) => value === null) ? null : weather;
  });
}

/**
 * What of the weather explains each day: little sun against the good days of its season, and a load driven up by the cold.
 * Common practice, no published source.
 * @param days energies in kWh with the share of the day that is known, and the weather
 */
export function weatherNotes(
  days: readonly {
    readonly solar: number | null;
    readonly load: number | null;
    readonly isKnown: boolean;
    readonly weather: DayWeather | null;
  }[],
): WeatherNote[][] {
  const known = days.filter(({ isKnown }) => isKnown);
  const cold = spread(known.map(({ weather }) => weather?.temperature?.mean ?? null));
  const loads = spread(known.map(({ load }) => load));
  const coldBelow = cold && quantile(cold, COLD_DAYS);
  const coldLoad = loads && COLD_LOAD * quantile(loads, 0.5);
  return days.map(({ solar, load, isKnown, weather }, i) => {
    const notes: WeatherNote[] = [];
    if (!isKnown) return notes;
    const season = days.slice(Math.max(0, i - SEASON_DAYS), i + SEASON_DAYS + 1);
    const suns = spread(season.map((day) => (day.isKnown ? day.solar : null)));
    const good = suns ? quantile(suns, GOOD_DAYS) : 0;
    if (solar !== null && good > 0 && solar < LITTLE_SUN * good)
      notes.push({
        kind: 'little-sun',
        share: solar / good,
        rainMm: weather?.rainMm ?? null,
        irradiation: weather?.irradiation ?? null,
      });
    const meanC = weather?.temperature?.mean ?? null;
    if (meanC !== null && coldBelow !== null && coldLoad !== null && meanC <= coldBelow && load! >= coldLoad)
      notes.push({ kind: 'cold', meanC });
    return notes;
  });
}

/** Known values in order; null where they are too few to tell a good day from a poor one. */
function spread(values: readonly (number | null)[]): Float64Array | null {
  const known = values.filter((value) => value !== null);
  return known.length < LEAST_OF_SEASON ? null : Float64Array.from(known).sort();
}
