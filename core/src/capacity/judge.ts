import { configurationAt, type Configuration } from '../system/configuration.js';
import type { Reset } from '../ledger/segments.js';
import type { View } from '../view.js';
import type { Estimate } from './estimates.js';
import { capacityStep, type CapacityStep } from './step.js';
import { trendOf, type Bounded, type Trend } from './trend.js';
import { YEAR_MS } from '../time/days.js';

const FIRST_DAYS_MS = 90 * 86_400_000;
const LEAST_OF_REFERENCE = 5;
/** A state of charge that meets its own end so closely is held to what the cells really have. */
const MEETS = 0.02;
const MEETINGS = 3;
const MEETINGS_SHARE = 0.05;
const NEAR_EMPTY = 0.3;

/** What a state of health is measured against. */
export interface Reference {
  readonly wh: number;
  /** Half-width of what is not shared with the level, as a share. */
  readonly off: number;
  readonly says: string;
  readonly isNameplate: boolean;
}

/** What a range says of the capacity of the configuration at its end. */
export interface Judgement {
  readonly configuration: Configuration;
  /** Of the range, and after a step of the capacity that no configuration explains. */
  readonly estimates: readonly Estimate[];
  readonly trend: Trend;
  readonly step: CapacityStep | null;
  readonly reference: Reference | null;
  /** Whether the monitor's scale is held to the cells: it is set anew, or runs reach the cut-off where it says so. */
  readonly isAnchored: boolean;
  readonly resets: number;
  readonly deepRuns: number;
  /** Shares by which the meter and the monitor may be off all along. */
  readonly systematic: number;
}

/** Two books read the judgement of a view; it is made once. */
const made = new WeakMap<View, Judgement | null>();

/** Judges the estimates of a range; null where there is none. */
export function judge(view: View): Judgement | null {
  const known = made.get(view);
  if (known !== undefined) return known;
  const judgement = judgementOf(view);
  made.set(view, judgement);
  return judgement;
}

function judgementOf(view: View): Judgement | null {
  const configuration = configurationAt(view.configurations, view.range.toMs - 1);
  const own = view.estimates.filter((one) => one.configuration === configuration);
  const within = own.filter(({ atMs }) => atMs >= view.range.fromMs);
  if (within.length === 0) return null;
  const step = capacityStep(within);
  const estimates = step ? within.slice(step.at) : within;
  const resets = emptied(view.resets).filter((one) => one.configuration === configuration).length;
  const end = configuration.described?.battery?.cutOff ?? configuration.floor;
  const lately = estimates.filter(({ atMs }) => atMs >= view.range.toMs - YEAR_MS);
  const deepRuns = end === null ? 0 : lately.filter(({ socTo }) => socTo <= end + MEETS).length;
  const depths = estimates.map(({ depth }) => depth).sort((a, b) => a - b);
  const trend = trendOf(estimates, view.range.toMs);
  return {
    configuration,
    estimates,
    trend,
    step,
    reference: referenceOf(view, own, configuration, trend),
    isAnchored: resets > 0 || deepRuns >= Math.max(MEETINGS, MEETINGS_SHARE * lately.length),
    resets,
    deepRuns,
    systematic: Math.hypot(view.accuracy.battery, view.accuracy.soc / depths[Math.floor(depths.length / 2)]!),
  };
}

/**
 * Where the monitor found the battery emptier than it had thought, near its end: there it learns what the cells hold. A
 * jump at full only sets the count back to its beginning.
 */
export function emptied(resets: readonly Reset[]): Reset[] {
  return resets.filter(({ from, to }) => to < from && to < NEAR_EMPTY);
}

/** The level of the configuration's first 90 days, else, on the DC side, what its nameplate makes usable. */
function referenceOf(
  view: View,
  own: readonly Estimate[],
  configuration: Configuration,
  { seasonal }: Trend,
): Reference | null {
  const until = own[0]!.atMs + FIRST_DAYS_MS;
  const first = own.filter(({ atMs }) => atMs < until);
  if (first.length >= LEAST_OF_REFERENCE && own.at(-1)!.atMs > until) {
    // Brought to the conditions of the level now, else a winter would be set against a mean year.
    const alike = first.map((one) => ({
      ...one,
      wh: one.wh - seasonal((one.atMs - view.range.toMs) / YEAR_MS, one.temperature),
    }));
    const { level } = trendOf(alike, until);
    return {
      wh: level.value,
      off: (level.high - level.low) / 2 / level.value,
      says: 'the level of the first 90 days logged under this configuration',
      isNameplate: false,
    };
  }
  if (view.batterySide === 'ac' || configuration.usableWh === null) return null;
  return { wh: configuration.usableWh, off: 0, says: 'nameplate × usable share', isNameplate: true };
}

/** Loss of capacity a year as a share of the reference, positive for a loss; null where there is no rate. */
export function fadeOf({ trend, reference, configuration }: Judgement): Bounded | null {
  const base = reference?.wh ?? configuration.usableWh;
  if (!trend.slope || base === null) return null;
  const { value, low, high } = trend.slope;
  // Where the reference is off, the rate is off with it.
  const own = (Math.abs(value) / base) * (reference?.off ?? 0);
  return {
    value: -value / base,
    low: -value / base - Math.hypot((high - value) / base, own),
    high: -value / base + Math.hypot((value - low) / base, own),
  };
}
