import type { RollDay } from './roll.js';
import { subtotal, type Subtotal } from './rollRows.js';

/** First and last selected day as indices into the roll, both included. */
export interface DayRange {
  readonly from: number;
  readonly to: number;
}

export const GRAINS = ['day', 'month', 'year'] as const;
export type Grain = (typeof GRAINS)[number];

/** A day, month or year of a range, with the same period of the year before where the roll has all of it. */
export interface Period {
  readonly key: string;
  readonly from: number;
  readonly to: number;
  readonly sum: Subtotal;
  readonly before: Subtotal | null;
}

const LETTERS: Readonly<Record<Grain, number>> = { day: 10, month: 7, year: 4 };

/** The periods of a range, oldest first; the first and last may be cut by the range. */
export function periodsOf(days: readonly RollDay[], range: DayRange, grain: Grain): Period[] {
  const indexOf = new Map(days.map(({ date }, i) => [date, i]));
  const periods: Period[] = [];
  for (let from = range.from; from <= range.to;) {
    const key = days[from]!.date.slice(0, LETTERS[grain]);
    let to = from;
    while (to < range.to && days[to + 1]!.date.startsWith(key)) to++;
    const [first, last] = [
      indexOf.get(yearBefore(days[from]!.date)),
      indexOf.get(yearBefore(days[to]!.date)),
    ];
    periods.push({
      key,
      from,
      to,
      sum: subtotal(days, from, to),
      before: first === undefined || last === undefined ? null : subtotal(days, first, last),
    });
    from = to + 1;
  }
  return periods;
}

/** The same date of the year before; 29 February has the 28th. */
function yearBefore(date: string): string {
  const year = Number(date.slice(0, 4)) - 1;
  return date.endsWith('-02-29') ? `${year}-02-28` : `${year}${date.slice(4)}`;
}

/** Self-sufficiency by the meter of a period, or null where load or import is not known. */
export function byMeter({ load, import: bought }: Subtotal): number | null {
  return load === null || bought === null || load <= 0 ? null : 1 - bought / load;
}

/** Why a day touched the grid. */
export const CAUSES = [
  ['battery-empty', 'battery empty'],
  ['over-limit', 'load over limit'],
  ['leg-overload', 'leg over its limit'],
  ['grid-charged', 'charged from the grid'],
  ['outage', 'outage'],
  ['little-sun', 'little sun'],
  ['cold', 'cold day'],
  ['missing', 'data missing'],
  ['journal', 'noted in the journal'],
  ['none', 'no cause found'],
] as const;
export type Cause = (typeof CAUSES)[number][0];

/** A day with more than the limit of import, and what explains it. */
export interface Contact {
  readonly index: number;
  readonly causes: readonly Cause[];
}

/** The days of a range that touched the grid, newest first. */
export function contactsOf(days: readonly RollDay[], range: DayRange): Contact[] {
  const contacts: Contact[] = [];
  for (let index = range.to; index >= range.from; index--) {
    const { gridFree, notes } = days[index]!;
    if (gridFree !== false) continue;
    const found = CAUSES.map(([cause]) => cause).filter((cause) => notes.some(({ kind }) => kind === cause));
    contacts.push({ index, causes: found.length > 0 ? found : ['none'] });
  }
  return contacts;
}
