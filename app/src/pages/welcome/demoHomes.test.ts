import { readFileSync } from 'node:fs';
import { afterEach, describe, expect, test } from '@jest/globals';
import { fetchDemoHome, listDemoHomes, type DemoHome } from './demoHomes.js';

/** What the server hands out, by path. */
let files: Record<string, string>;
const before = globalThis.fetch;
const serve = (held: Record<string, string>) => {
  files = held;
  globalThis.fetch = ((path: string) =>
    Promise.resolve(
      files[path] === undefined ? new Response('', { status: 404 }) : new Response(files[path]),
    )) as typeof fetch;
};
afterEach(() => void (globalThis.fetch = before));

const SYSTEM = JSON.stringify({ schema: 'long-tally/system@1', name: 'Mill Lane', timeZone: 'UTC' });
const HOME: DemoHome = {
  ...{ id: 'mill', name: 'Mill Lane', about: 'A mill.', system: 'mill/system.json', look: [] },
  logs: ['mill/one.csv', 'mill/two.csv.gz'],
};

describe('the demo homes of a server', () => {
  test('are none where it was started without them', async () => {
    serve({});
    expect(await listDemoHomes()).toEqual([]);
  });

  test('are listed with what to look at; without it there is nothing to point to', async () => {
    serve({ '/demo-homes/index.json': JSON.stringify({ homes: [{ ...HOME, look: undefined }] }) });
    expect(await listDemoHomes()).toEqual([HOME]);
  });

  test('of this project are listed as they are written', async () => {
    serve({ '/demo-homes/index.json': readFileSync('demo/homes/index.json', 'utf8') });
    const homes = await listDemoHomes();
    expect(homes.length).toBeGreaterThan(3);
    for (const { name, about, logs, look } of homes) {
      expect([name, about.length > 20, logs.length > 0]).toEqual([name, true, true]);
      for (const { path } of look) expect(path).not.toMatch(/^\//);
    }
  });

  test('come as files that a user would bring, under their own names', async () => {
    serve({
      '/demo-homes/mill/system.json': SYSTEM,
      '/demo-homes/mill/one.csv': 'time,load_w',
      '/demo-homes/mill/two.csv.gz': 'packed',
    });
    const { system, files: logs, readings } = await fetchDemoHome(HOME);
    expect([system.name, readings]).toEqual(['Mill Lane', []]);
    expect(logs.map(({ name, size }) => [name, size])).toEqual([
      ['one.csv', 11],
      ['two.csv.gz', 6],
    ]);
  });

  test('with readings have them read', async () => {
    serve({
      '/demo-homes/mill/system.json': SYSTEM,
      '/demo-homes/mill/readings.csv': 'time,import_kwh\n2024-01-01T00:00:00Z,10\n2024-02-01T00:00:00Z,15\n',
    });
    const { readings } = await fetchDemoHome({ ...HOME, logs: [], readings: 'mill/readings.csv' });
    expect(readings.map(({ counters }) => counters)).toEqual([{ import: 10 }, { import: 15 }]);
  });

  test('that cannot be read are refused by their file', async () => {
    serve({ '/demo-homes/mill/system.json': '{}' });
    await expect(fetchDemoHome({ ...HOME, logs: [] })).rejects.toThrow(/mill\/system\.json/);
    serve({ '/demo-homes/index.json': '{"homes": [{}]}' });
    await expect(listDemoHomes()).rejects.toThrow();
  });
});
