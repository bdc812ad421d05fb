import { expect, test } from '@jest/globals';
import { endMs } from '../model/log.js';
import { prepare } from '../passes/prepare.js';
import type { System } from '../system/schema.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { configurationChanges } from './configurationChanges.js';

test('a change is set between the year before and the year after, with the idle draw of each', () => {
  // Simulated: nothing changes but the description.
  const log = simulatedStore({
    seed: 3,
    days: 240,
    stepSeconds: 900,
    idleW: 60,
    efficiency: 0.9,
    socStep: 0.01,
  });
  const [only] = STORE_HOME.configurations!;
  const from = new Date(log.startMs + 120 * 86_400_000).toISOString();
  const system: System = {
    ...STORE_HOME,
    configurations: [only!, { ...only!, from, name: 'a new inverter' }],
    tariffs: [{ from: '2023-01-01', import: [{ rate: 0.3 }] }],
  };
  const home = prepare(system, [log]);
  const whole = { fromMs: log.startMs, toMs: endMs(log) };
  const [change] = configurationChanges(home, whole);
  expect(change).toMatchObject({ name: 'a new inverter', atMs: Date.parse(from) });
  for (const side of [change!.before, change!.after]) {
    expect(Math.round((side.toMs - side.fromMs) / 86_400_000)).toBe(120);
    const idleW = side.figures['losses.idle.battery']!.value!;
    expect(Math.abs(idleW - 60 / Math.sqrt(0.9))).toBeLessThan(6);
    expect(side.idleKWhAYear).toBeCloseTo((idleW * 8766) / 1000, 6);
    expect(side.idleCostAYear).toBeCloseTo(0.3 * side.idleKWhAYear!, 6);
    expect(side.figures['money.savingPerYear']!.value).toBeGreaterThan(0);
    expect(side.figures['money.pricePerKWh']!.unit).toBe('currency/kWh');
  }
  expect(configurationChanges(home, { fromMs: log.startMs, toMs: Date.parse(from) })).toEqual([]);
});
