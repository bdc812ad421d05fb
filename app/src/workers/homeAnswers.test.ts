import { beforeAll, describe, expect, jest, test } from '@jest/globals';
import {
  batteryUse,
  bestSettings,
  compareOffers,
  knownBill,
  lossesView,
  moneyView,
  openBook,
  outageStarts,
  outagesView,
  partsView,
  prepare,
  rangeDataOf,
  rangeOfDates,
  readFile,
  readStatedBill,
  reconcile,
  report,
  reserveAdvice,
  scenarioRunner,
  statementOf,
  surplusOf,
  trialStretches,
  typicalRuntime,
  wearEvidence,
  wearView,
  WHOLE_HOME,
  type Prepared,
  type Range,
  type Reading,
  type ScenarioFile,
} from '@long-tally/core';
import { strFromU8, unzipSync } from 'fflate';
import { homeOf, newHome } from '../db/homes.js';
import { addReading } from '../db/readings.js';
import { loadSources, storeSources } from '../db/sources.js';
import { PUMP, sourceOf } from '../db/testing.js';
import { MILL, millCsv } from '../testing/mill.js';
import type { At, HomeWorker } from '../protocol.js';
import { longTest } from '../../../core/src/testing/long.js';

const comlink = await import('comlink');
let offered: unknown;
jest.unstable_mockModule('comlink', () => ({
  ...comlink,
  expose: (worker: unknown) => void (offered = worker),
}));
await import('./homeWorker.js');
const home = offered as HomeWorker;

const SYSTEM = {
  ...MILL,
  currency: 'EUR',
  tariffs: [{ from: '2023-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.05 }] }],
};
const DATES = ['2024-01-02', '2024-02-10'] as const;
const OUTSIDE = ['2030-01-01', '2030-01-31'] as const;
const NOTHING = { problem: 'The log has nothing of this range.' };
const MORE: ScenarioFile = {
  schema: 'long-tally/scenario@1',
  name: 'one more',
  change: { battery: { modules: 3 } },
};
const READING: Reading = { atMs: Date.UTC(2024, 0, 3), counters: { import: 10 }, note: '' };
let at: At;
let prepared: Prepared;
let range: Range;

beforeAll(async () => {
  async function* chunks() {
    yield await Promise.resolve(new TextEncoder().encode(millCsv(60)));
  }
  const [read] = await readFile('log.csv', chunks, SYSTEM);
  const target = newHome(SYSTEM, 'mill');
  await storeSources(target, [
    await sourceOf(new File([millCsv(60)], 'log.csv'), { log: read!.log, rows: read!.rows }),
  ]);
  await addReading('mill', READING);
  const { revision } = await homeOf('mill');
  at = { homeId: 'mill', revision };
  prepared = prepare(SYSTEM, [...(await loadSources('mill', undefined)).values()]);
  range = rangeOfDates(prepared.log, ...DATES)!;
});

describe('what the worker that holds the home answers of a range', () => {
  test.each([
    ['losses', lossesView],
    ['wear', wearView],
    ['outages', outagesView],
    ['money', moneyView],
    ['statement', statementOf],
  ] as const)('of %s is what the core gives, and nothing where the log has none', async (view, given) => {
    expect(await home[view](at, ...DATES)).toEqual(given(prepared, range));
    expect(await home[view](at, ...OUTSIDE)).toBeNull();
  });

  test('of its parts goes by the readings that were typed as well', async () => {
    expect(await home.parts(at, ...DATES)).toEqual(partsView(prepared, range, [READING]));
    expect(await home.parts(at, ...OUTSIDE)).toEqual([]);
  });

  test('of a stated self-sufficiency, a stated bill and offers', async () => {
    expect(await home.reconciliation(at, ...DATES, 0.9)).toEqual(reconcile(prepared, range, 0.9));
    expect(await home.reconciliation(at, ...OUTSIDE, 0.9)).toEqual([]);
    const stated = { amount: 40, kWh: null, rate: null, days: 40 };
    expect(await home.statedBill(at, ...DATES, stated)).toEqual(
      readStatedBill(stated, knownBill(prepared, range)),
    );
    const offers = [{ name: 'ten kWh', price: 6000, usableKWh: 10 }];
    const use = batteryUse(rangeDataOf(prepared, range));
    expect(await home.offers(at, ...DATES, offers)).toEqual(
      use && { use, outcomes: compareOffers(offers, use) },
    );
    expect(await home.offers(at, ...OUTSIDE, offers)).toBeNull();
  });

  test('of outages that might begin: how long a charge lasts, and what to keep', async () => {
    const starts = outageStarts(prepared, range)!;
    const usual = await home.usual(at, ...DATES, WHOLE_HOME, 0, 18);
    expect(usual).toEqual(typicalRuntime(starts, WHOLE_HOME, 0, 18));
    expect(usual).not.toBeNull();
    expect(await home.usual(at, ...OUTSIDE, WHOLE_HOME, 0, 18)).toBeNull();
    expect(await home.reserve(at, ...DATES, 4, 0.9)).toEqual(reserveAdvice(starts, WHOLE_HOME, 4, 0.9));
    expect(await home.reserve(at, ...OUTSIDE, 4, 0.9)).toBeNull();
  });

  test('of changes runs one model for all that is asked, and says in words what cannot be tried', async () => {
    const runner = scenarioRunner(prepared, range, report(prepared, range).figures);
    expect(await home.whatifBase(at, ...DATES, [])).toEqual({
      base: runner.base,
      hasGrid: true,
      inverters: runner.inverters([]),
    });
    expect(await home.whatifScenario(at, ...DATES, MORE)).toEqual({ scenario: runner.scenario(MORE) });
    const point = { at: [3], change: MORE.change } as unknown as Parameters<HomeWorker['whatifPoint']>[3];
    expect(await home.whatifPoint(at, ...DATES, point)).toEqual({
      point: runner.point([3], MORE.change, '3', 'energies'),
    });
    const strange = { ...MORE, name: 'no such array', change: { arraysScale: { 'no such roof': 2 } } };
    const refused = await home.whatifScenario(at, ...DATES, strange);
    expect('problem' in refused && refused.problem).toMatch(/no such roof/);
    // What was refused spoils nothing for the next.
    expect(await home.whatifScenario(at, ...DATES, MORE)).toEqual({ scenario: runner.scenario(MORE) });
    for (const answer of [
      await home.whatifBase(at, ...OUTSIDE, []),
      await home.whatifScenario(at, ...OUTSIDE, MORE),
      await home.whatifPoint(at, ...OUTSIDE, point),
    ])
      expect(answer).toEqual(NOTHING);
  });

  longTest('of surplus, settings and a storm, or in words why not', async () => {
    expect(await home.surplus(at, ...DATES)).toEqual({ surplus: surplusOf(prepared, range) });
    const settings = await home.settings(at, ...DATES, 6, 0.9);
    expect(settings).toEqual(
      'problem' in settings ? settings : { settings: bestSettings(prepared, range, 6, 0.9) },
    );
    const storm = await home.storm(at, ...DATES, 'tomorrow');
    expect('problem' in storm && storm.problem.length > 20).toBe(true);
    expect(await home.storm(at, ...DATES, '2024-02-11T18:00')).toHaveProperty('plan');
    expect(await home.surplus(at, ...OUTSIDE)).toEqual(NOTHING);
    expect(await home.settings(at, ...OUTSIDE, 6, 0.9)).toEqual(NOTHING);
    expect(await home.storm(at, ...OUTSIDE, '2024-02-11T18:00')).toEqual(NOTHING);
  });

  test('of its wear, as tables in a file that opens', async () => {
    const file = (await home.wearEvidence(at, ...DATES))!;
    const tables = unzipSync(new Uint8Array(await file.arrayBuffer()));
    const expected = wearEvidence(prepared, range);
    expect(Object.keys(tables).sort()).toEqual(Object.keys(expected).sort());
    for (const [name, text] of Object.entries(expected)) expect(strFromU8(tables[name]!)).toBe(text);
    expect(await home.wearEvidence(at, ...OUTSIDE)).toBeNull();
  });
});

describe('what it answers of all of the home', () => {
  test('its headlines, the trials its log holds, and what one more would add', async () => {
    const whole = { fromMs: prepared.log.startMs, toMs: prepared.log.startMs + 60 * 86_400_000 };
    expect(await home.headlines('mill')).toEqual({ ...whole, figures: report(prepared, whole).figures });
    expect(await home.trialStretches(at)).toEqual(trialStretches(prepared, whole));
    const worth = await home.trialWorth(at);
    expect(worth.length).toBeGreaterThan(3);
    expect(new Set(worth.map(({ kind }) => kind)).size).toBe(worth.length);
  });

  test('no outage and no stop where none begins', async () => {
    expect(await home.outage(at, range.fromMs)).toBeNull();
    expect(await home.stop(at, range.fromMs)).toBeNull();
  });

  test('appliances that must not run together, with one to three inverters', async () => {
    const pumps = [1, 2, 3].map((k) => ({ ...PUMP, name: `pump ${k}` }));
    const units = await home.combinations(SYSTEM, pumps);
    expect(units.map(({ units: count }) => count)).toEqual([1, 2, 3]);
  });

  test('what was checked when it was read, and how much of the log there is', async () => {
    const { coverage, findings, damaged } = await home.checks(at);
    expect(findings).toEqual(prepared.findings);
    expect(damaged).toEqual([]);
    expect(coverage).not.toBeNull();
  });

  longTest('a book that opens with the log, the reading and the description in it', async () => {
    const { blob, name } = await home.book('mill', null);
    expect(name).toBe('Mill-Lane.book.zip');
    const bytes = await blob.arrayBuffer();
    const book = await openBook(name, new Uint8Array(bytes));
    expect(book.system).toEqual(SYSTEM);
    expect(book.sources.map(({ name: source }) => source)).toEqual(['log.csv']);
    expect(book.readings).toHaveLength(1);
  });

  test('no day that the log has not, and none that is no date', async () => {
    expect((await home.day(at, '2024-01-05'))!.load).toHaveLength(96);
    for (const date of ['2023-12-31', '2024-06-01', '2024-02-30', 'yesterday'])
      expect(await home.day(at, date)).toBeNull();
  });
});
