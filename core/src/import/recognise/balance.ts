import { SCALES } from '../read/columns.js';
import { ONE_WAY, type Role } from '../read/mapping.js';
import { socSign } from '../merge/socSign.js';
import { quantile } from '../../statistics/quantile.js';
import type { Guess } from './guess.js';
import { known, type Sample } from './sample.js';
import { stepOf, type TimeColumn } from './timeColumn.js';

/** Share of what flows that may stay unexplained by a balance that is to decide a sign. */
const CLOSES = 0.25;
const CLEARLY = 1.6;
/** Rows this far apart are totals, of which as much more may leave the home than enters it, as a share of its load. */
const TOTALS_MS = 20 * 3_600_000;
const MOST_GIVEN = 0.05;

/** Courses in W, positive as the file writes them. */
type Courses = Partial<Record<Role, Float64Array>>;

/**
 * Turns signs the way that closes the account best: of solar + grid + battery = load every assignment is tried; where the
 * balance does not decide, the state of charge tells charging from discharging, and a load can never be negative.
 */
export function settleSigns(guesses: readonly Guess[], sample: Sample, time: TimeColumn): void {
  const asNamed = coursesOf(guesses, sample, time);
  for (const guess of guesses) oneWay(guess, asNamed[guess.role]);
  // What goes both ways stands under another role now.
  const courses = coursesOf(guesses, sample, time);
  const of = (role: Role) => guesses.find((guess) => guess.role === role);
  const net = (role: Role, plus: Role, minus: Role): Float64Array | undefined => {
    const signed = courses[role];
    const [a, b] = [upright(plus), upright(minus)];
    return signed ?? (a && b ? a.map((value, i) => value - b[i]!) : undefined);
  };
  const upright = (role: Role) => {
    const course = courses[role];
    return of(role)?.sign === -1 ? course?.map((value) => -value) : course;
  };
  const solar = upright('solar');
  const load = upright('load');
  const grid = net('grid', 'import', 'export');
  // The side of the battery that the file has; where it has both, the one at the home's bus.
  const onDc = !courses.battery && !courses.charge && !courses.discharge;
  const batteryRoles: readonly [Role, plus: Role, minus: Role] = onDc
    ? ['batteryDc', 'dischargeDc', 'chargeDc']
    : ['battery', 'discharge', 'charge'];
  const battery = net(...batteryRoles);
  const soc = courses.soc;
  const bySoc = battery && soc ? socSign(battery, soc) : null;
  const tried = ([1, -1] as const).flatMap((g) =>
    ([1, -1] as const).map((b) => ({ g, b, rest: restOf(solar, load, grid, battery, g, b) })),
  );
  const closing = tried
    .filter(({ g, b }) => (grid || g === 1) && (battery || b === 1))
    .sort((x, y) => x.rest - y.rest);
  const [best, rival] = closing;
  const decides =
    best !== undefined && best.rest < CLOSES && (!rival || rival.rest > CLEARLY * best.rest + 0.02);
  // Totals of days and longer leave out what is lost and what stays in store: as named they need only not give energy.
  const isPlausibleTotal =
    stepOf(time.readings) >= TOTALS_MS && givenOf(solar, load, grid, battery) <= MOST_GIVEN;
  const restText = (rest: number) => `${Math.round(100 * rest)} %`;
  const settle = (role: Role, plus: Role, minus: Role, sign: 1 | -1 | null, evidence: string) => {
    const signed = of(role);
    if (signed) {
      if (sign === null) {
        askSign(signed);
      } else {
        signed.sign = sign;
        signed.evidence.push(evidence);
        if (!signed.asks) signed.confidence = 0.93;
        if (signed.hint.sign !== null && signed.hint.sign !== sign) {
          signed.asks = true;
          signed.confidence = 0.5;
          signed.evidence.push('its name says the opposite');
          signed.alternatives.push({ says: 'the sign its name gives', set: { sign: signed.hint.sign } });
        }
      }
      return;
    }
    if (sign !== -1 || isPlausibleTotal) return;
    // The names of two one-way columns look exchanged.
    for (const guess of [of(plus), of(minus)]) {
      if (!guess) continue;
      const other = guess.role === plus ? minus : plus;
      guess.evidence.push(`${evidence}: the columns ${plus} and ${minus} seem to be exchanged`);
      guess.alternatives.push({ says: `${guess.role}, as named`, set: { quantity: guess.role } });
      guess.role = other;
      guess.asks = true;
      guess.confidence = 0.5;
    }
  };
  if (grid) {
    const hinted = of('grid')?.hint.sign ?? null;
    const byLoad = decides ? best.g : solar ? signAgainstSolar(grid, solar) : null;
    const sign = byLoad ?? hinted ?? (courses.grid && !courses.grid.some((value) => value < 0) ? 1 : null);
    const evidence = decides
      ? `with this sign the account closes to ${restText(best.rest)}${rival ? `, reversed to ${restText(rival.rest)}` : ''}`
      : byLoad !== null
        ? 'it goes the other way when solar is strong'
        : 'its name, and nothing in the data against it';
    settle('grid', 'import', 'export', sign, evidence);
  }
  // Where the balance tells the battery's sign, a charge that falls when it charges is a depth of discharge.
  const charge = of('soc');
  const isDepth = charge && battery && bySoc !== null && decides && isSettled(tried) && bySoc !== best.b;
  if (isDepth) {
    charge.sign = -1;
    charge.confidence = 0.8;
    charge.evidence.push(
      `it falls when the battery charges, whose sign the account tells (it closes to ${restText(best.rest)}): it is the depth of discharge`,
    );
    charge.alternatives.push({ says: 'the state of charge, as named', set: { sign: 1 } });
  }
  if (battery) {
    const told = isDepth ? best.b : bySoc;
    const sign = told ?? (decides ? best.b : null) ?? of(batteryRoles[0])?.hint.sign ?? null;
    const evidence =
      told !== null && !isDepth
        ? 'so the state of charge rises when the battery charges'
        : decides
          ? `with this sign the account closes to ${restText(best.rest)}`
          : 'its name, and nothing in the data against it';
    settle(...batteryRoles, sign, evidence);
  }
  const amps = of('batteryA');
  if (!battery && amps && courses.batteryA && courses.batteryV)
    settleCurrent(amps, courses.batteryA, courses.batteryV, courses, grid);
}

/** The sign of a shunt's current, which with the voltage is the battery's power: by the charge, by the account, or asked. */
function settleCurrent(
  guess: Guess,
  amps: Float64Array,
  volts: Float64Array,
  { solar, load, soc }: Courses,
  grid: Float64Array | undefined,
): void {
  const watts = amps.map((value, i) => value * volts[i]!);
  const bySoc = soc ? socSign(watts, soc) : null;
  const [plus, minus] = [1, -1].map((b) => restOf(solar, load, grid, watts, 1, b)) as [number, number];
  const isClear =
    Math.min(plus, minus) < CLOSES && Math.max(plus, minus) > CLEARLY * Math.min(plus, minus) + 0.02;
  const sign = bySoc ?? (isClear ? (plus < minus ? 1 : -1) : guess.hint.sign);
  guess.evidence.push('with the voltage it is the power of the battery on its DC side');
  if (sign === null) {
    askSign(guess);
    return;
  }
  guess.sign = sign;
  guess.evidence.push(
    bySoc !== null
      ? 'so the state of charge rises when the battery charges'
      : isClear
        ? 'with this sign the account closes'
        : 'its name says its direction',
  );
}

/** True when no assignment with the other sign closes the account about as well. */
function isSettled(tried: readonly { readonly b: number; readonly rest: number }[]): boolean {
  const least = (b: number) => Math.min(...tried.filter((one) => one.b === b).map(({ rest }) => rest));
  const [plus, minus] = [least(1), least(-1)];
  return Math.max(plus, minus) > CLEARLY * Math.min(plus, minus) + 0.02;
}

function askSign(guess: Guess): void {
  guess.asks = true;
  guess.confidence = 0.5;
  const [plus, minus] = guess.role === 'grid' ? ['import', 'export'] : ['discharge', 'charge'];
  guess.evidence.push(`the data do not tell whether positive is ${plus} or ${minus}`);
  guess.alternatives.push({ says: `positive is ${minus}`, set: { sign: -1 } });
}

/** What flows one way only and is written negative is turned round. */
function oneWay(guess: Guess, course: Float64Array | undefined): void {
  const oneWayRoles: readonly Role[] = ['solar', 'load', ...ONE_WAY];
  if (
    !course ||
    !oneWayRoles.includes(guess.role) ||
    guess.kind === 'counter' ||
    guess.kind === 'daily-counter'
  )
    return;
  let below = 0;
  let above = 0;
  for (const value of course) {
    if (value < 0) below -= value;
    else if (value > 0) above += value;
  }
  const bothWays = Math.min(below, above) > 0.02 * Math.max(below, above);
  if (bothWays && (guess.role === 'import' || guess.role === 'export')) {
    guess.sign = guess.role === 'import' ? 1 : -1;
    guess.role = 'grid';
    guess.evidence.push('it goes both ways, so it is import minus export, or the reverse');
  } else if (below > 10 * above) {
    guess.sign = -1;
    guess.evidence.push('it is written negative throughout');
  }
}

/** Courses of the flows in W; several columns of one role are added, counters are differenced. */
function coursesOf(guesses: readonly Guess[], sample: Sample, time: TimeColumn): Courses {
  const courses: Courses = {};
  const hours = stepOf(time.readings) / 3_600_000;
  for (const { role, field, unit, kind } of guesses) {
    const raw = sample.numbers[field]!;
    const values =
      kind === 'state' || kind === 'power'
        ? raw
        : kind === 'energy'
          ? raw.map((value) => value / hours)
          : raw.map((value, i) => Math.max(0, (raw[i + 1] ?? value) - value) / hours);
    const scaled = kind === 'state' ? values : values.map((value) => value * SCALES[unit]);
    const before = courses[role];
    // A power leads its own counter; strings of modules are added.
    if (before && (kind === 'counter' || kind === 'daily-counter')) continue;
    courses[role] = before && kind === 'power' ? before.map((value, i) => value + scaled[i]!) : scaled;
  }
  return courses;
}

/** What leaves a home beyond what enters it, as a share of its load; 0 where one of the flows is not known. */
function givenOf(
  solar: Float64Array | undefined,
  load: Float64Array | undefined,
  grid: Float64Array | undefined,
  battery: Float64Array | undefined,
): number {
  if (!solar || !load || !grid) return 0;
  let [into, used] = [0, 0];
  for (let i = 0; i < load.length; i++) {
    const sum = solar[i]! + grid[i]! + (battery?.[i] ?? 0);
    if (Number.isNaN(sum) || Number.isNaN(load[i]!)) continue;
    into += sum;
    used += load[i]!;
  }
  return used > 0 ? (used - into) / used : 0;
}

/** What an assignment of signs leaves unexplained, as a share of what flows; the load may be the one that is not logged. */
function restOf(
  solar: Float64Array | undefined,
  load: Float64Array | undefined,
  grid: Float64Array | undefined,
  battery: Float64Array | undefined,
  g: number,
  b: number,
): number {
  const some = load ?? grid ?? battery;
  if (!some) return 1;
  const full = load && [solar, grid, battery].filter(Boolean).length >= 2 && grid;
  let rest = 0;
  let flow = 0;
  for (let i = 0; i < some.length; i++) {
    const into = (solar?.[i] ?? 0) + g * (grid?.[i] ?? 0) + b * (battery?.[i] ?? 0);
    if (Number.isNaN(into)) continue;
    if (full) {
      if (Number.isNaN(load[i]!)) continue;
      rest += Math.abs(into - load[i]!);
      flow += Math.abs(into) + Math.abs(load[i]!);
    } else if (!load && solar && grid) {
      // The load is what is left over: below zero it is impossible.
      rest += Math.max(0, -into);
      flow += Math.abs(into);
    } else {
      return 1;
    }
  }
  return flow > 0 ? rest / flow : 1;
}

/** +1 when the grid falls as solar rises, that is, when import is positive; null when it does not tell. */
function signAgainstSolar(grid: Float64Array, solar: Float64Array): 1 | -1 | null {
  const strong = quantile(known(solar), 0.9);
  let byDay = 0;
  let days = 0;
  let byNight = 0;
  let nights = 0;
  for (let i = 0; i < grid.length; i++) {
    if (Number.isNaN(grid[i]!) || Number.isNaN(solar[i]!)) continue;
    if (solar[i]! > 0.6 * strong) {
      byDay += grid[i]!;
      days++;
    } else if (solar[i]! < 0.02 * strong) {
      byNight += grid[i]!;
      nights++;
    }
  }
  if (days < 5 || nights < 5) return null;
  const difference = byNight / nights - byDay / days;
  return Math.abs(difference) < 0.05 * strong ? null : difference > 0 ? 1 : -1;
}
