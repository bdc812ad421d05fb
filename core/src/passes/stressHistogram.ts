import type { Log } from '../model/log.js';
import type { Configuration } from '../system/configuration.js';
import type { BusColumns } from './busColumns.js';
import type { Cells } from './sums.js';

/** Charge rates are counted in bins of so much C, the last one open. */
export const RATE_BIN = 0.02;
const RATE_BINS = 100;
/** Below this share of its rating a battery does not work. */
const WORKING = 0.01;
/** Bounds of the temperature bands, °C. */
export const TEMPERATURE_BOUNDS = [0, 10, 25, 35, 45] as const;
/** Bounds of the time spent nearly full and nearly empty. */
export const HIGH = 0.95;
export const LOW = 0.1;
/** Time by state of charge is kept in so many bins to full, which has one of its own. */
const LEVELS = 50;
const HOURS = 24;
const HOUR_MS = 3_600_000;

/**
 * How hard a battery was worked on one day under one configuration, all by time in s: state of charge by hour of the
 * day, charge rates, temperatures.
 */
export interface StressHistogram {
  /** Σ SOC × time, and the time, for each of 24 hours from the day's beginning. */
  readonly socTime: Float64Array;
  readonly socS: Float64Array;
  readonly levelS: Float64Array;
  readonly rateS: Float64Array;
  readonly temperatureS: Float64Array;
  highS: number;
  lowS: number;
  /** Highest charge rate, in C; 0 where the battery never worked. */
  topRate: number;
  /** Charged while the battery was below 0 °C, Wh. */
  coldChargeWh: number;
}

/** No strain at all. */
export function noStress(): StressHistogram {
  return {
    socTime: new Float64Array(HOURS),
    socS: new Float64Array(HOURS),
    levelS: new Float64Array(LEVELS + 1),
    rateS: new Float64Array(RATE_BINS),
    temperatureS: new Float64Array(TEMPERATURE_BOUNDS.length + 1),
    highS: 0,
    lowS: 0,
    topRate: 0,
    coldChargeWh: 0,
  };
}

/** Adds one strain to another. */
export function addStress(into: StressHistogram, other: StressHistogram): void {
  add(into.socTime, other.socTime);
  add(into.socS, other.socS);
  add(into.levelS, other.levelS);
  add(into.rateS, other.rateS);
  add(into.temperatureS, other.temperatureS);
  into.highS += other.highS;
  into.lowS += other.lowS;
  into.topRate = Math.max(into.topRate, other.topRate);
  into.coldChargeWh += other.coldChargeWh;
}

function add(into: Float64Array, other: Float64Array): void {
  for (let i = 0; i < into.length; i++) into[i]! += other[i]!;
}

/**
 * Strain of the cells of one day.
 * @param dayMs when the day begins
 */
export function stressOf(
  log: Log,
  { soc, battery }: BusColumns,
  { nameplateWh, maxChargeW, maxDischargeW }: Configuration,
  { from, to }: Cells,
  dayMs: number,
): StressHistogram {
  const stress = noStress();
  const stepS = log.stepMs / 1000;
  if (soc) {
    let [high, low] = [0, 0];
    for (let i = from; i < to;) {
      const hour = Math.min(HOURS - 1, Math.floor((log.startMs + i * log.stepMs - dayMs) / HOUR_MS));
      const hourEndMs = hour === HOURS - 1 ? Infinity : dayMs + (hour + 1) * HOUR_MS;
      const end = Math.min(to, Math.ceil((hourEndMs - log.startMs) / log.stepMs));
      let [sum, known] = [0, 0];
      for (; i < end; i++) {
        const level = soc[i]!;
        if (level !== level) continue;
        sum += level;
        known++;
        stress.levelS[levelOf(level)]! += stepS;
        if (level > HIGH) high++;
        else if (level < LOW) low++;
      }
      stress.socTime[hour]! += sum * stepS;
      stress.socS[hour]! += known * stepS;
    }
    stress.highS = high * stepS;
    stress.lowS = low * stepS;
  }
  if (battery && nameplateWh !== null) {
    const least = WORKING * Math.max(maxChargeW ?? 0, maxDischargeW ?? 0, maxChargeW ? 0 : nameplateWh / 2);
    for (let i = from; i < to; i++) {
      const power = Math.abs(battery[i]!);
      if (!(power > least)) continue;
      const rate = power / nameplateWh;
      stress.rateS[Math.min(RATE_BINS - 1, Math.floor(rate / RATE_BIN))]! += stepS;
      if (rate > stress.topRate) stress.topRate = rate;
    }
  }
  const temperature = log.channels.get('batteryTemp')?.values;
  if (temperature) {
    for (let i = from; i < to; i++) {
      const celsius = temperature[i]!;
      if (celsius !== celsius) continue;
      let band = 0;
      while (band < TEMPERATURE_BOUNDS.length && celsius >= TEMPERATURE_BOUNDS[band]!) band++;
      stress.temperatureS[band]! += stepS;
      if (celsius < 0 && battery && battery[i]! < 0) stress.coldChargeWh -= (battery[i]! * stepS) / 3600;
    }
  }
  return stress;
}

function levelOf(soc: number): number {
  return Math.max(0, Math.min(LEVELS, Math.floor(soc * LEVELS + 1e-9)));
}

/**
 * Time in s above a state of charge and below it: what surely lies there, and what may with the bin that holds the bound.
 */
export function timeAround(
  { levelS }: StressHistogram,
  soc: number,
): Readonly<Record<'above' | 'below', { readonly surely: number; readonly maybe: number }>> {
  const sum = (from: number, to: number) => {
    let seconds = 0;
    for (let level = Math.max(0, from); level < Math.min(to, levelS.length); level++)
      seconds += levelS[level]!;
    return seconds;
  };
  const [under, over] = [Math.floor(soc * LEVELS + 1e-9), Math.ceil(soc * LEVELS - 1e-9)];
  return {
    above: { surely: sum(over, levelS.length), maybe: sum(under, levelS.length) },
    below: { surely: sum(0, under), maybe: sum(0, under + 1) },
  };
}

/** The charge rate below which a share of the working time lies, linear within a bin; null without working time. */
export function rateQuantile({ rateS, topRate }: StressHistogram, share: number): number | null {
  const all = rateS.reduce((sum, seconds) => sum + seconds, 0);
  if (all === 0) return null;
  let below = 0;
  for (let bin = 0; bin < rateS.length; bin++) {
    const own = rateS[bin]!;
    if (own > 0 && below + own >= share * all)
      return Math.min(topRate, (bin + (share * all - below) / own) * RATE_BIN);
    below += own;
  }
  return topRate;
}
