import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import {
  outageStarts,
  prepare,
  rangeOfDates,
  report,
  scenarioOutcome,
  WHOLE_HOME,
  type ScenarioOutcome,
  type Starts,
} from '@long-tally/core';
import { addCorrection } from '../db/corrections.js';
import { db, type Home } from '../db/database.js';
import { homeOf, newHome } from '../db/homes.js';
import { loadSources, setRemoved, sourcesOf } from '../db/sources.js';
import type { At, HomeWorker, ImportProgress, ImportWorker, ReplayWorker } from '../protocol.js';
import { FakeWorker } from '../testing/fakeWorker.js';
import { MILL, millCsv } from '../testing/mill.js';

const comlink = await import('comlink');
/** What each worker offers, in the order in which they are loaded. */
const offered: unknown[] = [];
jest.unstable_mockModule('comlink', () => ({
  ...comlink,
  expose: (worker: unknown, port?: Parameters<typeof comlink.expose>[1]) =>
    port ? comlink.expose(worker, port) : offered.push(worker),
}));
await import('./importWorker.js');
await import('./homeWorker.js');
await import('./replayWorker.js');
const [importing, home, replaying] = offered as [ImportWorker, HomeWorker, ReplayWorker];

const file = (name: string, text: string) => new File([text], name);
const told: ImportProgress[] = [];
const tell = (progress: ImportProgress) => void told.push(progress);

/** Looks at files, reads what is found and stores it. */
async function bring(target: Home, ...files: File[]) {
  const looked = await importing.look(target, files, tell);
  const read = await importing.read(target, looked.found, tell);
  const refused = await importing.store(target, [], tell);
  return { looked, read, refused };
}

/** A home of its own for each test: the worker keeps the last one, as it does in the page. */
let place = 0;
let mill = '';

const atOf = ({ id, revision }: Home): At => ({ homeId: id, revision });

beforeEach(async () => {
  await db.delete();
  await db.open();
  told.length = 0;
  mill = `mill-${++place}`;
});

describe('the worker that imports', () => {
  test('looks, reads and stores, and tells how far it is', async () => {
    const target = newHome(MILL, mill);
    const { looked, read, refused } = await bring(target, file('log.csv', millCsv(10)));
    expect(looked.aside).toEqual([]);
    expect(looked.found).toMatchObject([{ name: 'log.csv', mapping: null, isRemembered: false }]);
    expect(read.summaries).toMatchObject([
      {
        name: 'log.csv',
        rows: 960,
        startMs: Date.UTC(2024, 0, 1),
        stepMs: 900_000,
        overlaps: [],
        checks: [],
      },
    ]);
    expect(read.summaries[0]!.quantities.map(({ share }) => share)).toEqual([1, 1, 1, 1, 1]);
    expect(refused).toBeNull();
    expect((await sourcesOf(mill)).map(({ name, rows }) => [name, rows])).toEqual([['log.csv', 960]]);
    expect(new Set(told.map(({ stage }) => stage))).toEqual(new Set(['looking', 'reading', 'storing']));
    for (const stage of ['looking', 'reading'] as const)
      expect(Math.max(...told.flatMap((one) => (one.stage === stage ? [one.share] : [])))).toBe(1);
  });

  test('knows what is there, puts back what was taken out, and tells what overlaps', async () => {
    const target = newHome(MILL, mill);
    await bring(target, file('log.csv', millCsv(10)));
    const again = await importing.look(target, [file('other name.csv', millCsv(10))], tell);
    expect(again).toEqual({
      found: [],
      aside: [{ name: 'other name.csv', kind: 'known', problems: [] }],
    });
    const [source] = await sourcesOf(mill);
    await setRemoved(source!, Date.now());
    const back = await importing.look(target, [file('log.csv', millCsv(10))], tell);
    expect(back.aside).toMatchObject([{ kind: 'put-back' }]);
    expect((await sourcesOf(mill)).map(({ removedAt }) => removedAt)).toEqual([null]);
    const later = await bring(target, file('later.csv', millCsv(10, 8)));
    expect(later.read.summaries).toMatchObject([{ overlaps: ['log.csv'] }]);
  });

  test('sets one file aside in words and goes on with the others; what is refused is not stored', async () => {
    const target = newHome(MILL, mill);
    const bad = file('picture.png', '\u0089PNG\r\n\u001a\n\u0000\u0000');
    const { looked, refused } = await bring(target, bad, file('log.csv', millCsv(3)));
    expect(looked.aside).toMatchObject([{ name: 'picture.png', kind: 'refused' }]);
    expect(looked.aside[0]!.problems.join(' ')).toMatch(/^picture\.png: .+\. .+/);
    expect(refused).toBeNull();
    expect((await sourcesOf(mill)).map(({ name }) => name)).toEqual(['log.csv']);
  });

  test('says what is wrong with a book, and opens one that is whole', async () => {
    const broken = await importing.books(file('home.zip', 'PK\u0003\u0004 and no more'));
    expect(broken.books).toEqual([]);
    expect(broken.problems.join(' ')).toMatch(/home\.zip/);
    const target = newHome(MILL, mill);
    await bring(target, file('log.csv', millCsv(4)));
    const { blob } = await home.book(mill, null);
    const { books, problems } = await importing.books(new File([blob], 'mill.zip'));
    expect(problems).toEqual([]);
    expect(books).toMatchObject([{ homeName: 'Mill Lane', holds: { logs: 1 }, replaces: { id: mill } }]);
    const restored = await importing.restore(0, 'new', 'refuse');
    expect(restored.problems).toEqual([]);
    expect(restored.homeId).not.toBe(mill);
    expect((await sourcesOf(restored.homeId!)).map(({ rows }) => rows)).toEqual([384]);
  });
});

describe('the worker that holds the home', () => {
  const RANGE = ['2024-01-02', '2024-01-08'] as const;

  test('has nothing to tell of a home without a log, and says so', async () => {
    const target = newHome(MILL, 'empty');
    await db.homes.add(target);
    expect((await home.overview('empty')).roll).toBeNull();
    const at = atOf(target);
    expect(await home.report(at, ...RANGE)).toBeNull();
    expect(await home.parts(at, ...RANGE)).toEqual([]);
    expect(await home.headlines('empty')).toBeNull();
    expect(await home.exported(at)).toEqual({ log: null, totals: null });
    expect(await home.whatifBase(at, ...RANGE, [])).toEqual({
      problem: 'The log has nothing of this range.',
    });
    await expect(home.overview('nowhere')).rejects.toThrow();
  });

  test('gives the figures that the core gives, to the last digit', async () => {
    await bring(newHome(MILL, mill), file('log.csv', millCsv(10)));
    const stored = await homeOf(mill);
    const sources = [...(await loadSources(mill, undefined)).values()];
    const prepared = prepare(MILL, sources);
    const range = rangeOfDates(prepared.log, ...RANGE)!;
    expect(await home.report(atOf(stored), ...RANGE)).toEqual(report(prepared, range, 'days'));
    const { roll } = await home.overview(mill);
    expect(roll!.days.map(({ date }) => date)).toEqual(
      Array.from({ length: 10 }, (_, day) => `2024-01-${String(day + 1).padStart(2, '0')}`),
    );
    const course = (await home.day(atOf(stored), '2024-01-05'))!;
    expect(course.load!.length).toBe(96);
    expect(await home.day(atOf(stored), '2025-01-05')).toBeNull();
  });

  test('goes by what is stored now: a correction counts as soon as its revision is asked for', async () => {
    await bring(newHome(MILL, mill), file('log.csv', millCsv(10)));
    const loadAt = async () => {
      const answer = await home.report(atOf(await homeOf(mill)), ...RANGE);
      return answer!.figures['account.load']!.value!;
    };
    const before = await loadAt();
    await addCorrection(mill, { kind: 'scale', source: null, quantity: 'load', factor: 2 }, 'why');
    expect(await loadAt()).toBeCloseTo(2 * before, 6);
    const month = await bring(await homeOf(mill), file('more.csv', millCsv(10, 11)));
    expect(month.refused).toBeNull();
    expect((await home.overview(mill)).roll!.days).toHaveLength(20);
    expect(await loadAt()).toBeCloseTo(2 * before, 6);
  });

  test('answers of trials one by one: what cannot be evaluated says why, the others stand', async () => {
    await bring(newHome(MILL, mill), file('log.csv', millCsv(10)));
    const at = atOf(await homeOf(mill));
    const base = { schema: 'long-tally/trial@1', kind: 'drawdown', status: 'done' } as const;
    const [good, bad] = await home.trialResults(at, [
      { ...base, from: '2024-01-03T18:00:00Z', to: '2024-01-04T04:00:00Z', readings: [] },
      { ...base, readings: [] },
    ]);
    expect(good).toHaveProperty('result.figures');
    expect((bad as { problem: string }).problem).toMatch(/Write the instants at which it began and ended/);
  });

  test('lends what outages are begun from through a port, and the worker there replays as the core does', async () => {
    await bring(newHome(MILL, mill), file('log.csv', millCsv(20)));
    const at = atOf(await homeOf(mill));
    expect(() => replaying.run(WHOLE_HOME)).toThrow('Nothing is held');
    const { port1, port2 } = new MessageChannel();
    const holding = replaying.hold(port2);
    expect(await home.lendStarts(at, '2024-01-01', '2024-01-20', [port1])).toBe(true);
    await holding;
    port1.close();
    const prepared = prepare(MILL, [...(await loadSources(mill, undefined)).values()]);
    const starts: Starts = outageStarts(prepared, rangeOfDates(prepared.log, '2024-01-01', '2024-01-20')!)!;
    const expected: ScenarioOutcome = scenarioOutcome(starts, WHOLE_HOME);
    expect(replaying.run(WHOLE_HOME)).toEqual(expected);
    expect(expected.starts).toBeGreaterThan(400);
  });
});

describe('asking a worker', () => {
  beforeEach(() => {
    FakeWorker.begun.length = 0;
    FakeWorker.offers = { ready: () => true };
    Object.assign(globalThis, { Worker: FakeWorker });
    jest.resetModules();
  });
  afterEach(() => {
    jest.useRealTimers();
    FakeWorker.begun.forEach((worker) => worker.terminate());
    Reflect.deleteProperty(globalThis, 'Worker');
  });

  test('begins it with the first question and asks the same one again', async () => {
    const { askHome } = await import('./client.js');
    const two = await Promise.all([askHome((remote) => remote.ready()), askHome((remote) => remote.ready())]);
    expect(two).toEqual([true, true]);
    expect(FakeWorker.begun).toHaveLength(1);
    // An error of the answer is the asker's: the worker goes on.
    await expect(askHome(() => Promise.reject(new Error('no such range')))).rejects.toThrow('no such range');
    expect(await askHome((remote) => remote.ready())).toBe(true);
    expect(FakeWorker.begun).toHaveLength(1);
  });

  test('of one that breaks says so, and begins another for the next question', async () => {
    const { askHome } = await import('./client.js');
    await askHome((remote) => remote.ready());
    const asked = askHome(() => new Promise<never>(() => undefined));
    const failed = expect(asked).rejects.toThrow(/could not be loaded, or broke\. Nothing that is stored/);
    await Promise.resolve();
    FakeWorker.begun[0]!.breakDown();
    await failed;
    expect(FakeWorker.begun[0]!.isEnded).toBe(true);
    expect(await askHome((remote) => remote.ready())).toBe(true);
    expect(FakeWorker.begun).toHaveLength(2);
  });

  test('of one that never answers gives up after ten seconds', async () => {
    FakeWorker.offers = null;
    jest.useFakeTimers({ doNotFake: ['setImmediate', 'nextTick', 'queueMicrotask'] });
    const { beginImport } = await import('./client.js');
    const session = beginImport();
    const asked = expect(session.ask((remote) => remote.ready())).rejects.toThrow(
      /has not answered for ten seconds/,
    );
    await jest.advanceTimersByTimeAsync(10_000);
    await asked;
    session.end();
    expect(FakeWorker.begun[0]!.isEnded).toBe(true);
  });
});
