import { configurationAt, type Configuration } from '../system/configuration.js';
import type { System } from '../system/schema.js';
import { solarNoonUtc } from '../time/solarNoon.js';
import { offsetAt, zoneOf } from '../time/zone.js';
import { FLOW_NAMES, type FlowName, type HourlyFlows } from './hourlyFlows.js';

/** A way in which the columns of a log may have been read wrongly, as what would put it right. */
export interface Misreading {
  /** Which logged column stands for each flow; a flow that is left out stands for itself. */
  readonly exchange?: readonly [FlowName, FlowName];
  /** What the column of each flow is to be multiplied by. */
  readonly factors: Readonly<Partial<Record<FlowName, number>>>;
  /** What the state of charge is to be: itself, a hundredth read as per cent, or what is left of a depth of discharge. */
  readonly soc: 'soc' | 'share' | 'depth';
}

/** What is known of the home, hour by hour. */
export interface Known {
  readonly hourly: HourlyFlows;
  /** Usable capacity in Wh; NaN where it is not described. */
  readonly usableWh: Float64Array;
  /** Strongest flow that the description allows, W; Infinity where it says nothing. */
  readonly limits: Readonly<Record<FlowName, number>>;
  /** 1 for each hour in the middle of the night, when no sun shines. */
  readonly isNight: Uint8Array;
}

export const AS_READ: Misreading = { factors: {}, soc: 'soc' };

const DAY_MS = 86_400_000;
/** Beyond its rating by so much a flow is impossible, and not a short overload or a generous rating. */
const OVER_LIMIT = 1.4;
/** No house connection carries more. */
const MOST_W = 60_000;
/** The strongest hour of a home that is lived in is no weaker, and the strongest of its sun no weaker than so much of its rating. */
const LEAST_TOP_W = 60;
const LEAST_SOLAR = 0.004;
const LEAST_HOURS = 36;
/** Sun does not shine so close to the sun's lowest stand, but in a polar summer. */
const NIGHT_H = 2.5;
const POLAR = 58;
const SWING = 0.02;
/** A battery's power this small moves no state of charge. */
const STILL_WH = 15;
/** Capacities that a home's battery can have, where none is described. */
const LEAST_USABLE_WH = 300;
const MOST_USABLE_WH = 500_000;
/** An hour of a flow that goes the impossible way by more than a meter may be off. */
const WRONG_W = 80;
const WRONG_SHARE = 0.1;
/** A home whose load is below this draws nothing; above that something flows. */
const DARK_W = 2;
const FLOWS_W = 120;
/** A store gives out no more than it took in, but for what it held at first and what meters are off. */
const GIVES_MORE = 0.04;
const DRIFT_HOURS = 240;
/** Derived flows this small beside the others are none. */
const NOTHING = 0.06;

/** What the description of a home says of its flows. */
export function knownOf(
  hourly: HourlyFlows,
  configurations: readonly Configuration[],
  { latitude = 0, longitude, timeZone }: System,
): Known {
  const sizes = configurations.map(({ described, maxChargeW, maxDischargeW }) => ({
    solar: (described?.arrays ?? []).reduce((sum, { kWp }) => sum + kWp * 1000, 0) || Infinity,
    battery: Math.max(maxChargeW ?? Infinity, maxDischargeW ?? Infinity),
  }));
  const most = (flow: 'solar' | 'battery') => Math.max(...sizes.map((size) => size[flow]));
  // Where the place is not described, its longitude is that of its zone's winter time, within an hour or two.
  const zone = zoneOf(timeZone);
  const winter = Math.min(offsetAt(zone, Date.UTC(2024, 0, 15)), offsetAt(zone, Date.UTC(2024, 6, 15)));
  // Noon moves by half a minute a day at most, so one a day will do.
  const noons = new Map<number, number>();
  const noonOf = (ms: number) => {
    const day = Math.floor(ms / DAY_MS);
    const noon = noons.get(day) ?? solarNoonUtc(day * DAY_MS, longitude ?? (15 * winter) / 3_600_000);
    noons.set(day, noon);
    return noon;
  };
  const halfNight = longitude === undefined ? NIGHT_H / 2 : NIGHT_H;
  return {
    hourly,
    usableWh: hourly.startMs.map((ms) => configurationAt(configurations, ms).usableWh ?? NaN),
    limits: {
      solar: Math.min(MOST_W * 4, most('solar')),
      battery: Math.min(MOST_W * 4, most('battery')),
      load: MOST_W,
      grid: MOST_W,
    },
    isNight: new Uint8Array(hourly.hours).map((_, k) => {
      const ms = hourly.startMs[k]!;
      if (Math.abs(latitude) > POLAR || hourly.blockH > 1.5) return 0;
      const hour = ms / 3_600_000 + hourly.blockH / 2 - noonOf(ms);
      const fromMidnight = Math.abs((((hour % 24) + 24) % 24) - 12);
      return fromMidnight < halfNight ? 1 : 0;
    }),
  };
}

/** Every way in which a log is usually misread that concerns a flow it holds. */
export function misreadingsOf({ hourly: { flows, socFrom } }: Known): Misreading[] {
  const held = FLOW_NAMES.filter((name) => flows[name]);
  const all = (factor: number) => Object.fromEntries(held.map((name) => [name, factor]));
  const one = (factor: number) =>
    held.map((name): Misreading => ({ factors: { [name]: factor }, soc: 'soc' }));
  const pairs = held.flatMap((a, i) => held.slice(i + 1).map((b) => [a, b] as const));
  const [hasBattery, hasGrid] = [held.includes('battery'), held.includes('grid')];
  return [
    ...[-1, 1000, 0.001, 0.1, 10, 0.01, 100].flatMap(one),
    ...(held.length > 1
      ? [1000, 0.001, -1].map((factor): Misreading => ({ factors: all(factor), soc: 'soc' }))
      : []),
    ...(hasBattery && hasGrid ? [{ factors: { grid: -1, battery: -1 }, soc: 'soc' } as const] : []),
    ...pairs.map((exchange): Misreading => ({ exchange, factors: {}, soc: 'soc' })),
    // Load and the grid turned round may change places without a trace in the balance.
    ...(hasGrid && held.includes('load')
      ? [{ exchange: ['load', 'grid'], factors: { load: -1, grid: -1 }, soc: 'soc' } as const]
      : []),
    ...(socFrom ? (['share', 'depth'] as const).map((soc): Misreading => ({ factors: {}, soc })) : []),
  ];
}

/** Each part of what a reading leaves unexplained, 0 to 1; undefined where nothing tells. */
export interface Doubts {
  /** What the balance leaves open, as a share of what flows. */
  readonly closing?: number;
  /** Energy that would flow the impossible way: solar into the panels, load out of the sockets. */
  readonly negative?: number;
  /** How far the state of charge moves otherwise than the battery's energy. */
  readonly charge?: number;
  /** Energy beyond what the home can carry, or a home that hardly draws anything. */
  readonly size?: number;
  /** Sun in the middle of the night. */
  readonly night?: number;
  /** A home that draws nothing for hours while power flows elsewhere. */
  readonly dark?: number;
  /** A battery that gives out more than it takes in, whether logged or what the other flows leave over. */
  readonly drift?: number;
}

/** What a reading leaves unexplained. */
export function doubtsOf(known: Known, reading: Misreading): Doubts {
  const { hourly, limits } = known;
  const read = (name: FlowName) => {
    const [a, b] = reading.exchange ?? [];
    return hourly.flows[name === a ? b! : name === b ? a! : name];
  };
  const factor = (name: FlowName) => reading.factors[name] ?? 1;
  const held = FLOW_NAMES.filter((name) => read(name));
  const tallies = new Map(
    held.map((name) => [name, tallyOf(read(name)!, factor(name), limits[name] * OVER_LIMIT, known.isNight)]),
  );
  const isWithout = (name: FlowName) => held.length === FLOW_NAMES.length - 1 && !read(name);
  const {
    rest,
    flow,
    known: balanced,
  } = balanceOf(
    held.map((name) => ({ values: read(name)!, factor: name === 'load' ? -factor(name) : factor(name) })),
  );
  // What is left over of three flows is the fourth; a load is what comes in, a battery's discharge what is lacking.
  const open: FlowName | null = isWithout('load') ? 'load' : isWithout('battery') ? 'battery' : null;
  const left = open && tallyOf(rest, open === 'load' ? 1 : -1, limits[open] * OVER_LIMIT, known.isNight);
  const [solar, load, battery] = [
    tallies.get('solar'),
    open === 'load' ? left! : tallies.get('load'),
    open === 'battery' ? left! : tallies.get('battery'),
  ];
  const all = [...tallies.values(), ...(open === 'load' ? [left!] : [])];
  const sum = (of: (tally: Tally) => number, list: readonly (Tally | undefined)[]) =>
    list.reduce((total, tally) => total + (tally ? of(tally) : 0), 0);
  const share = (part: number, whole: number) => (whole > 0 ? Math.min(1, part / whole) : null);
  const isWhole = held.length === FLOW_NAMES.length && balanced > 0;
  const oneWay = share(
    sum(({ below }) => below, [solar, load]),
    sum(({ size }) => size, [solar, load]),
  );
  // A load below zero is impossible however seldom it comes.
  const seldom = open === 'load' ? (5 * belowZero(rest, flow)) / Math.max(1, balanced) : 0;
  const over = share(
    sum((tally) => tally.over, all),
    sum(({ size }) => size, all),
  );
  const isFaint =
    hourly.hours * hourly.every >= LEAST_HOURS &&
    ((load && load.top > 0 && load.top < LEAST_TOP_W) ||
      (solar && solar.top > 0 && solar.top < LEAST_SOLAR * limits.solar && Number.isFinite(limits.solar)));
  const doubts: Record<keyof Doubts, number | null> = {
    closing: isWhole ? share(sizeOf(rest), sizeOf(flow) / 2) : null,
    negative: oneWay === null ? null : Math.min(1, Math.max(oneWay, seldom)),
    charge: chargeDoubt(known, read('battery'), factor('battery'), reading.soc),
    size: over === null ? null : isFaint ? Math.max(0.6, over) : over,
    dark: read('load') ? darkDoubt(rest, flow, read('load')!, factor('load')) : null,
    night: solar ? share(4 * solar.night, solar.size) : null,
    drift: battery ? driftDoubt(known, battery, open === 'battery' ? NOTHING * sizeOf(flow) * 0.5 : 0) : null,
  };
  return Object.fromEntries(Object.entries(doubts).filter(([, doubt]) => doubt !== null));
}

/** Sums over the hours of one flow, W: how large it is, how much of it is negative, beyond a limit, in the night. */
interface Tally {
  readonly size: number;
  readonly below: number;
  readonly over: number;
  readonly night: number;
  readonly top: number;
}

function tallyOf(values: Float64Array, factor: number, limit: number, isNight: Uint8Array): Tally {
  let [size, below, over, night, top] = [0, 0, 0, 0, 0];
  for (let k = 0; k < values.length; k++) {
    const value = values[k]! * factor;
    const amount = value < 0 ? -value : value;
    if (!(amount > 0)) continue;
    size += amount;
    if (value < 0) below += amount;
    if (amount > limit) over += amount - limit;
    if (amount > top) top = amount;
    if (isNight[k] === 1) night += amount;
  }
  return { size, below, over, night, top };
}

/** The sum of flows hour by hour, and of their sizes; NaN where one of them is missing. */
function balanceOf(parts: readonly { readonly values: Float64Array; readonly factor: number }[]) {
  const hours = parts[0]?.values.length ?? 0;
  const rest = new Float64Array(hours);
  const flow = new Float64Array(hours);
  for (const { values, factor } of parts) {
    for (let k = 0; k < hours; k++) {
      const value = values[k]! * factor;
      rest[k]! += value;
      flow[k]! += value < 0 ? -value : value;
    }
  }
  let known = 0;
  for (let k = 0; k < hours; k++) if (rest[k] === rest[k]) known++;
  return { rest, flow, known };
}

/** Sum of the sizes of what is known. */
function sizeOf(values: Float64Array): number {
  let size = 0;
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (value === value) size += value < 0 ? -value : value;
  }
  return size;
}

/** Hours in which what is left over is negative by more than meters may be off. */
function belowZero(rest: Float64Array, flow: Float64Array): number {
  let hours = 0;
  for (let k = 0; k < rest.length; k++) if (rest[k]! < -WRONG_W - WRONG_SHARE * flow[k]!) hours++;
  return hours;
}

/** Share of the hours in which a load is nothing although power flows. */
function darkDoubt(
  rest: Float64Array,
  flow: Float64Array,
  load: Float64Array,
  factor: number,
): number | null {
  let [known, dark] = [0, 0];
  for (let k = 0; k < rest.length; k++) {
    if (rest[k] !== rest[k]) continue;
    known++;
    const value = load[k]! * factor;
    const amount = value < 0 ? -value : value;
    if (amount < DARK_W && flow[k]! > FLOWS_W) dark++;
  }
  return known > 0 ? dark / known : null;
}

/** How much more a battery gives out than it takes in, beyond what it may have held at first. */
function driftDoubt({ hourly, usableWh }: Known, { size, below }: Tally, least: number): number | null {
  if (size <= least) return null;
  // What it may have held at first is not known without its capacity; over days it no longer matters.
  const hours = hourly.hours * hourly.every * hourly.blockH;
  if (hours < DRIFT_HOURS && Number.isNaN(usableWh[0] ?? NaN)) return null;
  const held = (usableWh[0]! || 0) / hourly.blockH / hourly.every;
  const given = size - 2 * below - held;
  return Math.min(1, (4 * Math.max(0, given - GIVES_MORE * size)) / size);
}

/**
 * How far the state of charge moves otherwise than the battery's energy says: by size where the capacity is described, else
 * by direction.
 */
function chargeDoubt(
  { hourly: { hours, blockH, socFrom, socTo }, usableWh }: Known,
  battery: Float64Array | undefined,
  factor: number,
  soc: Misreading['soc'],
): number | null {
  if (!battery || !socFrom || !socTo) return null;
  const scale = soc === 'share' ? 100 : soc === 'depth' ? -1 : 1;
  let apart = 0;
  let total = 0;
  let top = 0;
  let wh = 0;
  let swings = 0;
  const abs = (value: number) => (value < 0 ? -value : value);
  for (let k = 0; k < hours; k++) {
    const energy = -battery[k]! * factor * blockH;
    const change = (socTo[k]! - socFrom[k]!) * scale;
    const usable = usableWh[k]!;
    if (socFrom[k]! > top) top = socFrom[k]!;
    if (energy === energy) wh += abs(energy);
    const isKnown = change === change && energy === energy;
    if (!isKnown) continue;
    swings += abs(change);
    const expected = energy / usable;
    if (usable !== usable) {
      if (abs(change) < SWING) continue;
      total += abs(change);
      if (change * energy <= 0 || abs(energy) < STILL_WH) apart += abs(change);
    } else if (abs(change) >= SWING || abs(expected) >= 2 * SWING) {
      apart += abs(change - expected);
      total += abs(change) + abs(expected);
    }
  }
  // A charge that never leaves its lowest hundredth while the battery works is a share under another name.
  const isTiny = top > 0 && top <= 0.0101 && wh > 500;
  if (isTiny && soc !== 'share') return 1;
  if (soc === 'share' && top * 100 > 1.01) return 1;
  if (total === 0) return null;
  const implied = wh / Math.max(swings, 1e-9);
  const isAbsurd = Number.isNaN(usableWh[0]!) && (implied < LEAST_USABLE_WH || implied > MOST_USABLE_WH);
  return isAbsurd ? 1 : apart / total;
}
