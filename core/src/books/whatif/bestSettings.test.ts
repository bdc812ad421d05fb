import { describe, expect, test } from '@jest/globals';
import solver, { type Model as Program } from 'javascript-lp-solver';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { seededRandom } from '../../statistics/random.js';
import type { System } from '../../system/schema.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { bestSettings } from './bestSettings.js';
import { foresightBill } from './foresight.js';
import type { Model } from './scenarioValues.js';
import { longTest } from '../../testing/long.js';

const HOURS = 30;
const [FULL_KWH, CHARGE_KW, DISCHARGE_KW, EFFICIENCY, BEGUN] = [8, 2, 2.5, 0.9, 0.5] as const;

interface Case {
  readonly net: readonly number[];
  readonly buy: readonly number[];
  readonly sell: readonly number[];
}

/** What the dynamic program reads of a model. */
function modelOf({ net, buy, sell }: Case): Model {
  const watts = (of: (kW: number) => number) => Float64Array.from(net, (kW) => 1000 * of(kW));
  const load = watts((kW) => Math.max(0, kW));
  return {
    home: {
      coupling: 'ac',
      efficiency: 1,
      fullWh: 1000 * FULL_KWH,
      chargeW: 1000 * CHARGE_KW,
      dischargeW: 1000 * DISCHARGE_KW,
      chargeEfficiency: EFFICIENCY,
      acLimitW: Infinity,
      exportLimitW: Infinity,
    },
    inputs: {
      startMs: Date.UTC(2024, 5, 1),
      stepMs: 3_600_000,
      load,
      solar: watts((kW) => Math.max(0, -kW)),
      socStart: BEGUN,
    },
    prices: {
      buy: Float64Array.from(buy),
      sell: Float64Array.from(sell),
      bill: new Uint16Array(HOURS),
      bills: [{ tariff: { from: '2024-01-01' } }],
    },
    data: { log: { zone: 'UTC' } },
    run: () => ({ run: { importW: load } }),
  } as unknown as Model;
}

/** The same as a linear program, solved by a general solver. */
function leastByProgram({ net, buy, sell }: Case): number {
  const variables: Record<string, Record<string, number>> = {};
  const constraints: Record<string, { equal?: number; max?: number; min?: number }> = {
    end: { min: BEGUN * FULL_KWH },
  };
  for (let t = 0; t < HOURS; t++) {
    constraints[`flow${t}`] = { equal: net[t]! };
    constraints[`store${t}`] = { equal: t === 0 ? -BEGUN * FULL_KWH : 0 };
    for (const [name, most] of [
      ['c', CHARGE_KW],
      ['d', DISCHARGE_KW],
      ['s', FULL_KWH],
    ] as const)
      constraints[`${name}most${t}`] = { max: most };
    variables[`g${t}`] = { cost: buy[t]!, [`flow${t}`]: 1 };
    variables[`e${t}`] = { cost: -sell[t]!, [`flow${t}`]: -1 };
    variables[`c${t}`] = { cost: 0, [`flow${t}`]: -1, [`store${t}`]: EFFICIENCY, [`cmost${t}`]: 1 };
    variables[`d${t}`] = { cost: 0, [`flow${t}`]: 1, [`store${t}`]: -1, [`dmost${t}`]: 1 };
    // What is stored after an hour goes into the next.
    variables[`s${t}`] = {
      cost: 0,
      [`store${t}`]: -1,
      [`smost${t}`]: 1,
      ...(t + 1 < HOURS ? { [`store${t + 1}`]: 1 } : { end: 1 }),
    };
  }
  const program: Program = { optimize: 'cost', opType: 'min', constraints, variables };
  return (solver.Solve(program) as { result: number }).result;
}

describe('the least bill with perfect foresight', () => {
  test('is that of a linear program (javascript-lp-solver), but for the steps of charge between which it chooses', () => {
    const random = seededRandom(5);
    for (let k = 0; k < 12; k++) {
      const given: Case = {
        net: Array.from({ length: HOURS }, () => 3 * (random() - 0.5)),
        buy: Array.from({ length: HOURS }, () => 0.1 + 0.3 * random()),
        sell: Array.from({ length: HOURS }, () => 0.08 * random()),
      };
      const least = leastByProgram(given);
      const found = foresightBill(modelOf(given), new Array<number>(12).fill(0))!;
      expect(found).toBeGreaterThan(least - 1e-6);
      // A step of charge is 0.1 kWh: at worst that much is bought at the dearest price now and then.
      expect(found - least).toBeLessThan(0.12);
    }
  });
});

const TARIFF: System = {
  ...STORE_HOME,
  currency: 'EUR',
  tariffs: [
    {
      from: '2020-01-01',
      import: [{ rate: 0.4 }, { rate: 0.1, start: '00:00', end: '05:00' }],
      export: [{ rate: 0.05 }],
    },
  ],
};
const prepared = prepare(TARIFF, [
  simulatedStore({
    seed: 8,
    days: 365,
    stepSeconds: 1800,
    idleW: 40,
    efficiency: 0.9,
    socStep: 0.01,
    season: 0.04,
  }),
]);
const range = { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };

describe('best settings', () => {
  longTest(
    'charge by night where it is cheap, save against what the home does, and leave something to foresight',
    () => {
      const best = bestSettings(prepared, range, 0, 0.9);
      expect(best.cheapHours).toEqual({ start: '00:00', end: '05:00' });
      expect(best.bestBill).toBeLessThan(best.bill);
      expect(best.foresightBill!).toBeLessThan(best.bestBill);
      expect(best.months.some(({ toSoc }) => toSoc !== null)).toBe(true);
    },
  );
  longTest(
    'keep what an outage of the wanted hours needs: a longer one never asks for less, nor carries fewer',
    () => {
      const [short, long] = [bestSettings(prepared, range, 6, 0.9), bestSettings(prepared, range, 24, 0.9)];
      long.months.forEach(({ reserve }, month) =>
        expect(reserve).toBeGreaterThanOrEqual(short.months[month]!.reserve),
      );
      expect(long.survive[1][1]).toBeGreaterThanOrEqual(short.survive[1][1]);
      expect(long.bestBill).toBeGreaterThanOrEqual(short.bestBill - 1e-6);
    },
  );
  test('are refused in words where there is no bill to make smaller', () => {
    expect(() => bestSettings(prepare(STORE_HOME, prepared.sources), range, 12, 0.9)).toThrow(/No tariff/);
  });
});
