import type { RollDay } from './roll.js';

/** Sums of a month or a year; null where nothing was measured. */
export interface Subtotal {
  readonly solar: number | null;
  readonly load: number | null;
  readonly import: number | null;
  readonly export: number | null;
  readonly discharge: number | null;
  /** Closing error as a share of what came in on the same intervals. */
  readonly closingShare: number | null;
  /** Days without the grid; null where of no day it is known. */
  readonly gridFree: number | null;
}

/** A line of the roll: a day, or the sums of a month or a year. `from` and `to` are days, both included. */
export type Row =
  | { readonly kind: 'day'; readonly index: number }
  | {
      readonly kind: 'month' | 'year';
      readonly title: string;
      readonly from: number;
      readonly to: number;
      readonly sum: Subtotal;
    };

/** The lines of the roll, newest on top: each year, its months, their days. */
export function rowsOf(days: readonly RollDay[], monthName: (date: string) => string): Row[] {
  const rows: Row[] = [];
  let yearTo = days.length - 1;
  let monthTo = days.length - 1;
  const years: Row[][] = [];
  let months: Row[][] = [];
  for (let i = days.length - 1; i >= 0; i--) {
    const month = days[i]!.date.slice(0, 7);
    const before = days[i - 1]?.date ?? '';
    if (before.startsWith(month)) continue;
    const title = monthName(days[i]!.date);
    const list: Row[] = [{ kind: 'month', title, from: i, to: monthTo, sum: subtotal(days, i, monthTo) }];
    for (let d = monthTo; d >= i; d--) list.push({ kind: 'day', index: d });
    months.push(list);
    monthTo = i - 1;
    if (before.startsWith(month.slice(0, 4))) continue;
    years.push([
      { kind: 'year', title: month.slice(0, 4), from: i, to: yearTo, sum: subtotal(days, i, yearTo) },
      ...months.flat(),
    ]);
    months = [];
    yearTo = i - 1;
  }
  for (const year of years) rows.push(...year);
  return rows;
}

/** Sums of the days from one index to another, both included, with the energies of longer periods that lie wholly in them. */
export function subtotal(days: readonly RollDay[], from: number, to: number): Subtotal {
  const part = days.slice(from, to + 1);
  const endMs = part.at(-1)?.toMs ?? -Infinity;
  const longer = part.flatMap((day) => day.longer.filter(({ toMs }) => toMs <= endMs));
  const sum = (key: 'solar' | 'load' | 'import' | 'export' | 'discharge' | 'closing') =>
    [...part.map((day) => day[key]), ...longer.map(({ flow, kWh }) => (flow === key ? kWh : null))].reduce<
      number | null
    >((total, kWh) => (kWh === null ? total : (total ?? 0) + kWh), null);
  const closing = sum('closing');
  const inflow = part.reduce((total, day) => total + (day.closing === null ? 0 : day.inflow), 0);
  return {
    solar: sum('solar'),
    load: sum('load'),
    import: sum('import'),
    export: sum('export'),
    discharge: sum('discharge'),
    closingShare: closing !== null && inflow > 0 ? closing / inflow : null,
    gridFree: part.some(({ gridFree }) => gridFree !== null)
      ? part.filter(({ gridFree }) => gridFree === true).length
      : null,
  };
}
