import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import { analyse, report } from '../../report/report.js';
import { endMs, type SourceLog } from '../../model/log.js';
import { solve } from '../../statistics/solve.js';
import type { JournalNote } from '../../system/journal.js';
import type { System } from '../../system/schema.js';
import { testData } from '../../testing/logs.js';
import { simulatedStore, STORE_HOME, type Truth } from '../../testing/store.js';
import { longTest } from '../../testing/long.js';

// Simulations that test the methods against known truth: a store of 10 kWh, delivered through √η of it.
const PLAIN: Truth = { seed: 8, days: 400, stepSeconds: 900, idleW: 40, efficiency: 0.9, socStep: 0.01 };
const figuresOf = (truth: Truth) => analyse(STORE_HOME, [simulatedStore(truth)]).figures;

/** Two homes one after the other, as a battery that lost a part would log it. */
function joined(first: Truth, second: Truth, share: number): SourceLog[] {
  const [before, after] = [simulatedStore(first), simulatedStore(second)];
  const scaled = new Map(
    [...after.columns].map(([quantity, column]) => [
      quantity,
      quantity === 'soc' ? column : { ...column, values: column.values.map((value) => value * share) },
    ]),
  );
  return [
    before,
    { ...after, name: 'after.csv', startMs: endMs(before), columns: scaled } satisfies SourceLog,
  ];
}

describe('capacity from discharges', () => {
  longTest.each([
    [10, 0.94],
    [60, 0.9],
    [200, 0.85],
  ])('is found within a hundredth, whatever draw (%d W) and efficiency (%d)', (idleW, efficiency) => {
    const figures = figuresOf({ ...PLAIN, idleW, efficiency });
    const level = figures['capacity.now']!;
    const truth = 10 * Math.sqrt(efficiency);
    expect(Math.abs(level.value! / truth - 1)).toBeLessThan(0.012);
    expect(level.low! < truth && truth < level.high!).toBe(true);
    expect(level.status).toBe('measured');
    expect(level.basis['fullRuns']).toBeGreaterThan(10);
    expect(figures['capacity.stateOfHealth']!.value).toBeCloseTo(1, 2);
  });

  longTest.each([
    [20, 0.93],
    [120, 0.86],
  ])('charges say the same, less what is lost on the way out (%d W, %d)', (idleW, efficiency) => {
    const figures = figuresOf({ ...PLAIN, idleW, efficiency });
    const [charged, level] = [figures['capacity.now.fromCharge']!, figures['capacity.now']!];
    expect(charged.basis['charges']).toBeGreaterThan(50);
    expect(Math.abs(charged.value! / (10 * Math.sqrt(efficiency)) - 1)).toBeLessThan(0.02);
    expect(charged.low! < level.value! && level.value! < charged.high!).toBe(true);
  });

  longTest(
    'health is told by each reference; behind an AC meter the nameplate is brought to its side',
    () => {
      const truth = { ...PLAIN, days: 730, fadeAYear: 0.03 };
      const figures = figuresOf(truth);
      const plate = figures['capacity.stateOfHealth.nameplate']!;
      expect(Math.abs(plate.value! - 0.94)).toBeLessThan(0.015);
      expect(plate.low! < 0.94 && 0.94 < plate.high!).toBe(true);
      expect(plate.status).toBe('estimated');
      const first = figures['capacity.stateOfHealth.firstDays']!;
      expect(first.value).toBe(figures['capacity.stateOfHealth']!.value);
      expect(Math.abs(first.value! - 0.94 / (1 - 0.03 * 0.12))).toBeLessThan(0.01);
      const young = figuresOf({ ...PLAIN, days: 60 });
      expect(young['capacity.stateOfHealth.firstDays']!.reason).toMatch(/90 days/);
    },
  );

  longTest('a discharge within a test of the journal is a trial, and the first one leads the health', () => {
    const source = simulatedStore({ ...PLAIN, days: 300, fadeAYear: 0.03 });
    const plain = analyse(STORE_HOME, [source]);
    const runs = plain.capacity.filter(({ direction }) => direction === 'discharge');
    const deep = runs.find(({ depth }) => depth > 0.6)!;
    const note: JournalNote = {
      kind: 'test',
      fromMs: Date.parse(deep.at) - 20 * 3_600_000,
      toMs: Date.parse(deep.at) + 1_800_000,
      text: 'drawdown',
      leaveOut: false,
    };
    const { capacity, figures } = analyse(STORE_HOME, [source], undefined, [], [note]);
    expect(capacity.filter(({ kind }) => kind === 'trial').map(({ at }) => at)).toEqual([deep.at]);
    const trial = figures['capacity.stateOfHealth.trial']!;
    expect(trial.value).toBeCloseTo(figures['capacity.now']!.value! / deep.kWh, 2);
    expect(figures['capacity.stateOfHealth']!.basis['reference']).toBe(
      `the drawdown trial of ${deep.at.slice(0, 10)}`,
    );
    expect(plain.figures['capacity.stateOfHealth.trial']!.reason).toMatch(/journal tells of no drawdown/);
    const delivered = figures['capacity.trial.delivered']!;
    expect(
      Math.abs(
        delivered.value! - Math.sqrt(0.9) * (1 - (0.03 * (Date.parse(deep.at) - source.startMs)) / 3.156e10),
      ),
    ).toBeLessThan(0.03);
    expect(figures['capacity.trial.modules']).toMatchObject({ value: 2, high: 2 });
    expect(plain.figures['capacity.trial.modules']!.reason).toMatch(/no drawdown trial/);
  });

  test('a tenth that usable share and cut-off both take off is found where the display runs over the nameplate', () => {
    const [only] = STORE_HOME.configurations!;
    const described = (usableShare: number, moduleKWh: number): System => ({
      ...STORE_HOME,
      configurations: [{ ...only!, battery: { ...only!.battery, usableShare, moduleKWh, cutOff: 0.1 } }],
    });
    const codes = (system: System) =>
      analyse(system, [simulatedStore({ ...PLAIN, days: 60 })]).findings.map(({ code }) => code);
    expect(codes(described(0.9, 5))).toContain('counted-twice');
    // Here the display runs over the usable part, so that nothing is taken off twice.
    expect(codes(described(0.9, 5 / 0.9))).not.toContain('counted-twice');
  });

  test('a trial with nothing later is no reference for itself', () => {
    const source = simulatedStore({ ...PLAIN, days: 20 });
    const whole: JournalNote = {
      kind: 'test',
      fromMs: source.startMs,
      toMs: endMs(source),
      text: '',
      leaveOut: false,
    };
    const { figures } = analyse(STORE_HOME, [source], undefined, [], [whole]);
    expect(figures['capacity.now']!.value).not.toBeNull();
    expect(figures['capacity.stateOfHealth.trial']!.reason).toMatch(/drawdown/);
    expect(figures['capacity.stateOfHealth']!.value).toBeNull();
    expect(figures['capacity.trial.delivered']!.value).toBeGreaterThan(0.85);
  });

  test('needs a described battery, power, charge and nights that take it down', () => {
    const source = simulatedStore({ ...PLAIN, days: 40 });
    const without = (quantity: 'battery' | 'soc') => {
      const columns = new Map(source.columns);
      columns.delete(quantity);
      if (quantity === 'battery') columns.delete('grid');
      return { ...source, columns };
    };
    const reason = (system: System, log: SourceLog) => analyse(system, [log]).figures['capacity.now']!.reason;
    expect(reason({ ...STORE_HOME, configurations: [] }, source)).toMatch(/capacity is not described/);
    expect(reason(STORE_HOME, without('soc'))).toMatch(/no state of charge/);
    expect(reason(STORE_HOME, without('battery'))).toMatch(/no battery power/);
    const home = prepare(STORE_HOME, [source]);
    const day = report(home, { fromMs: source.startMs, toMs: source.startMs + 3 * 3_600_000 }, 'days');
    expect(day.figures['capacity.now']!.reason).toMatch(/down by 30 %/);
  });
});

describe('fade', () => {
  longTest.each([
    [2, 0, undefined],
    [2, 0.03, undefined],
    [1, 0.03, 0.06],
    [3, 0.02, 0.06],
  ])(
    'over %d years a loss of %d a year is told, and none where there is none',
    (years, fadeAYear, season) => {
      const truth = { ...PLAIN, days: Math.round(365.25 * years), fadeAYear };
      const figures = figuresOf(season === undefined ? truth : { ...truth, season });
      const fade = figures['capacity.fadePerYear']!;
      // Against the level of the first 90 days, a little below the new battery's.
      const real = fadeAYear / (1 - fadeAYear * 0.12);
      expect(Math.abs(fade.value! - real)).toBeLessThan(0.003);
      expect(fade.low! <= real && real <= fade.high!).toBe(true);
      const ends = figures['capacity.endOfLife.70']!;
      if (fadeAYear === 0) {
        expect(ends.status).toBe('insufficient');
        expect(ends.reason).toMatch(/No fade can be measured yet: at most/);
      } else {
        const ahead = (ends.value! - Date.UTC(2023, 0, 1)) / 3.15569e10;
        expect(Math.abs(ahead - 0.3 / fadeAYear)).toBeLessThan(0.15 * (0.3 / fadeAYear) + 0.6);
        expect(ends.low! <= ends.value! && ends.value! <= ends.high!).toBe(true);
      }
      if (years >= 2) {
        const byYears = figures['capacity.fadePerYear.yearOnYear']!;
        expect(Math.abs(byYears.value! - real)).toBeLessThan(0.004);
      }
    },
  );

  longTest('a season alone makes no rate: a year without its temperature gives none', () => {
    const log = simulatedStore({ ...PLAIN, days: 365, season: 0.06 });
    const columns = new Map(log.columns);
    columns.delete('batteryTemp');
    const { figures } = analyse(STORE_HOME, [{ ...log, columns }]);
    expect(figures['capacity.fadePerYear']!.status).toBe('insufficient');
    expect(figures['capacity.fadePerYear']!.reason).toMatch(/season cannot be separated from age/);
    const withIt = analyse(STORE_HOME, [log]).figures['capacity.fadePerYear']!;
    expect(withIt.low! <= 0 && 0 <= withIt.high!).toBe(true);
    expect(withIt.basis['season']).toBe('temperature');
  });

  longTest('a monitor that does not relearn is never taken at its word', () => {
    const truth = { ...PLAIN, days: 730, fadeAYear: 0.03, relearns: false };
    const { figures, findings } = analyse(STORE_HOME, [simulatedStore(truth)]);
    const fade = figures['capacity.fadePerYear']!;
    // It reads next to nothing of a true loss of 3 % a year.
    expect(fade.value).toBeLessThan(0.015);
    expect(fade.status).toBe('estimated');
    expect(fade.basis['scale']).toBe('the monitor’s own');
    expect(fade.assumptions[0]).toMatch(/hides fade/);
    expect(findings.map(({ code }) => code)).toContain('cut-off-drift');
    const drift = figures['capacity.cutOff.drift']!;
    // What is shown at the true 5 %: 0.05 + 0.95 of what is gone.
    expect(drift.low! <= 0.95 * 0.03 && 0.95 * 0.03 <= drift.high!).toBe(true);
    expect(drift.high! - drift.low!).toBeLessThan(0.01);
    expect(Math.abs(figures['capacity.cutOff']!.value! - (0.05 + 0.95 * 0.057))).toBeLessThan(0.01);
    const held = figuresOf({ ...truth, relearns: true });
    expect(held['capacity.cutOff.drift']!.low).toBeLessThanOrEqual(0);
    expect(held['capacity.cutOff.drift']!.high).toBeGreaterThanOrEqual(0);
    expect(held['capacity.cutOff']!.value).toBeCloseTo(0.05, 2);
    expect(figuresOf({ ...truth, relearns: true })['capacity.fadePerYear']!.basis['scale']).toBe(
      'held to the cells',
    );
  });
});

describe('a step of the capacity that no configuration explains', () => {
  test('is a finding, dated, and a module’s share is called so; the level is that after it', () => {
    const logs = joined({ ...PLAIN, days: 150 }, { ...PLAIN, days: 150, seed: 9 }, 0.5);
    const { figures, findings } = analyse(STORE_HOME, logs);
    const found = findings.find(({ code }) => code === 'capacity-step')!;
    expect(found.message).toMatch(/fell from 9\.\d to 4\.\d kWh .* one of 2 modules/);
    expect(Math.abs(Date.parse(found.from!) - logs[1]!.startMs)).toBeLessThan(4 * 86_400_000);
    expect(Math.abs(figures['capacity.now']!.value! - 5 * Math.sqrt(0.9))).toBeLessThan(0.1);
  });

  longTest('fade is no step, and a module added is a configuration of its own', () => {
    const fading = simulatedStore({ ...PLAIN, days: 730, fadeAYear: 0.04 });
    expect(analyse(STORE_HOME, [fading]).findings.map(({ code }) => code)).not.toContain('capacity-step');
    const logs = joined({ ...PLAIN, days: 150 }, { ...PLAIN, days: 150, seed: 9 }, 1.5);
    const [first] = STORE_HOME.configurations!;
    const three = {
      ...first!,
      from: new Date(logs[1]!.startMs).toISOString(),
      battery: { ...first!.battery, modules: 3 },
    };
    const { figures, findings } = analyse({ ...STORE_HOME, configurations: [first!, three] }, logs);
    expect(findings.map(({ code }) => code)).not.toContain('capacity-step');
    expect(figures['capacity.now']!.basis['configurations']).toEqual(['3 modules']);
    expect(figures['capacity.stateOfHealth']!.value).toBeCloseTo(1, 1);
    expect(Math.abs(figures['capacity.now']!.value! - 15 * Math.sqrt(0.9))).toBeLessThan(0.3);
  });
});

describe('least squares of a few coefficients', () => {
  test('gives the line of GUM H.3 (JCGM 100:2008)', () => {
    const { t, b, t0, y1, y2 } = testData('gum_h3.json') as {
      t: number[];
      b: number[];
      t0: number;
      y1: number;
      y2: number;
    };
    const [first, second] = solve(t.map((at, i) => ({ row: [1, at - t0], value: b[i]!, weight: 1 }))) as [
      number,
      number,
    ];
    expect(first).toBeCloseTo(y1, 4);
    expect(second).toBeCloseTo(y2, 5);
  });

  test('refuses rows that do not determine the coefficients', () => {
    expect(
      solve([
        { row: [1, 2], value: 1, weight: 1 },
        { row: [2, 4], value: 2, weight: 1 },
      ]),
    ).toBeNull();
  });
});
