import { readFileSync } from 'node:fs';
import { readFile, type ReadLog } from '../import/readLog.js';
import type { Mapping } from '../import/read/mapping.js';
import { analyse } from '../report/report.js';
import type { Report } from '../report/reportFormat.js';
import type { SourceLog } from '../model/log.js';
import type { JournalNote } from '../system/journal.js';
import type { System } from '../system/schema.js';
import { isoOf } from '../time/instant.js';

/** A file of core/test-data. */
export function testData(name: string): unknown {
  return JSON.parse(readFileSync(new URL(`../../test-data/${name}`, import.meta.url), 'utf8'));
}

/** The columns of numbers of a CSV file of core/test-data. */
export function testTable(name: string): Float64Array[] {
  const text = readFileSync(new URL(`../../test-data/${name}`, import.meta.url), 'utf8');
  const rows = text
    .trim()
    .split(/\r?\n/)
    .slice(1)
    .map((line) => line.split(',').map(Number));
  return rows[0]!.map((_, column) => Float64Array.from(rows, (row) => row[column]!));
}

/** Text as the bytes of a file, in chunks of a given size. */
export async function* bytesOf(text: string | Uint8Array, chunkSize = 1 << 16): AsyncGenerator<Uint8Array> {
  const bytes = typeof text === 'string' ? new TextEncoder().encode(text) : text;
  for (let at = 0; at < bytes.length; at += chunkSize)
    yield await Promise.resolve(bytes.slice(at, at + chunkSize));
}

/** A home of which nothing but its zone is known. */
export const PLAIN_HOME: System = { schema: 'long-tally/system@1', name: 'Test home', timeZone: 'UTC' };

/** Reads text as if it came from a file. */
export async function read(
  text: string | Uint8Array,
  name = 'log.csv',
  chunkSize?: number,
  system = PLAIN_HOME,
  mappings: readonly Mapping[] = [],
): Promise<ReadLog> {
  const [first] = await readFile(name, () => bytesOf(text, chunkSize), system, mappings);
  return first!;
}

/** What one interval of a log holds, by header word; left out is missing. */
export type Row = Partial<
  Record<'solar_w' | 'load_w' | 'grid_w' | 'battery_w' | 'battery_dc_w' | 'soc_pct' | 'grid_v', number>
>;

/** Text of a canonical log file. */
export function csvOf(rows: readonly Row[], start: string, stepSeconds: number): string {
  const columns = [...new Set(rows.flatMap((row) => Object.keys(row)))] as (keyof Row)[];
  const lines = rows.map((row, i) =>
    [isoOf(Date.parse(start) + i * stepSeconds * 1000), ...columns.map((column) => row[column] ?? '')].join(
      ',',
    ),
  );
  return `time,${columns.join(',')}\n${lines.join('\n')}\n`;
}

/** A log of such rows. */
export async function logOf(
  rows: readonly Row[],
  start: string,
  stepSeconds: number,
  name?: string,
): Promise<SourceLog> {
  return (await read(csvOf(rows, start, stepSeconds), name)).log;
}

/** A system with one configuration. */
export function systemOf(
  battery: NonNullable<NonNullable<System['configurations']>[0]['battery']>,
  timeZone = 'UTC',
): System {
  return {
    schema: 'long-tally/system@1',
    name: 'Test home',
    timeZone,
    configurations: [{ from: '2020-01-01T00:00:00Z', battery, inverter: { batteryOnlyKW: 6 } }],
  };
}

/** A battery of 10 kWh nameplate, all of it usable, 5 kW each way. */
export const TEN_KWH = {
  modules: 1,
  moduleKWh: 10,
  usableShare: 1,
  maxChargeKW: 5,
  maxDischargeKW: 5,
  reserve: 0.1,
} as const;

/** The report of rows in a system. */
export async function reportOf(
  system: System,
  rows: readonly Row[],
  start: string,
  stepSeconds: number,
  journal: readonly JournalNote[] = [],
): Promise<Report> {
  return analyse(system, [await logOf(rows, start, stepSeconds)], undefined, [], journal);
}

/** A figure's value, which must be there. */
export function valueOf(report: Report, key: string): number {
  const value = report.figures[key]?.value;
  if (value === null || value === undefined)
    throw new Error(`${key}: ${report.figures[key]?.reason ?? 'no such figure'}`);
  return value;
}
