import { dice } from './random.js';

const YEAR_DAYS = 365.25;

/** The weather of a day. */
export interface DayWeather {
  /** Mean share of direct light that comes through. */
  readonly sky: number;
  readonly meanC: number;
  readonly storm: boolean;
}

/** What a place is like: mean and yearly swing of the air, °C, and the mean share of direct light. */
export interface Climate {
  readonly meanC: number;
  readonly swingC: number;
  readonly sky: number;
}

const AUCKLAND: Climate = { meanC: 15.2, swingC: 4.6, sky: 0.62 };

/**
 * Days with memory: bad weather comes in runs, storms at the bottom of the worst of them.
 * @param seasonPeak day of the year with the most warmth
 */
export function weatherOf(
  days: number,
  firstDayOfYear: number,
  seasonPeak: number,
  seed: number,
  climate: Climate = AUCKLAND,
): DayWeather[] {
  const { normal, roll } = dice(seed, 'weather');
  let front = 0;
  let air = 0;
  let calm = 20;
  return Array.from({ length: days }, (_, d) => {
    front = 0.72 * front + 0.69 * normal();
    air = 0.8 * air + 0.6 * normal();
    const season = Math.cos((2 * Math.PI * (firstDayOfYear + d - seasonPeak)) / YEAR_DAYS);
    const sky = Math.min(1, Math.max(0.03, climate.sky + 0.1 * season + 0.36 * front));
    calm++;
    const storm = calm > 45 && front < -1.15 && roll() < 0.3;
    if (storm) calm = 0;
    return { sky: storm ? 0.06 : sky, meanC: climate.meanC + climate.swingC * season + 1.4 * air, storm };
  });
}

/** Minutes of cloud around a day's mean: a slow walk, so that shade lasts. */
export function cloudWalk(seed: number): (sky: number) => number {
  const { normal } = dice(seed, 'cloud');
  let walk = 0;
  return (sky) => {
    walk = 0.985 * walk + 0.17 * normal();
    const spread = 0.42 * Math.sqrt(Math.max(0, sky * (1 - sky)) * 4);
    return Math.min(1, Math.max(0.02, sky + spread * walk * 0.6));
  };
}
