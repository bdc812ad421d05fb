import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Correction } from '../model/correction.js';
import { analyse } from '../report/report.js';
import { csvOf, logOf, read, systemOf, TEN_KWH, valueOf, type Row } from '../testing/logs.js';

const START = '2024-05-01T00:00:00Z';
const HOME = systemOf(TEN_KWH);
/** Ten days of 5 minutes with a steady import of 500 W, invented. */
const steady = (count = 2880): Row[] =>
  Array.from({ length: count }, () => ({ solar_w: 0, load_w: 500, grid_w: 500, battery_w: 0, soc_pct: 50 }));
const with_ = (changes: Readonly<Record<number, Row>>) =>
  steady().map((row, i) => ({ ...row, ...changes[i] }));
const reportOf = async (rows: readonly Row[], corrections: readonly Correction[] = [], home = HOME) =>
  analyse(home, [await logOf(rows, START, 300)], undefined, corrections);

describe('a value that cannot be', () => {
  test('is missing in every figure, and told with its first line', async () => {
    // A register read half: 429 kW in one interval would be 35.75 kWh.
    const report = await reportOf(with_({ 1000: { grid_w: 429_000 }, 1001: { grid_w: 429_000 } }));
    expect(valueOf(report, 'account.import')).toBeCloseTo(120, 6);
    const finding = report.findings.find(({ code }) => code === 'impossible-values')!;
    expect(finding.message).toMatch(
      /^2 values of the grid power .* 429\.0 kW at 2024-05-04 11:20, line 1002, above/,
    );
    expect(finding.proposal).toEqual({ kind: 'keep', source: 'log.csv', quantity: 'grid' });
  });

  test('counts again once its owner says so', async () => {
    const rows = with_({ 1000: { grid_w: 429_000 } });
    const kept = await reportOf(rows, [{ kind: 'keep', source: 'log.csv', quantity: 'grid' }]);
    expect(valueOf(kept, 'account.import')).toBeCloseTo(120 + (429_000 - 500) / 12_000, 4);
    expect(kept.findings.some(({ code }) => code === 'impossible-values')).toBe(false);
  });

  test.each([
    ['twice what the battery may give', { battery_w: 10_001 }, { battery_w: 9_999 }],
    ['twice what the battery may take', { battery_w: -10_001 }, { battery_w: -9_999 }],
    ['what no home without a described limit draws', { load_w: 12_001 }, { load_w: 11_999 }],
  ])('lies beyond %s', async (_what, beyond: Row, within: Row) => {
    const codes = async (row: Row) => (await reportOf(with_({ 7: row }))).findings.map(({ code }) => code);
    expect(await codes(beyond)).toContain('impossible-values');
    expect(await codes(within)).not.toContain('impossible-values');
  });

  test('is not one where a hundredth of the values are: then the description or a unit is wrong', async () => {
    const report = await reportOf(
      steady().map((row, i) => ({ ...row, battery_w: i % 50 === 0 ? 30_000 : 100 })),
    );
    expect(report.findings.some(({ code }) => code === 'impossible-values')).toBe(false);
  });

  test('beyond twice the panels is no sun', async () => {
    const home = { ...HOME, configurations: [{ ...HOME.configurations![0]!, arrays: [{ kWp: 4 }] }] };
    const report = await reportOf(with_({ 150: { solar_w: 8100 } }), [], home);
    expect(report.findings.find(({ code }) => code === 'impossible-values')?.message).toContain(
      'of the solar power',
    );
  });

  test('among the totals of days is left out too', async () => {
    const days = Array.from({ length: 400 }, (_, i) => {
      const date = new Date(Date.parse(START) + i * 86_400_000).toISOString().slice(0, 10);
      return `${date},${i === 20 ? 9_000 : 10 + (i % 3)}`;
    });
    const { log } = await read(`Date,Import (kWh)\n${days.join('\n')}\n`);
    const report = analyse(HOME, [log]);
    expect(valueOf(report, 'account.import')).toBeLessThan(4500);
    expect(report.findings.find(({ code }) => code === 'impossible-values')?.message).toMatch(
      /^9000\.0 kWh of import from 2024-05-21/,
    );
  });

  test('changes nothing where every value is possible', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: -5000, max: 9000 }), { minLength: 100, maxLength: 300 }),
        async (watts) => {
          const { log } = await read(
            csvOf(
              watts.map((grid_w) => ({ grid_w })),
              START,
              300,
            ),
          );
          const report = analyse(HOME, [log]);
          const bought = watts.reduce((sum, one) => sum + Math.max(0, one), 0) / 12_000;
          expect(valueOf(report, 'account.import')).toBeCloseTo(bought, 6);
        },
      ),
      { numRuns: 20 },
    );
  });
});
