import { SCALES } from '../read/columns.js';
import type { Guess } from './guess.js';
import type { Sample } from './sample.js';
import { nameOfPartIn } from './words.js';

/** A sum of others differs from theirs by roundings only. */
const ALIKE = 0.02;

/** Columns of power of the sun: arrays, strings, inverters. */
function suns(guesses: readonly Guess[]): readonly Guess[] {
  return guesses.filter(({ role, kind }) => role === 'solar' && kind === 'power');
}

/** A number that a string of panels or its input has in a name. */
const STRING_NUMBER = /(pv|mppt|string|array|input|dc)[\s_-]*\d/i;

/** Where one column of solar is the sum of the others, it is the home's, and they are its arrays. */
export function tellTotalFromStrings(guesses: readonly Guess[], sample: Sample): void {
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
