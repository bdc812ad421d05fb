import { describe, expect, test } from '@jest/globals';
import { at, evaluated, homeOf, values } from '../../testing/trials.js';
import type { TrialFile } from './trialFile.js';

type Readings = TrialFile['readings'];
const HOME = homeOf(
  { modules: 2, moduleKWh: 5, usableShare: 1, cutOff: 0.1, maxChargeKW: 4 },
  { batteryOnlyKW: 5 },
);
const codeOf = (result: ReturnType<typeof evaluated>, code: string) =>
  result.checks.find((check) => check.code === code)!.ok;
const reasonOf = (result: ReturnType<typeof evaluated>, key: string) =>
  result.figures[`trial.${key}`]!.reason;

describe('an island with a full battery', () => {
  const course = (steps: readonly (readonly [hz: number, solarW: number, soc: number])[]) =>
    evaluated(
      'curtailment',
      steps.map(([hz, solarW, soc], k) => ({ at: at(k / 10), hz, solarW, soc })),
      HOME,
    );

  test('at 60 Hz is measured from 60 Hz: what is usual there is not taken for raised', () => {
    const ramps = course([
      [60, 4000, 0.97],
      [60.1, 4000, 0.99],
      [60.8, 2500, 1],
      [61.4, 1200, 1],
      [62, 0, 1],
    ]);
    expect(values(ramps)).toMatchObject({ shiftStartHz: 60.8, shiftEndHz: 62 });
    expect(ramps.verdict.code).toBe('ramps');
    const start = ramps.figures['trial.shiftStartHz']!;
    // The shift begins somewhere between the last reading at full power and the first with less.
    expect(start.low).toBeLessThanOrEqual(60.8 - 0.5);
    expect(start.high).toBeGreaterThanOrEqual(60.8 + 0.5);
  });

  test('whose solar is held back without a frequency that was read tells where it came back', () => {
    const held = evaluated(
      'curtailment',
      [
        { at: at(0), soc: 1, event: 'solar-off' },
        { at: at(1), soc: 0.93, event: 'solar-on' },
      ],
      HOME,
    );
    expect(values(held)).toMatchObject({ resumeSoc: 0.93, shiftStartHz: null });
    expect(held.verdict).toEqual({
      code: 'held-back',
      message: 'Solar stopped and came back at 93 %.',
    });
    expect(reasonOf(held, 'shiftStartHz')).toMatch(/Frequency and solar read together/);
    expect(codeOf(held, 'not-truly-full')).toBe(true);
  });

  test('that was never full shows nothing, and says so', () => {
    const early = course([
      [50, 3000, 0.6],
      [50, 3200, 0.62],
      [50, 3100, 0.64],
    ]);
    expect(early.verdict.code).toBe('cannot-tell');
    expect(codeOf(early, 'not-truly-full')).toBe(false);
    expect(reasonOf(early, 'resumeSoc')).toMatch(/solar comes back/);
  });

  test('whose solar has not stopped yet has a beginning of the shift and no end', () => {
    const begun = course([
      [50, 4000, 1],
      [50.5, 3000, 1],
      [50.9, 1500, 1],
    ]);
    expect(values(begun)).toMatchObject({ shiftStartHz: 50.5, shiftEndHz: null });
    expect(reasonOf(begun, 'shiftEndHz')).toMatch(/until solar has stopped/);
  });
});

describe('an off-grid run', () => {
  const run = (readings: Readings, goal?: TrialFile['goal']) =>
    evaluated('off-grid-run', readings, HOME, goal ? { goal } : {});
  const fall = (from: number, to: number, hours: number): Readings => [
    { at: at(0), soc: from },
    { at: at(hours), soc: to },
  ];

  test.each([
    // From 100 % at so much in four hours: 8 h are left to a goal of 30 %.
    [0.96, 'It will be reached'],
    [0.81, 'It may not be reached'],
    [0.7, 'It will not be reached'],
  ])('at %d after a third of its time: %s', (soc, likely) => {
    const result = run(fall(1, soc, 4), { until: at(12), soc: 0.45 });
    expect(result.verdict.code).toBe('under-way');
    expect(result.verdict.message).toContain(likely);
  });

  test('without a goal says how long it lasts, and wants none', () => {
    const result = run(fall(1, 0.8, 4));
    expect(result.verdict.message).toMatch(/^80 % left\. It lasts about 14\.0 h more/);
    expect(reasonOf(result, 'socAtGoal')).toMatch(/A goal with a time/);
  });

  test('over which the charge does not fall has no end that could be told', () => {
    const result = run(fall(0.9, 0.9, 4));
    expect(values(result)).toMatchObject({ deltaSoc: 0, projectedRuntime: null });
    expect(reasonOf(result, 'projectedRuntime')).toMatch(/does not fall/);
  });

  test('of one checkpoint is under way, and tells nothing yet', () => {
    const result = run([
      { at: at(0), soc: 1 },
      { at: at(2), note: 'all well' },
    ]);
    expect(result.verdict.code).toBe('under-way');
    for (const key of ['deltaSoc', 'runtime', 'power.mean', 'projectedRuntime', 'socAtGoal'])
      expect([key, values(result)[key]]).toEqual([key, null]);
  });

  test('whose time came with too little left missed its goal, and says by how much', () => {
    const missed = run(fall(1, 0.3, 12), { until: at(12), soc: 0.5 });
    expect(missed.verdict).toEqual({
      code: 'missed',
      message: "The goal's time came with 30 %, below the 50 % that were wanted.",
    });
    const gone = run(fall(1, 0.1, 9), { until: at(12), soc: 0.2 });
    expect(gone.verdict.message).toMatch(/ran out before the goal\. Recharge now/);
    const reached = run(fall(1, 0.5, 12), { until: at(12), soc: 0.5 });
    expect(reached.verdict.message).toMatch(/reached with 50 % left\. Recharge the same day/);
  });
});

describe('a recharge', () => {
  test('that ends full and quiet has an efficiency from charge and counter', () => {
    const result = evaluated(
      'recharge',
      [
        { at: at(0), soc: 0.2, chargeKWh: 100 },
        { at: at(3), soc: 1, chargeKWh: 108.4, isTapered: true },
      ],
      HOME,
    );
    // 80 % of 10 kWh are stored of 8.4 kWh that went in.
    expect(values(result)['efficiency']).toBeCloseTo(8 / 8.4, 9);
    expect(values(result)['power.mean']).toBeCloseTo(2800, 6);
    expect(codeOf(result, 'not-truly-full')).toBe(true);
    expect(result.verdict.message).toBe('From 20 % to 100 % in 3.0 h.');
  });

  test.each([
    [0.9, 'not-full'],
    [0.2, 'invalid'],
    [0.1, 'invalid'],
  ])('from 20 %% to %d is %s', (soc, code) => {
    const result = evaluated(
      'recharge',
      [
        { at: at(0), soc: 0.2 },
        { at: at(3), soc },
      ],
      HOME,
    );
    expect(result.verdict.code).toBe(code);
    expect(reasonOf(result, 'taken')).toMatch(/charge counter at the start and at the end/);
    expect(reasonOf(result, 'efficiency')).toMatch(/would supply it/);
  });

  test('without a charge at both ends cannot be told', () => {
    const result = evaluated('recharge', [{ at: at(0) }, { at: at(3), chargeKWh: 1 }], HOME);
    expect(result.verdict.code).toBe('cannot-tell');
    expect(codeOf(result, 'not-truly-full')).toBeNull();
  });

  test('gives way to a load that begins, or is told not to', () => {
    const withOven = (chargeW: number) =>
      evaluated(
        'recharge',
        [
          { at: at(0), soc: 0.2, loadW: 300, batteryW: -3500 },
          { at: at(1), soc: 0.5, loadW: 2800, batteryW: -chargeW },
          { at: at(3), soc: 1, loadW: 300, batteryW: -100 },
        ],
        HOME,
      );
    expect(codeOf(withOven(1200), 'grid-limit-held')).toBe(true);
    expect(codeOf(withOven(3500), 'grid-limit-held')).toBe(false);
    expect(values(withOven(1200))['peakPower']).toBe(3500);
    // The last power is below a twentieth of what the battery takes: it had died down.
    expect(codeOf(withOven(1200), 'not-truly-full')).toBe(true);
  });
});

describe('a full load', () => {
  const loaded = (readings: Readings, home = HOME) => evaluated('full-load', readings, home);

  test('that held says what was left below the rating, and that a motor may still ask for more', () => {
    const result = loaded([
      { at: at(0), loadW: 1000, soc: 0.8 },
      { at: at(0.1), loadW: 3800, soc: 0.8, appliance: 'oven' },
    ]);
    expect(result.verdict).toMatchObject({ code: 'held' });
    expect(result.verdict.message).toMatch(/^3800 W held, 1200 W below the battery-only rating\. A motor/);
    expect(result.steps).toMatchObject([{ appliance: 'oven', riseW: 2800 }]);
    expect(reasonOf(result, 'tripPower')).toMatch(/Nothing tripped/);
    expect(reasonOf(result, 'restartDelay')).toMatch(/A trip and the restart after it/);
  });

  test('without a described rating has no headroom, and without loads nothing at all', () => {
    const plain = homeOf({ modules: 2, moduleKWh: 5 });
    const result = loaded([{ at: at(0), loadW: 1000 }, { at: at(0.1) }], plain);
    expect(reasonOf(result, 'headroom')).toMatch(/rating is not described/);
    expect(result.verdict.message).toMatch(/^1000 W held\. A motor/);
    expect(codeOf(result, 'low-charge')).toBeNull();
    expect(loaded([{ at: at(0) }, { at: at(1), note: 'ended' }]).verdict.code).toBe('cannot-tell');
  });

  test('below a tenth of the charge tells only of low charge', () => {
    const result = loaded([
      { at: at(0), loadW: 1000, soc: 0.09 },
      { at: at(0.1), loadW: 2500, soc: 0.08, event: 'transfer', appliance: 'kettle' },
    ]);
    expect(codeOf(result, 'low-charge')).toBe(false);
    expect(result.verdict.message).toMatch(
      /^The output stopped or handed over once, last as kettle came on, at 2500 W\. Find out why/,
    );
    // What tripped did not hold.
    expect(values(result)).toMatchObject({ peakPower: 1000, tripPower: 2500 });
  });
});
