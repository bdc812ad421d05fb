import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { BASIS } from '../model/basis.js';
import { reportOf, systemOf, TEN_KWH, type Row } from '../testing/logs.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { drawnOutages, ISLAND_HOME, simulatedIslands } from '../testing/islands.js';
import { figureEntry, figuresTable, REGISTRY } from './registry.js';
import { analyse } from './report.js';
import { reportJsonSchema, reportSchema } from './reportSchema.js';

const entries = REGISTRY.flatMap(({ figures }) => figures);
const document = (path: string) => readFileSync(new URL(`../../../docs/${path}`, import.meta.url), 'utf8');

const hours = (rows: number, row: (hour: number) => Row) => Array.from({ length: rows }, (_, i) => row(i));
const home = systemOf(TEN_KWH);
const START = '2024-03-01T00:00:00Z';

/** Homes that know much, little, nothing, or what no home has. */
const reports = [
  [
    'of a simulated store',
    () =>
      analyse(STORE_HOME, [
        simulatedStore({
          seed: 3,
          days: 120,
          stepSeconds: 900,
          idleW: 30,
          efficiency: 0.9,
          socStep: 0.01,
          season: 0.02,
        }),
      ]),
  ],
  [
    'with outages',
    () =>
      analyse(ISLAND_HOME, [
        simulatedIslands({
          seed: 4,
          days: 120,
          stepSeconds: 900,
          outages: drawnOutages(4, 120),
          hasVoltage: true,
        }).log,
      ]),
  ],
  [
    'of a load alone',
    () =>
      reportOf(
        home,
        hours(48, () => ({ load_w: 400 })),
        START,
        3600,
      ),
  ],
  [
    'of nothing but zeros',
    () =>
      reportOf(
        home,
        hours(48, () => ({ solar_w: 0, load_w: 0, grid_w: 0, battery_w: 0, soc_pct: 0 })),
        START,
        3600,
      ),
  ],
  [
    'of denormal loads',
    () =>
      reportOf(
        home,
        hours(48, () => ({ solar_w: 0, load_w: 5e-324, grid_w: 5e-324, battery_w: 0, soc_pct: 50 })),
        START,
        3600,
      ),
  ],
  [
    'of loads beyond all measure',
    () =>
      reportOf(
        home,
        hours(48, (i) => ({
          solar_w: 1e300,
          load_w: 1e308,
          grid_w: -1e308,
          battery_w: i % 2 ? 1e308 : -1e308,
          soc_pct: 50,
        })),
        START,
        3600,
      ),
  ],
  [
    'of a battery that gains by itself',
    () =>
      reportOf(
        home,
        hours(24 * 30, (i) => ({
          solar_w: 0,
          load_w: 500,
          grid_w: 900,
          battery_w: -400,
          soc_pct: 100 - (i % 24) * 4,
        })),
        START,
        3600,
      ),
  ],
] as const;

describe('the registry', () => {
  test.each(reports)(
    'holds every figure of a report %s, and that report has every figure of it',
    async (_name, make) => {
      const report = await make();
      expect(Object.keys(report.figures).sort()).toEqual(
        entries
          .map(({ key }) => key)
          .filter((key) => !key.endsWith('.NAME'))
          .sort(),
      );
      for (const [key, figure] of Object.entries(report.figures)) {
        const { unit, method } = figureEntry(key);
        expect([key, figure.unit, figure.formula, figure.source]).toEqual([
          key,
          unit,
          method.formula,
          method.source,
        ]);
        // A figure that cannot be formed says why; one that can holds its value between its bounds.
        if (figure.value === null) expect(figure.reason).toMatch(/\w{3}.*\.$/s);
        else {
          expect([key, Number.isFinite(figure.low) && Number.isFinite(figure.high)]).toEqual([key, true]);
          expect([key, figure.low! <= figure.value && figure.value <= figure.high!]).toEqual([key, true]);
        }
        for (const name of Object.keys(figure.basis))
          expect([key, name, name in BASIS]).toEqual([key, name, true]);
      }
      expect(reportSchema.safeParse(JSON.parse(JSON.stringify(report))).error?.issues ?? []).toEqual([]);
    },
  );

  test('names every figure once, in a label and a sentence of its own', () => {
    expect(new Set(entries.map(({ key }) => key)).size).toBe(entries.length);
    expect(new Set(entries.map(({ label }) => label)).size).toBe(entries.length);
    for (const { key, label, meaning } of entries) {
      expect([key, /^[A-Z0-9].{2,}$/.test(label)]).toEqual([key, true]);
      expect([key, /^[A-Z].{15,}\.$/.test(meaning)]).toEqual([key, true]);
    }
    expect(() => figureEntry('account.nothing')).toThrow(
      'The figure account.nothing is not in the registry.',
    );
  });

  test('is what the documents and the committed schema say', () => {
    expect(document('methods.md')).toContain(figuresTable());
    expect(reportJsonSchema()).toEqual(JSON.parse(document('schema/report.schema.json')));
  });
});
