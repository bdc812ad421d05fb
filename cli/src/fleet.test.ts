import { eachRow } from './fleet/pool.js';
import type { FleetRow } from './fleet/row.js';
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { parquetReadObjects } from 'hyparquet';
import { homesIn } from './fleet/homes.js';
import { outliersOf } from './fleet/outliers.js';
import { folder, root, tally } from './testing.js';
import { longTest } from '../../core/src/testing/long.js';

const HOMES = join(folder, 'fleet');
const system = (name: string) =>
  JSON.stringify({
    schema: 'long-tally/system@1',
    name,
    timeZone: 'UTC',
    configurations: [
      { from: '2023-01-01T00:00:00Z', battery: { modules: 1, moduleKWh: 10, usableShare: 1 } },
    ],
  });
/** Two days by the hour, with a load of so many watts; the grid gives half of it. */
const log = (watts: number) =>
  `time,load_w,grid_w,battery_w,soc_pct\n${Array.from(
    { length: 48 },
    (_, i) => `${new Date(Date.UTC(2024, 0, 1, i)).toISOString()},${watts},${watts / 2},${watts / 2},50`,
  ).join('\n')}\n`;

function write(home: string, files: Readonly<Record<string, string>>): void {
  mkdirSync(join(HOMES, home), { recursive: true });
  for (const [name, text] of Object.entries(files)) writeFileSync(join(HOMES, home, name), text);
}
write('a', { 'system.json': system('A'), 'january.csv': log(400) });
write('b', {
  'system.json': system('B'),
  'january.csv': log(800),
  'journal.json': '{"schema":"long-tally/journal@1","notes":[]}',
});
write('c', { 'system.json': '{"schema":"long-tally/system@1"}', 'january.csv': log(100) });
write('empty', { 'system.json': system('E') });
write('notes', { 'readme.txt': 'no home' });

type Row = Readonly<Record<string, string | number | null>>;

describe('a fleet', () => {
  test('is a row a home with every figure; homes that cannot be used are rows with their problem', async () => {
    const { code, out, err } = await tally('fleet', HOMES, '--jobs', '1');
    expect(code).toBe(0);
    const [head, ...lines] = out.trim().split('\n');
    const columns = head!.split(',');
    expect(columns.slice(0, 2)).toEqual(['home', 'problem']);
    for (const key of [
      'account.load',
      'outage.survive.12h',
      'money.bill',
      'solar.clipped',
      'weather.heatingDegreeDays',
    ])
      expect(columns).toContain(key);
    expect(lines.map((line) => line.split(',')[0])).toEqual(['a', 'b', 'c', 'empty']);
    const load = columns.indexOf('account.load');
    expect(lines.slice(0, 2).map((line) => Number(line.split(',')[load]))).toEqual([19.2, 38.4]);
    expect(lines[2]).toMatch(/timeZone/);
    expect(err).toMatch(/^c: /m);
    expect(err).toMatch(/^empty: Name at least one log/m);
  });

  test('is written as json and as Parquet with the same values, absent ones as null', async () => {
    const [json, parquet] = ['fleet.json', 'fleet.parquet'].map((name) => join(folder, name)) as [
      string,
      string,
    ];
    for (const out of [json, parquet])
      expect((await tally('fleet', HOMES, '--jobs', '1', '--out', out)).code).toBe(0);
    const rows = JSON.parse(readFileSync(json, 'utf8')) as Row[];
    expect(rows.map(({ home, problem }) => [home, problem === null])).toEqual([
      ['a', true],
      ['b', true],
      ['c', false],
      ['empty', false],
    ]);
    expect(rows[0]!['money.bill']).toBeNull();
    const bytes = readFileSync(parquet);
    const read = (await parquetReadObjects({
      file: bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength),
    })) as Row[];
    expect(read).toHaveLength(4);
    expect(read[1]!['account.load']).toBeCloseTo(38.4, 9);
    expect(read[0]!['money.bill'] ?? null).toBeNull();
    expect(read[2]!['problem']).toBe(rows[2]!['problem']);
  });

  test('is the same by two workers, through the command line itself', async () => {
    const alone = await tally('fleet', HOMES, '--jobs', '1');
    const both = execFileSync(
      process.execPath,
      [join(root, 'cli/tally.mjs'), 'fleet', HOMES, '--jobs', '2'],
      {
        encoding: 'utf8',
        env: { ...process.env, NODE_OPTIONS: '' },
        stdio: ['ignore', 'pipe', 'ignore'],
      },
    );
    expect(both).toBe(alone.out);
  });

  longTest(
    'whose workers are killed under way has a row for every home, and says which were lost',
    async () => {
      const rows: FleetRow[] = [];
      const homes = (await homesIn(HOMES)).flatMap((home) =>
        [1, 2, 3].map((n) => ({ ...home, name: `${home.name}${n}` })),
      );
      await eachRow(homes, 2, async (row) => {
        rows.push(row);
        if (rows.length > 1) return;
        const children = readFileSync(`/proc/${process.pid}/task/${process.pid}/children`, 'utf8');
        for (const child of children.split(' ').filter(Boolean)) process.kill(Number(child), 'SIGKILL');
        await new Promise((done) => setTimeout(done, 100));
      });
      expect(rows.map(({ home }) => home).sort()).toEqual(homes.map(({ name }) => name).sort());
      expect(
        rows.filter(({ problem }) => /could not be gone through/.test(problem ?? '')).length,
      ).toBeGreaterThan(0);
      expect(rows.filter(({ problem }) => problem === null).length).toBeGreaterThan(2);
    },
  );

  test('goes on where it was stopped, a line that was cut off counting for nothing', async () => {
    const out = join(folder, 'resumed.json');
    writeFileSync(
      `${out}.rows`,
      `${JSON.stringify({ home: 'a', problem: null, figures: { 'account.load': 1 } })}\n{"home":"b","pro`,
    );
    const { code, err } = await tally('fleet', HOMES, '--jobs', '1', '--out', out, '--resume');
    expect([code, /1 of 4 homes are done already/.test(err)]).toEqual([0, true]);
    const rows = JSON.parse(readFileSync(out, 'utf8')) as Row[];
    expect(rows.map((row) => row['account.load'] ?? null)).toEqual([1, 38.4, null, null]);
    expect(() => readFileSync(`${out}.rows`)).toThrow();
  });

  test('is ranked by a figure, and what stands out of the fleet’s own spread is told', async () => {
    const { out } = await tally('fleet', HOMES, '--jobs', '1', '--rank', 'account.load');
    expect(
      out
        .trim()
        .split('\n')
        .slice(1)
        .map((line) => line.split(',')[0]),
    ).toEqual(['b', 'a', 'c', 'empty']);
    const row = (home: string, value: number) => ({ home, problem: null, figures: { idle: value } });
    const fleet = [20, 22, 19, 21, 23, 20].map((watts, k) => row(`h${k}`, watts));
    expect(outliersOf([...fleet, row('odd', 60)], 'idle').map(({ home }) => home)).toEqual(['odd']);
    expect(outliersOf(fleet.slice(0, 4), 'idle')).toEqual([]);
  });

  test('ends with 2 where no home can be used or there is none, and with 1 for a wrong call', async () => {
    const none = join(folder, 'unusable');
    rmSync(none, { recursive: true, force: true });
    mkdirSync(join(none, 'x'), { recursive: true });
    writeFileSync(join(none, 'x', 'system.json'), '{');
    expect((await tally('fleet', none, '--jobs', '1')).code).toBe(2);
    expect((await tally('fleet', join(folder, 'nowhere'))).code).toBe(2);
    for (const wrong of [['--jobs', '0'], ['--out', 'x.xls'], ['--resume'], ['--rank', 'nothing']])
      expect((await tally('fleet', HOMES, ...wrong)).code).toBe(1);
    expect((await homesIn(HOMES)).map(({ name }) => name)).not.toContain('notes');
  });
});
