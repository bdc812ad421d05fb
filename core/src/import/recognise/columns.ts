import { SCALES, STATE_UNITS } from '../read/columns.js';
import type { FileUnit, Kind, Role } from '../read/mapping.js';
import { quantile } from '../../statistics/quantile.js';
import type { System } from '../../system/schema.js';
import type { Alternative } from './conclusion.js';
import { known, type Sample } from './sample.js';
import type { TimeColumn } from './timeColumn.js';
import { hintOf, isState, nameOfPartIn, type Hint } from './words.js';

/** What a column is taken for, with what speaks for it; changed in place while more evidence is heard. */
export interface Guess {
  readonly field: number;
  readonly name: string;
  role: Role;
  unit: FileUnit;
  kind: Kind;
  sign: 1 | -1;
  readonly sample: 'mean' | 'instant';
  readonly hint: Hint;
  readonly evidence: string[];
  readonly alternatives: Alternative[];
  confidence: number;
  asks: boolean;
}

/** The strongest flow of a home lies between a kettle and what a house connection carries. */
const LEAST_TOP_W = 150;
const MOST_TOP_W = 45_000;
/** Fewer rows may rise by chance. */
const FEW_ROWS = 40;

/** Takes each column for what its name and its values say together. */
export function guessColumns(sample: Sample, time: TimeColumn, system: System | null): Guess[] {
  const stepMs = time.untilMs ? periodOf(time.readings, time.untilMs) : stepOf(time.readings);
  const guesses: Guess[] = [];
  sample.names.forEach((name, field) => {
    if (time.fields.includes(field)) return;
    const values = sample.numbers[field]!;
    const filled = sample.cells[field]!.filter((cell) => cell !== '').length;
    const numbers = known(values).length;
    if (numbers === 0 || numbers < 0.3 * filled) return;
    const hint = hintOf(name, sample.units[field]!);
    const role = hint.role ?? roleByCourse(values, time, hint);
    if (!role) return;
    if (hint.role === null) {
      guesses.push(unnamed(field, name, role, hint));
    } else {
      const isCents = hint.unit === 'cents/kWh';
      const unit = isCents ? hint.unit : (STATE_UNITS[role] ?? hint.unit ?? 'W');
      guesses.push({
        field,
        name,
        role,
        unit,
        kind: isState(role) ? 'state' : 'power',
        sign: 1,
        sample: hint.sample ?? 'mean',
        hint,
        evidence: [`its name "${name}"`],
        alternatives: [],
        confidence: 0.9,
        asks: false,
      });
    }
  });
  for (const guess of guesses) {
    const values = sample.numbers[guess.field]!;
    if (guess.kind === 'state') settleState(guess, values);
    else settleKind(guess, values, time, stepMs, mostW(system));
  }
  settleFewRows(guesses);
  settleUnits(guesses, sample, time, stepMs, mostW(system));
  askLoneUsage(guesses);
  tellTotalFromStrings(guesses, sample);
  return guesses;
}

/** A sum of others differs from theirs by roundings only. */
const ALIKE = 0.02;

/** Columns of power of the sun: arrays, strings, inverters. */
function suns(guesses: readonly Guess[]): readonly Guess[] {
  return guesses.filter(({ role, kind }) => role === 'solar' && kind === 'power');
}

/** A number that a string of panels or its input has in a name. */
const STRING_NUMBER = /(pv|mppt|string|array|input|dc)[\s_-]*\d/i;

/** Where one column of solar is the sum of the others, it is the home's, and they are its arrays. */
function tellTotalFromStrings(guesses: readonly Guess[], sample: Sample): void {
  const all = suns(guesses);
  if (all.length < 3) return;
  const watts = all.map(({ field, unit }) => sample.numbers[field]!.map((value) => value * SCALES[unit]));
  const total = watts.findIndex(
    (one, i) =>
      // Half of the panels on one string make as much as the other strings together.
      !STRING_NUMBER.test(all[i]!.name) &&
      isSumOf(
        one,
        watts.filter((_, j) => j !== i),
      ),
  );
  if (total < 0) return;
  all[total]!.evidence.push('it is the sum of the other columns of solar');
  nameStrings(all.filter((_, i) => i !== total));
}

/** Whether a column is the sum of others in every row, but for roundings and a steady loss between them. */
function isSumOf(total: Float64Array, parts: readonly Float64Array[]): boolean {
  const sums = total.map((_, row) => parts.reduce((sum, part) => sum + part[row]!, 0));
  const rows = [...sums.keys()].filter((row) => Number.isFinite(total[row]! + sums[row]!));
  const over = (of: (row: number) => number) => rows.reduce((sum, row) => sum + of(row), 0);
  const whole = over((row) => sums[row]!);
  const kept = over((row) => total[row]!) / whole;
  if (!(whole > 0) || Math.abs(kept - 1) > 2 * ALIKE) return false;
  return over((row) => Math.abs(total[row]! - kept * sums[row]!)) <= ALIKE * whole;
}

/** Of several columns of solar without a sum each is an array of its own; together they are the home's solar. */
export function nameStringsWithoutTotal(guesses: readonly Guess[]): void {
  const all = suns(guesses);
  if (all.length > 1) nameStrings(all);
}

function nameStrings(strings: readonly Guess[]): void {
  const names = strings.map(({ name }) => nameOfPartIn(name));
  if (new Set(names).size < names.length || names.includes('')) return;
  for (const [i, guess] of strings.entries()) {
    guess.role = `solar:${names[i]!}`;
    guess.evidence.push('one of several columns of solar: an array of its own');
  }
}

/** A utility calls what it delivered usage or consumption; of a home with panels that is import, not load. */
function askLoneUsage(guesses: readonly Guess[]): void {
  const flows = guesses.filter(({ kind }) => kind !== 'state');
  const [only] = flows;
  if (!only || flows.length > 1 || only.role !== 'load' || only.kind === 'power') return;
  only.asks = true;
  only.confidence = Math.min(only.confidence, 0.5);
  only.evidence.push('it stands alone: it may be what the home used, or what the grid delivered to it');
  only.alternatives.push({ says: 'import, as a utility counts it', set: { quantity: 'import' } });
}

/** Columns of one file are of one kind: beside energies of each interval a few rising values are energies too. */
function settleFewRows(guesses: readonly Guess[]): void {
  if (!guesses.some(({ kind }) => kind === 'energy')) return;
  for (const guess of guesses) {
    if (!guess.asks || !guess.alternatives.some(({ set }) => set['kind'] === 'energy')) continue;
    guess.kind = 'energy';
    guess.asks = false;
    guess.confidence = 0.8;
    guess.alternatives.length = 0;
    guess.evidence.push('the other columns of the file are energies of each interval');
  }
}

/** The usual length of periods, ms. */
function periodOf(fromMs: Float64Array, untilMs: Float64Array): number {
  const lengths = known(untilMs.map((until, i) => until - fromMs[i]!));
  return lengths[lengths.length >> 1] ?? 86_400_000;
}

/** The usual distance between the rows of a sample, ms. */
export function stepOf(readings: Float64Array): number {
  const sorted = known(readings);
  const distances = sorted.slice(1).map((ms, i) => ms - sorted[i]!);
  const positive = known(distances.filter((distance) => distance > 0));
  return positive.length === 0 ? 3_600_000 : positive[Math.floor(positive.length / 2)]!;
}

function unnamed(field: number, name: string, role: Role, hint: Hint): Guess {
  const says =
    role === 'soc' ? 'it runs between 0 and 100 without leaps' : 'it is zero at night and rises by day';
  return {
    field,
    name,
    role,
    unit: STATE_UNITS[role] ?? hint.unit ?? 'W',
    kind: isState(role) ? 'state' : 'power',
    sign: 1,
    sample: hint.sample ?? 'mean',
    hint,
    evidence: [`its name says nothing that is known, but ${says}`],
    alternatives: [{ says: 'leave it in the file', set: { quantity: 'none' } }],
    confidence: 0.5,
    asks: true,
  };
}

/** A column whose name says nothing: a state of charge or solar by its course, else nothing. */
function roleByCourse(values: Float64Array, { readings }: TimeColumn, { unit }: Hint): Role | null {
  const all = known(values);
  const [low, high] = [all[0]!, all.at(-1)!];
  let steps = 0;
  for (let i = 1; i < values.length; i++) steps = Math.max(steps, Math.abs(values[i]! - values[i - 1]!) || 0);
  const span = (readings.at(-1)! - readings[0]!) / 86_400_000;
  if (unit !== null && unit !== '%' && unit !== 'W' && unit !== 'kW') return null;
  if (
    (unit === '%' || unit === null) &&
    low >= 0 &&
    high <= 100 &&
    high - low > 15 &&
    high > 30 &&
    steps <= 15
  )
    return 'soc';
  const zeros = all.filter((value) => value === 0).length / all.length;
  const restless = all.filter((value) => value > 0.05 * high).length / all.length;
  const isPowerCourse = Math.abs(span) >= 2 && low >= 0 && zeros > 0.3 && zeros < 0.75 && restless > 0.15;
  return isPowerCourse && zeroInOneStretch(values) && unit !== '%' ? 'solar' : null;
}

/** True when zeros stand in long stretches, as nights do. */
function zeroInOneStretch(values: Float64Array): boolean {
  let changes = 0;
  let zeros = 0;
  for (let i = 1; i < values.length; i++) {
    if ((values[i] === 0) !== (values[i - 1] === 0)) changes++;
    if (values[i] === 0) zeros++;
  }
  return changes > 0 && zeros / changes > 5;
}

function settleState(guess: Guess, values: Float64Array): void {
  const all = known(values);
  const high = all.at(-1)!;
  if (guess.role === 'soc') {
    const isShare = high <= 1.0001 && guess.hint.unit !== '%';
    guess.unit = isShare ? 'share' : '%';
    guess.evidence.push(`its values run from ${round(all[0]!)} to ${round(high)}`);
    if (high > 1.0001 && high <= 2) guess.asks = true;
  } else if (guess.unit === '°C') {
    const middle = quantile(all, 0.5);
    // Cold rooms and summer roofs: a median above 45 is Fahrenheit wherever people live.
    const isFahrenheit = guess.hint.unit === '°F' || (guess.hint.unit === null && middle > 45);
    guess.unit = isFahrenheit ? '°F' : '°C';
    guess.evidence.push(`its middle value is ${round(middle)}`);
  }
}

function settleKind(
  guess: Guess,
  values: Float64Array,
  time: TimeColumn,
  stepMs: number,
  highestW: number,
): void {
  const { hint } = guess;
  // Energies of months that happen to grow are no counter.
  const course = time.untilMs ? 'free' : courseOf(values, time.readings);
  if (course === 'rising' || course === 'rising by day') {
    const kind = course === 'rising' ? 'counter' : 'daily-counter';
    if (hint.unit === 'W' || hint.unit === 'kW') {
      guess.evidence.push('it only rises, although its unit is one of power');
      guess.kind = 'power';
      guess.confidence = 0.6;
      return;
    }
    guess.kind = kind;
    guess.unit = hint.unit ?? 'kWh';
    if (known(values).length < FEW_ROWS && hint.kind !== kind) {
      // A few rising values may be the energies of days that happened to grow.
      const fits = (as: Kind) => {
        const top = topW(guess, guess.unit, as, values, stepMs);
        return top >= LEAST_TOP_W && top <= highestW;
      };
      if (fits('energy') && !fits(kind)) {
        guess.kind = 'energy';
        guess.evidence.push('its values are of the size of the energy of each interval');
        return;
      }
      if (fits('energy')) {
        guess.asks = true;
        guess.confidence = 0.5;
        guess.evidence.push('these few values only rise: they may be a counter or energies of each interval');
        guess.alternatives.push({
          says: `the energy of each interval in ${guess.unit}`,
          set: { kind: 'energy' },
        });
        return;
      }
    }
    guess.evidence.push(
      kind === 'counter' ? 'it never falls' : 'it starts anew each day and never falls in between',
    );
    return;
  }
  if (hint.unit?.endsWith('Wh')) {
    guess.kind = hint.kind === 'counter' && stepMs >= 3_600_000 ? 'counter' : 'energy';
    guess.evidence.push('its unit is one of energy and it rises and falls: the energy of each interval');
  } else if (hint.unit) {
    guess.evidence.push(`its unit, ${hint.unit}`);
  }
}

/** Whether values only rise, only rise within each day, or go up and down. */
function courseOf(values: Float64Array, readings: Float64Array): 'rising' | 'rising by day' | 'free' {
  let rises = 0;
  let falls = 0;
  let fallsAtNewDay = 0;
  let last = NaN;
  let lastDay = NaN;
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (Number.isNaN(value)) continue;
    // A reset is written some minutes late now and then.
    const day = Math.floor((readings[i]! - 1_200_000) / 86_400_000);
    if (value > last) rises++;
    if (value < last) {
      falls++;
      if (day !== lastDay || value < 0.2 * last) fallsAtNewDay++;
    }
    last = value;
    lastDay = day;
  }
  if (rises < 2 || values.some((value) => value < 0)) return 'free';
  if (falls <= 0.005 * rises + (rises > 50 ? 1 : 0))
    return falls === fallsAtNewDay && falls > 0 ? 'rising by day' : 'rising';
  return falls <= 0.2 * rises && fallsAtNewDay >= 0.9 * falls ? 'rising by day' : 'free';
}

/** The strongest flow that a described home can have, W. */
function mostW(system: System | null): number {
  const described = (system?.configurations ?? []).flatMap(({ inverter, arrays }) => [
    (inverter?.continuousKW ?? 0) * 1000 * (inverter?.units ?? 1),
    (arrays ?? []).reduce((sum, { kWp }) => sum + kWp * 1000, 0),
  ]);
  const most = Math.max(0, ...described);
  // The house connection may carry more than the inverter.
  return most > 0 ? Math.max(3 * most, 15_000) : MOST_TOP_W;
}

/** The upper end of a column's power in W, if its values were in a unit. */
function topW(guess: Guess, unit: FileUnit, kind: Kind, values: Float64Array, stepMs: number): number {
  const hours = stepMs / 3_600_000;
  const size =
    kind === 'counter' || kind === 'daily-counter'
      ? known(values.slice(1).map((value, i) => Math.max(0, value - values[i]!)))
      : known(values.map(Math.abs));
  if (size.length === 0) return 0;
  const top = quantile(size, 0.995) * SCALES[unit];
  return kind === 'power' ? top : top / hours;
}

const UNIT_CHOICES: Readonly<Record<'power' | 'energy', readonly FileUnit[]>> = {
  power: ['W', 'kW', 'MW'],
  energy: ['Wh', 'kWh', 'MWh'],
};

/** Columns without a unit are of one unit together: the one that makes the home's strongest flow a plausible one. */
function settleUnits(
  guesses: readonly Guess[],
  sample: Sample,
  time: TimeColumn,
  stepMs: number,
  highestW: number,
): void {
  const flows = guesses.filter(({ kind }) => kind !== 'state');
  const valuesOf = ({ field }: Guess) => sample.numbers[field]!;
  const plausible = (top: number) => top >= LEAST_TOP_W && top <= highestW;
  const stated = flows.filter(({ hint }) => hint.unit !== null);
  const top = (list: readonly Guess[], unit?: FileUnit, kind?: Kind) =>
    Math.max(
      0,
      ...list.map((guess) => topW(guess, unit ?? guess.unit, kind ?? guess.kind, valuesOf(guess), stepMs)),
    );
  for (const unit of new Set(stated.map((guess) => guess.unit))) {
    const alike = stated.filter((guess) => guess.unit === unit);
    const found = top(alike);
    if (plausible(found) || found === 0) continue;
    // The name says one unit, the size another: that is asked.
    const kind = alike[0]!.kind === 'power' ? 'power' : 'energy';
    const better = UNIT_CHOICES[kind].filter((other) => other !== unit && plausible(top(alike, other)));
    if (better.length !== 1 || (found < LEAST_TOP_W && found > 0.2 * LEAST_TOP_W)) continue;
    for (const guess of alike) {
      guess.evidence.push(
        `its name says ${unit}, but then the strongest flow would be ${power(found)}; in ${better[0]!} it is ${power(top(alike, better[0]))}`,
      );
      guess.alternatives.push({ says: `${unit}, as named`, set: { unit } });
      guess.unit = better[0]!;
      guess.confidence = 0.5;
      guess.asks = true;
    }
  }
  const open = flows.filter(({ hint }) => hint.unit === null);
  const counters = open.filter(({ kind }) => kind !== 'power');
  const free = open.filter(({ kind }) => kind === 'power');
  settleGroup(
    counters,
    ['Wh', 'kWh', 'MWh'].map((unit) => ({ unit: unit as FileUnit, kind: null })),
    top,
    plausible,
  );
  const choices: readonly Choice[] = [
    { unit: 'W', kind: 'power' },
    { unit: 'kW', kind: 'power' },
    ...(free.every(({ hint }) => hint.kind === 'power')
      ? []
      : [{ unit: 'Wh', kind: 'energy' } as const, { unit: 'kWh', kind: 'energy' } as const]),
  ];
  settleGroup(free, choices, top, plausible);
}

interface Choice {
  readonly unit: FileUnit;
  readonly kind: Kind | null;
}

function settleGroup(
  group: readonly Guess[],
  choices: readonly Choice[],
  top: (list: readonly Guess[], unit?: FileUnit, kind?: Kind) => number,
  plausible: (top: number) => boolean,
): void {
  if (group.length === 0) return;
  const fits = choices
    .map((choice) => ({ ...choice, top: top(group, choice.unit, choice.kind ?? undefined) }))
    .filter((choice) => plausible(choice.top));
  const [best, rival] = fits;
  for (const guess of group) {
    if (!best) {
      guess.asks = true;
      guess.confidence = 0.3;
      guess.evidence.push('no unit is written, and none makes its size plausible');
      guess.alternatives.push(...choices.map(({ unit }) => ({ says: unit, set: { unit } })));
      continue;
    }
    guess.unit = best.unit;
    if (best.kind) guess.kind = best.kind;
    guess.evidence.push(`no unit is written; in ${best.unit} the strongest flow is ${power(best.top)}`);
    guess.confidence = rival ? 0.5 : 0.85;
    if (!rival) continue;
    guess.asks = true;
    guess.evidence.push(`in ${rival.unit} it would be ${power(rival.top)}, which is possible too`);
    for (const other of fits.slice(1))
      guess.alternatives.push({
        says: `${other.unit}: the strongest flow is ${power(other.top)}`,
        set: { unit: other.unit, ...(other.kind ? { kind: other.kind } : {}) },
      });
  }
}

function power(w: number): string {
  return w >= 1000 ? `${round(w / 1000)} kW` : `${round(w)} W`;
}

function round(value: number): string {
  return String(Number(value.toPrecision(3)));
}
