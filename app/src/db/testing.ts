import {
  checkSystem,
  readFile,
  trialSchema,
  type Reading,
  type ReadLog,
  type ScenarioFile,
  type System,
} from '@long-tally/core';
import { addCorrection, dismiss } from './corrections.js';
import { db, type Home } from './database.js';
import { homeOf, newHome } from './homes.js';
import { addNote } from './journal.js';
import { addReading } from './readings.js';
import { hashOf, storeSources, type NewSource } from './sources.js';

export const SYSTEM: System = checkSystem(
  {
    schema: 'long-tally/system@1',
    name: 'Mill Lane',
    timeZone: 'Pacific/Auckland',
    configurations: [{ from: '2022-03-01T00:00:00+13:00', battery: { modules: 2, moduleKWh: 5.12 } }],
  },
  'system',
);
const rows = (first: number) =>
  Array.from(
    { length: 400 },
    (_, i) => `${new Date(Date.UTC(2024, 0, 30) + i * 900_000).toISOString()},${first + i},${i % 100}`,
  );
export const CSV = `time,load_w,soc_pct\n${rows(0).join('\n')}\n`;
export const OTHER = `time,load_w,soc_pct\n${rows(1000).join('\n')}\n`;

export async function readText(text: string): Promise<ReadLog> {
  async function* chunks() {
    yield await Promise.resolve(new TextEncoder().encode(text));
  }
  const [first] = await readFile('log.csv', chunks, SYSTEM);
  return { log: first!.log, rows: first!.rows };
}

export async function sourceOf(file: File, read: ReadLog, name = file.name): Promise<NewSource> {
  return { file, hash: await hashOf(file), name, shape: 'shape', mapping: null, proposal: null, read };
}

export async function store(home: Home, file: File, read: ReadLog): Promise<void> {
  await storeSources(home, [await sourceOf(file, read)]);
}

/** Everything that is stored, to be compared. */
export async function everything(): Promise<string> {
  const tables = await Promise.all(db.tables.map(async (table) => [table.name, await table.toArray()]));
  return JSON.stringify(tables, (_key, value: unknown) =>
    value instanceof Blob
      ? `file of ${value.size}`
      : ArrayBuffer.isView(value)
        ? Array.from(value as Float64Array)
        : value,
  );
}

export const TRIAL = trialSchema.parse({
  schema: 'long-tally/trial@1',
  kind: 'drawdown',
  readings: [
    { at: '2024-01-20T20:00:00Z', soc: 0.9 },
    { at: '2024-01-20T21:00:00Z', soc: 9 / 90 },
  ],
});
export const PICTURE = new File(
  [Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 7)],
  'display.png',
);
export const PUMP = { name: 'pump', watts: 900, startFactor: 4, essential: true, canWait: false };
export const SCENARIO: ScenarioFile = {
  schema: 'long-tally/scenario@1',
  name: 'one more',
  change: { battery: { modules: 3 } },
};
export const FULL_READING: Reading = {
  atMs: 77,
  counters: { import: 12.34 },
  decimals: { import: 2 },
  socPct: 55,
  batteryC: 21,
  use: { part: 'car', unit: 'km', shown: 12400, decimals: 0 },
  note: 'all of it',
};
export const OFFER = { name: 'ten kWh', price: 6000, usableKWh: 10 };

/** A home with something in every table. */
export async function fullHome(): Promise<Home> {
  const home = newHome(SYSTEM, 'mill');
  await store(home, new File([CSV], 'log.csv'), await readText(CSV));
  await addNote('mill', { fromMs: 1, toMs: 2, kind: 'fault', text: 'x', leaveOut: false });
  await addReading('mill', { atMs: 5, counters: { import: 10 }, note: '' });
  await addReading('mill', { atMs: 86_400_005, counters: { import: 15 }, note: '' });
  await addCorrection('mill', { kind: 'scale', source: null, quantity: 'load', factor: 2 }, 'why');
  await dismiss('mill', 'gaps');
  return homeOf('mill');
}
