import { csvOf } from '../../model/csvTable.js';
import { InputError, type Problem } from '../../model/problem.js';
import { readNumber } from '../read/number.js';
import { splitRow } from '../read/splitRow.js';
import { FLOWS } from '../../model/quantity.js';
import { isoOf, parseInstant } from '../../time/instant.js';
import { counterText, readingSchema, type Reading } from './readings.js';

declare const TextEncoder: new () => { encode(text: string): Uint8Array };

/** What is noted beside the counters of the flows. */
const BESIDE = {
  soc_pct: 'state of charge as displayed, %',
  battery_c: 'temperature of the battery as displayed, °C',
  part: 'named load whose use another counter shows',
  unit: 'unit of that counter',
  shown: 'what that counter shows',
} as const;
const COLUMNS = ['time', ...FLOWS.map((flow) => `${flow}_kwh`), ...keysOf(BESIDE), 'note'] as const;
const TEXTS: readonly string[] = ['part', 'unit', 'note'];
const MEND = `Write a table with the columns ${COLUMNS.join(', ')}; the time with its offset, counters in kWh.`;

/** Counter readings as the text of their file, oldest first; {@link parseReadings} reads it back. */
export function readingsText(readings: readonly Reading[]): string {
  const sorted = [...readings].sort((a, b) => a.atMs - b.atMs);
  return csvOf({ fields: READING_FIELDS, rows: sorted.map(cellsOf) });
}

/** The columns of the file of readings. */
export const READING_FIELDS = COLUMNS.map((name) => ({
  name,
  type:
    name === 'time'
      ? ('datetime' as const)
      : TEXTS.includes(name)
        ? ('string' as const)
        : ('number' as const),
  description:
    name === 'time'
      ? 'when the counters were read'
      : name === 'note'
        ? 'what was noted beside them'
        : name in BESIDE
          ? BESIDE[name as keyof typeof BESIDE]
          : `counter of ${name.replace('_kwh', '')}, kWh as displayed`,
}));

function cellsOf(reading: Reading) {
  const { atMs, socPct = null, batteryC = null, use, note } = reading;
  return [
    isoOf(atMs),
    ...FLOWS.map((flow) => counterText(reading, flow)),
    socPct,
    batteryC,
    use?.part ?? null,
    use?.unit ?? null,
    use ? use.shown.toFixed(use.decimals) : null,
    note,
  ];
}

function keysOf<T extends object>(record: T): (keyof T)[] {
  return Object.keys(record) as (keyof T)[];
}

/**
 * Counter readings from the text of their file.
 * @param where name of the file, for the messages
 * @throws InputError with one problem for each row that cannot be used
 */
export function parseReadings(text: string, where: string): Reading[] {
  const bytes = new TextEncoder().encode(text.replace(/^\uFEFF/, ''));
  const readings: Reading[] = [];
  const problems: Problem[] = [];
  let names: readonly string[] | null = null;
  let line = 1;
  for (let at = 0; at < bytes.length;) {
    const row = splitRow(bytes, at, bytes.length);
    if (!row) {
      problems.push({ where, line, found: 'A quote is never closed.', mend: MEND });
      break;
    }
    const cells = row.cells.map((cell) => cell.trim());
    if (cells.some((cell) => cell !== '')) {
      if (names === null) names = cells.map((cell) => cell.toLowerCase());
      else {
        const reading = readingOf(names, cells);
        if (typeof reading === 'string') problems.push({ where, line, found: reading, mend: MEND });
        else readings.push(reading);
      }
    }
    at = row.next;
    line += row.lines;
  }
  if (names && !names.includes('time'))
    throw new InputError([{ where, line: 1, found: 'There is no column "time".', mend: MEND }]);
  if (problems.length > 0) throw new InputError(problems);
  return readings;
}

/** A reading from its cells, or what is wrong with them. */
function readingOf(names: readonly string[], cells: readonly string[]): Reading | string {
  const cell = (name: string) => cells[names.indexOf(name)] ?? '';
  const atMs = parseInstant(cell('time'));
  if (Number.isNaN(atMs)) return `"${cell('time')}" is no time with its offset.`;
  const counters: Record<string, number> = {};
  const decimals: Record<string, number> = {};
  for (const flow of FLOWS) {
    const text = cell(`${flow}_kwh`);
    if (text === '') continue;
    const number = readNumber(text, '.');
    if (!number) return `"${text}" is not a number of kWh.`;
    counters[flow] = number.value;
    decimals[flow] = Math.min(6, number.decimals);
  }
  const states: { socPct?: number; batteryC?: number } = {};
  for (const [name, key] of [
    ['soc_pct', 'socPct'],
    ['battery_c', 'batteryC'],
  ] as const) {
    if (cell(name) === '') continue;
    const number = readNumber(cell(name), '.');
    if (!number) return `"${cell(name)}" is no number in ${name}.`;
    states[key] = number.value;
  }
  const used = cell('shown') === '' ? null : readNumber(cell('shown'), '.');
  if (cell('shown') !== '' && !used) return `"${cell('shown')}" is no number in shown.`;
  if (used && (cell('part') === '' || cell('unit') === ''))
    return 'A counter in shown needs the load it belongs to in part, and its unit in unit.';
  const use = used && {
    part: cell('part'),
    unit: cell('unit'),
    shown: used.value,
    decimals: Math.min(6, used.decimals),
  };
  // A note that would begin as a formula was written with an apostrophe before it.
  const note = cell('note').replace(/^'(?=[=+\-@])/, '');
  const checked = readingSchema.safeParse({
    atMs,
    counters,
    ...states,
    ...(use ? { use } : {}),
    ...(Object.values(decimals).some((digits) => digits !== 1) ? { decimals } : {}),
    note,
  });
  return checked.success
    ? checked.data
    : 'A counter is negative or beyond a thousand million kWh, the charge beyond 100 %, or the temperature that of no battery.';
}
