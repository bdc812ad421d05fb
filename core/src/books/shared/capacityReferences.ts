import type { Configuration } from '../../system/configuration.js';
import { YEAR_MS } from '../../time/days.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { Estimate } from '../../passes/capacityEstimates.js';
import { trendOf, type Trend } from './capacityTrend.js';

const FIRST_DAYS_MS = 90 * 86_400_000;
/** What is set against a trial is at least so much later: no trial is its own reference. */
const LATER_MS = 30 * 86_400_000;
const LEAST_OF_REFERENCE = 5;
/** How the loss of a round trip falls on either way is not known better than to this share of it. */
const SPLIT_OFF = 0.25;

/** What a state of health is measured against, on the measuring side. */
export interface Reference {
  readonly wh: number;
  /** Half-width of what is not shared with the level, as a share. */
  readonly off: number;
  readonly says: string;
  readonly isNameplate: boolean;
}

/**
 * The first trial of the configuration's first 90 days that goes half of the way down; null without one, or with nothing
 * later to set against it.
 */
export function commissioning(own: readonly Estimate[]): Reference | null {
  const until = Math.min(own[0]!.atMs + FIRST_DAYS_MS, own.at(-1)!.atMs - LATER_MS);
  const trial = own.find(({ kind, depth, atMs }) => kind === 'trial' && depth >= 0.5 && atMs < until);
  return trial
    ? {
        wh: trial.wh,
        off: trial.half / trial.wh,
        says: `the drawdown trial of ${new Date(trial.atMs).toISOString().slice(0, 10)}`,
        isNameplate: false,
      }
    : null;
}

/** The level of the configuration's first 90 days; null where they have too few estimates, or nothing lies behind them. */
export function firstDays(data: RangeData, own: readonly Estimate[], { seasonal }: Trend): Reference | null {
  const until = own[0]!.atMs + FIRST_DAYS_MS;
  const first = own.filter(({ atMs }) => atMs < until);
  if (first.length < LEAST_OF_REFERENCE || own.at(-1)!.atMs <= until) return null;
  // Brought to the conditions of the level now, else a winter would be set against a mean year.
  const alike = first.map((one) => ({
    ...one,
    wh: one.wh - seasonal((one.atMs - data.range.toMs) / YEAR_MS, one.temperature),
  }));
  const { level } = trendOf(alike, until);
  return {
    wh: level.value,
    off: (level.high - level.low) / 2 / level.value,
    says: 'the level of the first 90 days logged under this configuration',
    isNameplate: false,
  };
}

/**
 * What the nameplate makes usable; behind a meter on the AC side, what of it would be delivered by the conversion that the
 * windows give, half of it on the way out. Null where the capacity is not described, or there the conversion not told.
 */
export function nameplate(data: RangeData, configuration: Configuration): Reference | null {
  if (configuration.usableWh === null) return null;
  const dc: Reference = {
    wh: configuration.usableWh,
    off: 0,
    says: 'nameplate × usable share',
    isNameplate: true,
  };
  if (data.batterySide === 'dc') return dc;
  const fit = data.stretches.findLast((one) => one.configuration === configuration && one.fit !== null)?.fit;
  if (!fit) return null;
  const [low, high] = fit.secondInterval;
  const out = 1 / (1 + fit.second);
  return {
    ...dc,
    wh: dc.wh * Math.sqrt(out),
    off: Math.hypot(((high - low) / 4) * out, SPLIT_OFF * fit.second),
    says: 'nameplate × usable share, less the conversion on its way out',
  };
}
