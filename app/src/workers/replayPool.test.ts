import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { scenarioOf, type Scenario, type ScenarioOutcome, type Starts } from '@long-tally/core';
import { FakeWorker } from '../testing/fakeWorker.js';

/** What the worker that holds the home lends: whether it has something, and what. */
const lends = { isLent: true };
const STARTS = { hours: 'of the range' } as unknown as Starts;
jest.unstable_mockModule('./client.js', () => ({
  askHome: (ask: (home: object) => Promise<boolean>) =>
    ask({
      // The ports come wrapped for the way to another thread.
      lendStarts: (_at: unknown, _from: string, _to: string, ports: MessagePort[]) => {
        for (const port of ports) port.postMessage(lends.isLent ? STARTS : null);
        return Promise.resolve(lends.isLent);
      },
    }),
}));
const { runScenarios } = await import('./replayPool.js');

const SCENARIOS: readonly Scenario[] = [0.2, 0.4, 0.6, 0.8, 1].map((share) =>
  scenarioOf({ share, capW: 1000, without: [] }),
);
const AT = { homeId: 'mill', revision: 1 };
/** Runs that wait until they are let go, by scenario. */
let waiting: { readonly name: string; readonly go: () => void }[];
let held: unknown[];
const offers = {
  hold: (port: MessagePort) =>
    new Promise<void>((resolve) => {
      port.onmessage = ({ data }) => {
        held.push(data);
        port.close();
        resolve();
      };
    }),
  run: ({ name }: Scenario) =>
    new Promise((resolve) => waiting.push({ name, go: () => resolve({ scenario: { name }, curve: [] }) })),
};
const until = async (isSo: () => boolean) => {
  for (let turn = 0; turn < 2000 && !isSo(); turn++) await new Promise((resolve) => setTimeout(resolve, 2));
  expect(isSo()).toBe(true);
};

describe('the scenarios of an outage, on all cores', () => {
  let told: [index: number, name: string][];
  let left: AbortController;
  const begin = () =>
    runScenarios(
      AT,
      '2024-06-01',
      '2024-06-30',
      SCENARIOS,
      (index, { scenario }: ScenarioOutcome) => told.push([index, scenario.name]),
      left.signal,
    );
  beforeEach(() => {
    FakeWorker.begun.length = 0;
    FakeWorker.offers = offers;
    Object.assign(globalThis, { Worker: FakeWorker, navigator: { hardwareConcurrency: 2 } });
    Object.assign(lends, { isLent: true });
    [waiting, held, told, left] = [[], [], [], new AbortController()];
  });
  afterEach(() => {
    FakeWorker.begun.forEach((worker) => worker.terminate());
    Reflect.deleteProperty(globalThis, 'Worker');
    Reflect.deleteProperty(globalThis, 'navigator');
  });

  test('are dealt to a worker a core, each told as it is done, and the workers are ended', async () => {
    const running = begin();
    await until(() => waiting.length === 2);
    expect(FakeWorker.begun).toHaveLength(2);
    expect(held).toEqual([STARTS, STARTS]);
    // The second one is quicker, and takes what comes next.
    waiting[1]!.go();
    await until(() => waiting.length === 3);
    expect(told).toEqual([[1, SCENARIOS[1]!.name]]);
    await until(() => {
      waiting.forEach(({ go }) => go());
      return told.length === SCENARIOS.length;
    });
    await running;
    expect(told.map(([index]) => index).sort()).toEqual([0, 1, 2, 3, 4]);
    for (const [index, name] of told) expect(name).toBe(SCENARIOS[index]!.name);
    expect(FakeWorker.begun.every(({ isEnded }) => isEnded)).toBe(true);
  });

  test('are as many workers as scenarios at most', async () => {
    Object.assign(navigator, { hardwareConcurrency: 64 });
    const running = begin();
    await until(() => waiting.length === 4);
    expect(FakeWorker.begun).toHaveLength(4);
    left.abort();
    await running;
  });

  test('that are left end where they are, and tell nothing more', async () => {
    const running = begin();
    await until(() => waiting.length === 2);
    left.abort();
    await running;
    expect(FakeWorker.begun.every(({ isEnded }) => isEnded)).toBe(true);
    waiting.forEach(({ go }) => go());
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(told).toEqual([]);
  });

  test('that were left before they began are not begun', async () => {
    left.abort();
    await expect(begin()).rejects.toThrow();
    expect(waiting).toEqual([]);
    expect(FakeWorker.begun.every(({ isEnded }) => isEnded)).toBe(true);
  });

  test('are none where nothing is lent to begin an outage from', async () => {
    lends.isLent = false;
    await begin();
    expect([told, waiting]).toEqual([[], []]);
    expect(FakeWorker.begun.every(({ isEnded }) => isEnded)).toBe(true);
  });

  test('fail when a worker breaks, instead of running for ever', async () => {
    const running = begin();
    const failed = expect(running).rejects.toThrow(/could not be loaded, or broke/);
    await until(() => waiting.length === 2);
    FakeWorker.begun[1]!.breakDown();
    await failed;
    expect(FakeWorker.begun.every(({ isEnded }) => isEnded)).toBe(true);
  });
});
