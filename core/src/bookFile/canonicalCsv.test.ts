import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mergeSources } from '../import/merge/mergeSources.js';
import { analyse } from '../report/report.js';
import { CORPUS_HOME, series } from '../testing/shape.js';
import { logOf, read } from '../testing/logs.js';
import { canonicalCsv, totalsCsv } from './canonicalCsv.js';
import { quoted } from '../model/csvTable.js';

describe('an exported log', () => {
  test('read again gives the same figures to the last digit, gaps and all', async () => {
    const rows = series(Date.UTC(2024, 4, 3), 6, 15).map(({ solar, load, grid, battery, soc }, i) =>
      i > 100 && i < 130
        ? { solar_w: solar }
        : { solar_w: solar, load_w: load + 0.1, grid_w: grid, battery_w: battery, soc_pct: soc },
    );
    const source = await logOf(rows, '2024-05-03T00:00:00Z', 900);
    const { log } = mergeSources([source], 'Europe/Lisbon', []);
    const again = await read([...canonicalCsv(log)].join(''), 'log.csv');
    expect(analyse(CORPUS_HOME, [again.log]).figures).toEqual(analyse(CORPUS_HOME, [source]).figures);
  });

  test('of a home of totals carries its totals, which a meter leads where it did', async () => {
    const days = 'Date,Solar kWh,Import kWh\n2024-05-01,12.5,3.25\n2024-05-02,11,4\n2024-05-03,9.75,\n';
    const home = { ...CORPUS_HOME, timeZone: 'Europe/Lisbon' };
    const { log } = await read(days, 'days.csv', undefined, home);
    const marked = {
      ...log,
      lumps: log.lumps.map((one, i) => (i === 0 ? { ...one, leads: true as const } : one)),
    };
    const again = await read(totalsCsv({ sources: [marked] })!, 'totals.csv', undefined, home);
    const sorted = (lumps: typeof log.lumps) =>
      lumps
        .map((one) => ({ ...one, source: '' }))
        .sort((a, b) => a.fromMs - b.fromMs || (a.flow < b.flow ? -1 : 1));
    expect(sorted(again.log.lumps)).toEqual(sorted(marked.lumps));
    const { log: plain } = await read(totalsCsv({ sources: [log] })!, 'days.csv', undefined, home);
    expect(analyse(home, [plain]).figures).toEqual(analyse(home, [log]).figures);
    expect(analyse(home, [plain]).figures['account.solar']!.value).toBe(33.25);
    expect(totalsCsv({ sources: [{ ...log, lumps: [] }] })).toBeNull();
  });

  test('a named load that looks like a formula is no formula in a spreadsheet', async () => {
    const { log: source } = await read(
      'time,=cmd_load_w,load_w\n2024-01-01T00:00:00Z,5,9\n2024-01-01T00:05:00Z,6,9\n',
    );
    const { log } = mergeSources([source], 'UTC', []);
    const [header] = [...canonicalCsv(log)];
    expect(header).toBe('time,"\'=cmd_load_w",load_w\n');
  });

  test('no cell begins as a formula does, and what is quoted comes back', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const cell = quoted(text);
        const bare = cell.startsWith('"') ? cell.slice(1, -1).replaceAll('""', '"') : cell;
        expect(/^[=+\-@\t\r]/.test(bare)).toBe(false);
        expect(bare.replace(/^'(?=[=+\-@\t\r])/, '')).toBe(text.replace(/^'(?=[=+\-@\t\r])/, ''));
      }),
    );
  });
});
