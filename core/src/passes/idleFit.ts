import type { FullWindow } from './fullWindows.js';
import { numbersOf } from '../statistics/numbersOf.js';
import { levelShift } from '../statistics/levelShift.js';
import { huberFit, robustFit, type RobustFit } from '../statistics/robustFit.js';
import type { Configuration } from '../system/configuration.js';

/** Windows that a fit needs, and how much their mean discharge must vary between them, as a share of its mean. */
export const LEAST_WINDOWS = 10;
export const LEAST_SPREAD = 0.12;
/** A counter's last digit above this share of what a window discharges is an error that the fit would take for a spread. */
const DIGIT_SHARE = 0.03;
/** A step in the idle draw is one when it is so strong and so large. */
const STEP_STRENGTH = 8;
/** Less time than this at the foot of the charge changes no fit. */
const EMPTY_SHARE = 0.02;
/** What a fit has to leave of the other's residuals to be taken instead. */
const CLEARLY_LESS = 0.9;
const STEP_W = 6;
const STEP_WINDOWS = 20;
const MOST_STEPS = 3;
/** Neighbouring windows share their season: of more than this many, neighbours are drawn together. */
const MOST_BLOCKS = 120;

/** An instant at which the idle draw changes without the system saying why. */
export interface IdleStep {
  readonly atMs: number;
  readonly configuration: Configuration;
  readonly beforeW: number;
  readonly afterW: number;
}

/** Windows of one configuration between two steps of the idle draw, and what their losses say. */
export interface IdleStretch {
  readonly configuration: Configuration;
  readonly windows: readonly FullWindow[];
  /** In which the store was drawn upon; without the time it stood empty where its losses say that nothing was. */
  readonly hours: number;
  /** The time that is left out of them. */
  readonly emptyHours: number;
  readonly dischargeWh: number;
  readonly lossWh: number;
  /** Spread of the mean discharge over the windows ÷ its mean. */
  readonly spread: number;
  /** Idle draw in W first, loss as a share of the discharge second; null where the windows are too few or too alike. */
  readonly fit: RobustFit | null;
}

/** The time of a window that its idle draw is set against, h. */
type HoursOf = (window: FullWindow) => number;

/**
 * Configurations whose store feeds no draw while it stands empty: leaving that time out leaves clearly less of the losses
 * unexplained. A battery at its cut-off or reserve may go on feeding its converter, or may be switched off by it.
 * @param windows of the whole of a log
 */
export function asleepWhenEmpty(windows: readonly FullWindow[]): ReadonlySet<Configuration> {
  const isAsleep = (own: readonly FullWindow[]) => {
    let [all, empty] = [0, 0];
    for (const window of own) {
      all += hoursOfWindow(window);
      empty += window.emptyS / 3600;
    }
    if (own.length < LEAST_WINDOWS || empty < EMPTY_SHARE * all) return false;
    const left = (of: HoursOf) => huberFit(...rowsOf(own, of)).scale;
    return left(hoursNotEmpty) < CLEARLY_LESS * left(hoursOfWindow);
  };
  return new Set(
    byConfiguration(windows)
      .filter(isAsleep)
      .map((own) => own[0]!.configuration),
  );
}

function hoursNotEmpty(window: FullWindow): number {
  return hoursOfWindow(window) - window.emptyS / 3600;
}

/** The loss of windows from full to full: P·T + λ·discharge, both at least zero. */
function fitWindows(windows: readonly FullWindow[], hoursOf: HoursOf): RobustFit {
  const size = Math.ceil(windows.length / MOST_BLOCKS);
  return robustFit(
    ...rowsOf(windows, hoursOf),
    Int32Array.from(windows, (_, i) => Math.floor(i / size)),
  );
}

/** Hours, discharge and loss of windows. */
function rowsOf(
  windows: readonly FullWindow[],
  hoursOf: HoursOf,
): [Float64Array, Float64Array, Float64Array] {
  return [
    numbersOf(windows, hoursOf),
    numbersOf(windows, ({ dischargeWh }) => dischargeWh),
    numbersOf(windows, ({ chargeWh, dischargeWh }) => chargeWh - dischargeWh),
  ];
}

/** Length of a window, h. */
export function hoursOfWindow({ fromMs, toMs }: FullWindow): number {
  return (toMs - fromMs) / 3_600_000;
}

/** Steps of the idle draw within the configurations, in order of time, found over the whole of a log. */
export function idleSteps(windows: readonly FullWindow[], asleep: ReadonlySet<Configuration>): IdleStep[] {
  return byConfiguration(windows).flatMap((own) =>
    stepsOf(own, drawnHours(own, asleep), MOST_STEPS).sort((a, b) => a.atMs - b.atMs),
  );
}

/** The time in which the store was drawn upon, of windows of one configuration. */
function drawnHours([first]: readonly FullWindow[], asleep: ReadonlySet<Configuration>): HoursOf {
  return asleep.has(first!.configuration) ? hoursNotEmpty : hoursOfWindow;
}

function stepsOf(windows: readonly FullWindow[], hoursOf: HoursOf, most: number): IdleStep[] {
  if (most === 0 || windows.length < 2 * STEP_WINDOWS) return [];
  // The conversion share is taken where the draw is alike, so it is fitted again on the longer side once a step shows.
  let lambda = huberFit(...rowsOf(windows, hoursOf)).second;
  let shift = levelShift(drawsW(windows, hoursOf, lambda), STEP_WINDOWS);
  if (!shift) return [];
  const longer = shift.at > windows.length / 2 ? windows.slice(0, shift.at) : windows.slice(shift.at);
  lambda = huberFit(...rowsOf(longer, hoursOf)).second;
  shift = levelShift(drawsW(windows, hoursOf, lambda), STEP_WINDOWS);
  if (!shift || shift.strength < STEP_STRENGTH || Math.abs(shift.after - shift.before) < STEP_W) return [];
  const first = windows[shift.at]!;
  return [
    { atMs: first.fromMs, configuration: first.configuration, beforeW: shift.before, afterW: shift.after },
    ...stepsOf(windows.slice(0, shift.at), hoursOf, most - 1),
    ...stepsOf(windows.slice(shift.at), hoursOf, most - 1),
  ];
}

function drawsW(windows: readonly FullWindow[], hoursOf: HoursOf, lambda: number): Float64Array {
  return numbersOf(
    windows,
    (window) => (window.chargeWh - window.dischargeWh * (1 + lambda)) / hoursOf(window),
  );
}

/**
 * The windows of a range by configuration and step, each stretch with its own fit.
 * @param asleep configurations whose empty time feeds no draw
 * @param digitWh last digit of the battery's counters, 0 for a power
 */
export function idleStretches(
  windows: readonly FullWindow[],
  steps: readonly IdleStep[],
  asleep: ReadonlySet<Configuration>,
  digitWh: number,
): IdleStretch[] {
  return byConfiguration(windows).flatMap((own) => {
    const cuts = steps.filter(({ configuration }) => configuration === own[0]!.configuration);
    const hoursOf = drawnHours(own, asleep);
    const edges = [-Infinity, ...cuts.map(({ atMs }) => atMs), Infinity];
    return edges.slice(1).flatMap((to, k) => {
      const part = own.filter(({ fromMs }) => fromMs >= edges[k]! && fromMs < to);
      return part.length > 0 ? [stretchOf(part, hoursOf, digitWh)] : [];
    });
  });
}

function stretchOf(windows: readonly FullWindow[], hoursOf: HoursOf, digitWh: number): IdleStretch {
  const sum = (of: (window: FullWindow) => number) => windows.reduce((total, one) => total + of(one), 0);
  const means = windows.map((window) => window.dischargeWh / hoursOfWindow(window));
  const mean = means.reduce((total, one) => total + one, 0) / means.length;
  const variance = means.reduce((total, one) => total + (one - mean) ** 2, 0) / Math.max(1, means.length - 1);
  const meanHours = sum(hoursOfWindow) / windows.length;
  const spread = mean > 0 ? Math.sqrt(variance) / mean : 0;
  return {
    configuration: windows[0]!.configuration,
    windows,
    hours: sum(hoursOf),
    emptyHours: sum(hoursOfWindow) - sum(hoursOf),
    dischargeWh: sum(({ dischargeWh }) => dischargeWh),
    lossWh: sum(({ chargeWh, dischargeWh }) => chargeWh - dischargeWh),
    spread,
    fit:
      windows.length >= LEAST_WINDOWS && spread >= LEAST_SPREAD && digitWh <= DIGIT_SHARE * mean * meanHours
        ? fitWindows(windows, hoursOf)
        : null,
  };
}

function byConfiguration(windows: readonly FullWindow[]): FullWindow[][] {
  const groups = new Map<Configuration, FullWindow[]>();
  for (const window of windows) {
    const own = groups.get(window.configuration);
    if (own) own.push(window);
    else groups.set(window.configuration, [window]);
  }
  return [...groups.values()];
}
