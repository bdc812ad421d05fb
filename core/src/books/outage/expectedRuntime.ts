import { quantile } from '../../statistics/quantile.js';
import { cellAt, type Log } from '../../model/log.js';
import type { BusColumns } from '../../passes/busColumns.js';
import { changeInCell, type Demand } from '../../storage/compose.js';
import type { Outage } from '../../passes/outages.js';
import type { HomeStorage } from '../shared/homeStorage.js';
import type { Held } from './scenario.js';

const DAY_MS = 86_400_000;
/** Days before an outage from which its course is expected, and the least of them. */
const DAYS_BEFORE = 28;
const LEAST_DAYS = 7;
/** An expectation is followed so far, h. */
const FARTHEST_H = 7 * 24;
/** So many of the days before lie beyond either bound; the doubt of meters and capacity makes the bounds wider. */
const TAIL = 0.025;
/** A home that goes dark with more than this above the cut-off did not run out of charge. */
const RUN_OUT = 0.08;
/** A monitor's charge is off by so much from one moment to another of a discharge, beside what it is off all along. */
const SOC_STEP = 0.01;

/** What could be expected of an outage in its first minute, and what came. */
export interface Expected {
  /** Hours it could be expected to last; null where too little lies before it, or the charge is not known. */
  readonly expectedH: Held | null;
  /** Hours the home was carried. */
  readonly lastedH: number;
  /** How it ended: the grid came back first, the charge ran out, or the home went dark with charge left. */
  readonly end: 'grid' | 'empty' | 'dark';
  /** Whether what came lies in the interval; null where it cannot be told. */
  readonly isHeld: boolean | null;
  /**
   * Charge at the beginning of the last interval, by the load and sun that there were and as it was; null where either is
   * not known. In the last interval itself the grid may be back.
   */
  readonly charge: { readonly reckoned: Held; readonly was: number } | null;
}

/**
 * Sets an outage against what its first minute allowed to expect: with the charge that there was, the days before it are
 * each begun at the same time of day, and what they would have lasted is the expectation. Beside it the charge at its end,
 * reckoned with the load and sun that there really were.
 * @source common practice, no published source
 */
export function expectedOf(
  log: Log,
  { load, solar, soc }: BusColumns,
  outage: Outage,
  storage: HomeStorage,
  loadOff: number,
): Expected {
  const [from, to] = [cellAt(log, outage.fromMs), cellAt(log, outage.toMs)];
  const darkMs = outage.darkMs ?? outage.toMs;
  const lastedH = (darkMs - outage.fromMs) / 3_600_000;
  const socDark = soc ? soc[Math.min(log.count - 1, cellAt(log, darkMs))]! : NaN;
  const end = outage.darkMs === null ? 'grid' : socDark - storage.cutOff > RUN_OUT ? 'dark' : 'empty';
  const socStart = outage.socStart;
  const nothing = { expectedH: null, lastedH, end, isHeld: null, charge: null } as const;
  if (!load || Number.isNaN(socStart)) return nothing;
  const demand: Demand = {
    load,
    use: 1,
    solar: solar ?? new Float64Array(log.count),
    overLeg: null,
    stepMs: log.stepMs,
  };
  const until = outage.darkMs === null ? to - 1 : cellAt(log, outage.darkMs);
  const reckoned = reckonedEnd(demand, outage, storage, from, until);
  const was = soc ? soc[until]! : NaN;
  const expected = expectation(demand, storage, from, socStart, loadOff);
  const isHeld =
    expected === null || end === 'dark'
      ? null
      : end === 'grid'
        ? expected.high >= lastedH
        : expected.low <= lastedH && lastedH <= expected.high;
  const charge = reckoned && !Number.isNaN(was) ? { reckoned, was } : null;
  return { ...nothing, expectedH: expected, isHeld, charge };
}

/** Hours that the charge would have lasted on each of the days before, begun at the same time of day. */
function expectation(
  demand: Demand,
  storage: HomeStorage,
  from: number,
  socStart: number,
  loadOff: number,
): Held | null {
  const day = Math.round(DAY_MS / demand.stepMs);
  const days = Math.min(DAYS_BEFORE, Math.floor(from / day));
  if (days < LEAST_DAYS) return null;
  const hoursOf = (soc: number, capacity: number, use: number) => {
    const runs = Array.from({ length: days }, (_, back) =>
      lasts(demand, storage, from, days, back + 1, soc, capacity, use),
    ).filter((hours) => !Number.isNaN(hours));
    return Float64Array.from(runs).sort();
  };
  const { capacityOff, socOff } = storage;
  const own = hoursOf(socStart, 1, 1);
  const worse = hoursOf(socStart - socOff, 1 - capacityOff, 1 + loadOff);
  const better = hoursOf(Math.min(1, socStart + socOff), 1 + capacityOff, 1 - loadOff);
  if (Math.min(own.length, worse.length, better.length) < LEAST_DAYS) return null;
  const value = quantile(own, 0.5);
  return {
    value,
    low: Math.min(value, quantile(worse, TAIL)),
    high: Math.max(value, quantile(better, 1 - TAIL)),
  };
}

/** Hours from one of the days before on; after the last of them it goes on with the first, so that nothing later is used. */
function lasts(
  demand: Demand,
  { parameters: described, cutOff, fullWh }: HomeStorage,
  from: number,
  days: number,
  back: number,
  soc: number,
  capacity: number,
  use: number,
): number {
  // Only the load is doubtful by its meter; the sun and the store's own draw are not.
  const used = { ...demand, use };
  const day = Math.round(DAY_MS / demand.stepMs);
  // Who is without a grid sheds what the inverter does not carry; it ends nothing here.
  const parameters = { ...described, limitW: Infinity, weakBelowWh: 0 };
  const most = Math.min(days * day, Math.round((FARTHEST_H * 3_600_000) / demand.stepMs));
  const top = parameters.capacityWh * capacity;
  let stored = Math.min(top, Math.max(0, soc - cutOff) * fullWh * capacity);
  const first = from - days * day;
  const begin = (days - back) * day;
  for (let k = 0; k < most; k++) {
    const cell = first + ((begin + k) % (days * day));
    const change = changeInCell(used, parameters, cell);
    // What is not known of a day makes it useless from there on.
    if (change !== change) return NaN;
    if (stored + change < 0) return (k * demand.stepMs) / 3_600_000;
    stored = Math.min(top, stored + change);
  }
  return (most * demand.stepMs) / 3_600_000;
}

/** Charge so far into an outage by the load and sun that there were, with its doubt growing with what was moved. */
function reckonedEnd(
  demand: Demand,
  outage: Outage,
  { parameters, cutOff, fullWh, capacityOff }: HomeStorage,
  from: number,
  until: number,
): Held | null {
  let stored = Math.max(0, outage.socStart - cutOff) * fullWh;
  let moved = 0;
  const carried = { ...parameters, limitW: Infinity };
  for (let cell = from; cell < until; cell++) {
    const change = changeInCell(demand, carried, cell);
    if (change !== change) return null;
    moved += Math.abs(change);
    stored = Math.max(0, Math.min(parameters.capacityWh, stored + change));
  }
  if (until <= from) return null;
  const value = cutOff + stored / fullWh;
  const half = Math.hypot(SOC_STEP, (capacityOff * moved) / fullWh);
  return { value, low: Math.max(0, value - half), high: Math.min(1, value + half) };
}
