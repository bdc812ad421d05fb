import { capacityAssessment } from '../books/shared/capacityAssessment.js';
import { verdictOf, type Verdict } from '../books/capacity/verdict.js';
import type { Bounded } from '../books/shared/capacityTrend.js';
import {
  noStress,
  addStress,
  RATE_BIN,
  TEMPERATURE_BOUNDS,
  type StressHistogram,
} from '../passes/stressHistogram.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import type { Range } from '../model/range.js';
import { ageAt, configurationAt } from '../system/configuration.js';
import type { RangeData } from '../passes/rangeData.js';
import { damageBy, lifeOf, socCycles, type LifePoint } from '../books/wear/cycles.js';
import { warrantyState, type Clock } from '../books/wear/warrantyState.js';
import { YEAR_MS } from '../time/days.js';

const DEPTH_BINS = 10;
/** Charge rates are drawn in bins of so many of the histogram's own. */
const RATES_TOGETHER = 5;
/** How far ahead the fan is drawn, years. */
const FAN_YEARS = 15;
const PAST_POINTS = 12;

/** What the Wear view draws of a range beside the figures. */
export interface WearView {
  readonly verdict: Verdict;
  /** Rainflow cycles by tenths of depth, and the share of a life each takes. */
  readonly depths: readonly { readonly from: number; readonly count: number; readonly damage: number }[];
  readonly life: { readonly points: readonly LifePoint[]; readonly isAssumed: boolean };
  /** Mean SOC by month of the year (rows, January first) and hour; null where none is known. */
  readonly hours: readonly (readonly (number | null)[])[];
  readonly rates: readonly { readonly from: number; readonly to: number; readonly hours: number }[];
  readonly temperatures: readonly {
    readonly from: number | null;
    readonly to: number | null;
    readonly hours: number;
  }[];
  readonly estimates: readonly {
    readonly atMs: number;
    readonly kWh: number;
    readonly low: number;
    readonly high: number;
    readonly depth: number;
    readonly kind: 'segment' | 'full-run' | 'trial';
    readonly direction: 'discharge' | 'charge';
    /** False before a step of the capacity, or under an earlier configuration. */
    readonly counts: boolean;
  }[];
  readonly configurations: readonly { readonly name: string; readonly fromMs: number }[];
  readonly step: { readonly atMs: number } | null;
  readonly trend: CapacityLine | null;
  readonly warranty: {
    readonly isOffGrid: boolean;
    readonly beginsMs: number;
    readonly clocks: readonly Clock[];
    readonly allowedADayKWh: number | null;
    /** Discharge a day over the last 365 days, kWh. */
    readonly usedADayKWh: number | null;
  } | null;
}

/** The line of the capacity through a range and its fan beyond it, kWh. */
export interface CapacityLine {
  readonly side: 'ac' | 'dc';
  readonly level: Bounded;
  readonly slope: Bounded | null;
  /** The line through the range with its interval; empty where there is no rate. */
  readonly past: readonly (Bounded & { readonly atMs: number })[];
  readonly toMs: number;
  readonly referenceKWh: number | null;
  /** Capacity below which the warranty steps in, kWh; null where it is not described. */
  readonly warrantyKWh: number | null;
  readonly fan: readonly {
    readonly atMs: number;
    readonly value: number;
    readonly low: number;
    readonly high: number;
    /** By the square root of time; null where it does not fall. */
    readonly root: number | null;
  }[];
}

/** The course of the wear over a range. */
export function wearView(prepared: Prepared, range: Range): WearView {
  const data = rangeDataOf(prepared, range);
  const assessment = capacityAssessment(data);
  const counting = new Set(assessment?.estimates);
  const state = warrantyState(data);
  return {
    verdict: verdictOf(data),
    depths: depthsOf(data),
    life: lifeOf(configurationAt(data.configurations, range.toMs - 1)),
    hours: hoursTable(data, prepared),
    rates: ratesOf(data.stress),
    temperatures: temperaturesOf(data.stress),
    estimates: data.estimates
      .filter(({ atMs }) => atMs >= range.fromMs)
      .map((one) => ({
        atMs: one.atMs,
        kWh: one.wh / 1000,
        low: (one.wh - one.half) / 1000,
        high: (one.wh + one.half) / 1000,
        depth: one.depth,
        kind: one.kind,
        direction: one.direction,
        counts: counting.has(one),
      })),
    configurations: prepared.configurations
      .filter(({ fromMs }) => fromMs > range.fromMs && fromMs < range.toMs)
      .map(({ name, fromMs }) => ({ name, fromMs })),
    step: assessment?.step ? { atMs: assessment.step.atMs } : null,
    trend: capacityLine(data),
    warranty: state && {
      isOffGrid: state.isOffGrid,
      beginsMs: state.beginsMs,
      clocks: state.clocks,
      allowedADayKWh: state.allowedADayKWh,
      usedADayKWh: usedADay(data),
    },
  };
}

function usedADay({ history, range }: RangeData): number | null {
  const lately = history.filter(({ fromMs }) => fromMs >= range.toMs - 365 * 86_400_000);
  const days = lately.reduce((sum, { sums }) => sum + sums.batteryS, 0) / 86_400;
  return days > 0 ? lately.reduce((sum, { sums }) => sum + sums.dischargeWh, 0) / 1000 / days : null;
}

function depthsOf(data: RangeData): WearView['depths'] {
  const bins = Array.from({ length: DEPTH_BINS }, (_, k) => ({ from: k / DEPTH_BINS, count: 0, damage: 0 }));
  const damageOf = damageBy(data.configurations);
  for (const cycle of socCycles(data.turningPoints)) {
    const bin = bins[Math.min(DEPTH_BINS - 1, Math.floor(cycle.depth * DEPTH_BINS))]!;
    bin.count += cycle.count;
    bin.damage += damageOf(cycle);
  }
  return bins;
}

function hoursTable({ range }: RangeData, { entries }: Prepared): WearView['hours'] {
  const months = Array.from({ length: 12 }, noStress);
  for (const entry of entries)
    if (entry.fromMs >= range.fromMs && entry.toMs <= range.toMs)
      addStress(months[Number(entry.day.date.slice(5, 7)) - 1]!, entry.stress);
  return months.map(({ socTime, socS }) =>
    Array.from(socTime, (time, hour) => (socS[hour]! > 0 ? time / socS[hour]! : null)),
  );
}

function ratesOf({ rateS }: StressHistogram): WearView['rates'] {
  const width = RATE_BIN * RATES_TOGETHER;
  const bins = Array.from({ length: Math.ceil(rateS.length / RATES_TOGETHER) }, (_, k) => ({
    from: k * width,
    to: (k + 1) * width,
    hours:
      rateS.slice(k * RATES_TOGETHER, (k + 1) * RATES_TOGETHER).reduce((sum, seconds) => sum + seconds, 0) /
      3600,
  }));
  const last = bins.findLastIndex(({ hours }) => hours > 0);
  return bins.slice(0, last + 1);
}

function temperaturesOf({ temperatureS }: StressHistogram): WearView['temperatures'] {
  if (temperatureS.every((seconds) => seconds === 0)) return [];
  return Array.from(temperatureS, (seconds, band) => ({
    from: TEMPERATURE_BOUNDS[band - 1] ?? null,
    to: TEMPERATURE_BOUNDS[band] ?? null,
    hours: seconds / 3600,
  }));
}

function capacityLine(data: RangeData): CapacityLine | null {
  const assessment = capacityAssessment(data);
  if (!assessment) return null;
  const { trend, reference, configuration, estimates } = assessment;
  const kWh = ({ value, low, high }: Bounded) => ({
    value: value / 1000,
    low: low / 1000,
    high: high / 1000,
  });
  const level = kWh(trend.level);
  const slope = trend.slope && kWh(trend.slope);
  const end = configuration.warranty?.terms.endCapacity;
  const referenceKWh = reference ? reference.wh / 1000 : null;
  const { toMs } = data.range;
  const age = ageAt(configuration, toMs, estimates[0]!.atMs) / YEAR_MS;
  return {
    side: data.batterySide,
    level,
    slope,
    past: slope
      ? Array.from({ length: PAST_POINTS + 1 }, (_, k) => {
          const x = ((estimates[0]!.atMs - toMs) / YEAR_MS) * (1 - k / PAST_POINTS);
          return { atMs: toMs + x * YEAR_MS, ...kWh(trend.lineAt(x)) };
        })
      : [],
    toMs,
    referenceKWh,
    warrantyKWh: end !== undefined && referenceKWh !== null ? end * referenceKWh : null,
    fan: slope
      ? Array.from({ length: FAN_YEARS + 1 }, (_, years) => ({
          atMs: toMs + years * YEAR_MS,
          value: Math.max(0, level.value + slope.value * years),
          low: Math.max(0, level.low + slope.low * years),
          high: Math.max(0, level.high + Math.min(0, slope.high) * years),
          root:
            referenceKWh !== null && level.value < referenceKWh && age > 0
              ? Math.max(0, referenceKWh - (referenceKWh - level.value) * Math.sqrt(1 + years / age))
              : null,
        }))
      : [],
  };
}
