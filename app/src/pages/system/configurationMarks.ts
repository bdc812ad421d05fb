import type { ConfigurationForm } from './configurationForm.js';

const DAY_MS = 86_400_000;
/** The line goes on beyond the last mark by at least so much, so that its name has room. */
const ROOM = 0.25;

/** A configuration on the line, at the wall clock of the home. */
export interface Mark {
  /** Its place in the form. */
  readonly index: number;
  readonly name: string;
  readonly ms: number;
}

/** Wall-clock text of a form as an instant, as if it were UTC; NaN where it is no date. */
export const wallMs = (text: string): number => Date.parse(`${text.slice(0, 16)}Z`);

/** A wall-clock instant as a form has it: `2024-01-31T08:00`. */
export const wallText = (ms: number): string => new Date(ms).toISOString().slice(0, 16);

/** The line of time of a form's configurations up to today; null while none of them has a date. */
export function timeLineOf(
  configurations: readonly Pick<ConfigurationForm, 'from' | 'name'>[],
  todayMs: number,
): { readonly marks: readonly Mark[]; readonly fromMs: number; readonly toMs: number } | null {
  const marks = configurations
    .map(({ from, name }, index) => ({ index, name: name.trim(), ms: wallMs(from) }))
    .filter(({ ms }) => !Number.isNaN(ms))
    .sort((a, b) => a.ms - b.ms);
  const [first, last] = [marks[0], marks.at(-1)];
  if (!first || !last) return null;
  const room = ROOM * Math.max(last.ms - first.ms, 365 * DAY_MS);
  return { marks, fromMs: first.ms, toMs: Math.max(todayMs, last.ms + room) };
}

/** An instant held between a mark's neighbours, a day away from each: configurations keep their order. */
export function heldBetween(marks: readonly Mark[], mark: Mark, ms: number): number {
  const at = marks.indexOf(mark);
  const [before, after] = [marks[at - 1], marks[at + 1]];
  return Math.min((after?.ms ?? Infinity) - DAY_MS, Math.max((before?.ms ?? -Infinity) + DAY_MS, ms));
}
