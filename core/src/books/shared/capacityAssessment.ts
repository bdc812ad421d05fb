import { configurationAt, type Configuration } from '../../system/configuration.js';
import type { Reset } from '../../passes/capacitySegments.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { Estimate } from '../../passes/capacityEstimates.js';
import { capacityStep, type CapacityStep } from './capacityStep.js';
import { cutOffTrend, type CutOffTrend } from './cutOffDrift.js';
import { commissioning, firstDays, nameplate, type Reference } from './capacityReferences.js';
import { capacityLevel, LEAST_ESTIMATES, trendOf, type Bounded, type Trend } from './capacityTrend.js';
import { numbersOf } from '../../statistics/numbersOf.js';
import { ranked } from '../../statistics/median.js';
import { YEAR_MS } from '../../time/days.js';

/** A state of charge that meets its own end so closely is held to what the cells really have. */
const MEETS = 0.02;
const MEETINGS = 3;
const MEETINGS_SHARE = 0.05;
const NEAR_EMPTY = 0.3;
/** A charge at the cut-off that rises by more than this in a year shows a capacity that the monitor does not. */
const DRIFTS = 0.005;
/** Over the years of a trend a meter keeps its gain to this share of its accuracy. */
const KEEPS_GAIN = 0.05;

/** What a range says of the capacity of the configuration at its end. */
export interface CapacityAssessment {
  readonly configuration: Configuration;
  /**
   * Of the range, and after a step of the capacity that no configuration explains: discharges, and charges where these
   * alone would give no rate.
   */
  readonly estimates: readonly Estimate[];
  readonly trend: Trend;
  readonly step: CapacityStep | null;
  /** Level from charges alone, Wh, beside the discharges that lead; null without one. */
  readonly chargeLevel: Bounded | null;
  readonly charges: number;
  readonly trial: Reference | null;
  readonly firstDays: Reference | null;
  readonly nameplate: Reference | null;
  /** The one that leads: the commissioning trial, else the first 90 days, else, on the DC side, the nameplate. */
  readonly reference: Reference | null;
  readonly cutOff: CutOffTrend | null;
  /** Share of full by which the charge at the cut-off rises a year, where it surely does: fade that the monitor hides. */
  readonly hidden: Bounded | null;
  /** Whether the monitor's scale is held to the cells: it is set anew, or runs reach the cut-off where it says so. */
  readonly isAnchored: boolean;
  readonly resets: number;
  readonly deepRuns: number;
  /** Shares by which the meter and the monitor may be off all along. */
  readonly systematic: number;
  /** Share a year by which a drift of the battery's meter may pass for a fade. */
  readonly meterDrift: number;
}

/** Two books read the assessment of a range; it is made once. */
const made = new WeakMap<RangeData, CapacityAssessment | null>();

/** Judges the estimates of a range; null where there is none. */
export function capacityAssessment(data: RangeData): CapacityAssessment | null {
  const known = made.get(data);
  if (known !== undefined) return known;
  const assessment = assess(data);
  made.set(data, assessment);
  return assessment;
}

function assess(data: RangeData): CapacityAssessment | null {
  const configuration = configurationAt(data.configurations, data.range.toMs - 1);
  const ofIt = (one: { readonly configuration: Configuration }) => one.configuration === configuration;
  const all = data.estimates.filter(ofIt);
  const isWithin = ({ atMs }: { readonly atMs: number }) => atMs >= data.range.fromMs;
  const isFrom = (direction: Estimate['direction']) => (one: Estimate) => one.direction === direction;
  const charges = all.filter(isFrom('charge'));
  const discharges = all.filter(isFrom('discharge'));
  const own = discharges.filter(isWithin).length >= LEAST_ESTIMATES ? discharges : all;
  const within = own.filter(isWithin);
  if (within.length === 0) return null;
  const step = capacityStep(within);
  const estimates = step ? within.slice(step.at) : within;
  const resets = emptied(data.resets).filter(ofIt).length;
  const end = configuration.cutOff;
  const lately = estimates.filter(({ atMs }) => atMs >= data.range.toMs - YEAR_MS);
  const deepRuns = end === null ? 0 : lately.filter(({ socTo }) => socTo <= end + MEETS).length;
  const depths = numbersOf(estimates, ({ depth }) => depth);
  const trend = trendOf(estimates, data.range.toMs);
  const charged = charges.filter(({ atMs }) => atMs >= (step?.atMs ?? data.range.fromMs));
  const references = {
    trial: commissioning(own),
    firstDays: firstDays(data, own, trend),
    nameplate: nameplate(data, configuration),
  };
  const cutOff = cutOffTrend(
    data.cutOffs.filter((one) => ofIt(one) && isWithin(one)),
    data.log.channels.get('soc')?.resolution ?? 0,
  );
  const hidden = cutOff?.slope && cutOff.slope.low > DRIFTS ? cutOff.slope : null;
  return {
    configuration,
    estimates,
    trend,
    step,
    chargeLevel: charged.length > 0 ? capacityLevel(charged, data.range.toMs) : null,
    charges: charged.length,
    ...references,
    reference:
      references.trial ?? references.firstDays ?? (data.batterySide === 'dc' ? references.nameplate : null),
    cutOff,
    hidden,
    isAnchored: !hidden && (resets > 0 || deepRuns >= Math.max(MEETINGS, MEETINGS_SHARE * lately.length)),
    resets,
    deepRuns,
    systematic: Math.hypot(data.accuracy.battery, data.accuracy.soc / ranked(depths, depths.length >> 1)),
    meterDrift: (KEEPS_GAIN * data.accuracy.battery) / Math.max(1, trend.years),
  };
}

/**
 * Where the monitor found the battery emptier than it had thought, near its end: there it learns what the cells hold. A
 * jump at full only sets the count back to its beginning.
 */
export function emptied(resets: readonly Reset[]): Reset[] {
  return resets.filter(({ from, to }) => to < from && to < NEAR_EMPTY);
}

/** Loss of capacity a year as a share of the reference, positive for a loss; null where there is no rate. */
export function fadeOf(assessment: CapacityAssessment): Bounded | null {
  const { slope } = assessment.trend;
  return slope && fadeBySlope(assessment, slope);
}

/** A slope of the capacity, Wh a year, as a loss in shares of the reference; null where there is nothing to set it against. */
export function fadeBySlope(
  { reference, configuration, meterDrift }: CapacityAssessment,
  { value, low, high }: Bounded,
): Bounded | null {
  const base = reference?.wh ?? configuration.usableWh;
  if (base === null) return null;
  // Where the reference is off, the rate is off with it.
  const own = (Math.abs(value) / base) * (reference?.off ?? 0);
  return {
    value: -value / base,
    low: -value / base - Math.hypot((high - value) / base, own, meterDrift),
    high: -value / base + Math.hypot((value - low) / base, own, meterDrift),
  };
}
