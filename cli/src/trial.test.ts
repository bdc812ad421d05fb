import { describe, expect, test } from '@jest/globals';
import { file, tally } from './testing.js';

const system = file(
  'six.json',
  JSON.stringify({
    schema: 'long-tally/system@1',
    name: 'Six units',
    timeZone: 'UTC',
    configurations: [
      {
        from: '2022-01-01T00:00:00Z',
        battery: { modules: 6, moduleKWh: 13.5, usableShare: 1, maxChargeKW: 10 },
        inverter: { batteryOnlyKW: 6, legs: 2, perLegKW: 3 },
      },
    ],
  }),
);
const trial = (dischargeKWh: number) =>
  file(
    `trial-${dischargeKWh}.json`,
    JSON.stringify({
      schema: 'long-tally/trial@1',
      kind: 'drawdown',
      readings: [
        { at: '2024-05-01T20:00:00Z', soc: 1, chargeKWh: 812.4, dischargeKWh: 760.1 },
        { at: '2024-05-02T04:00:00Z', soc: 0.4, chargeKWh: 812.4, dischargeKWh },
      ],
    }),
  );

describe('trials on the command line', () => {
  test.each([
    [805, 'all-units-deliver', 48.6, 3.7],
    [797.5, 'one-unit-may-be-out', 48.6, 11.2],
  ])(
    'counter at %d: %s (common practice, no published source)',
    async (counter, code, expected, shortfall) => {
      const { code: exit, out, err } = await tally('trial', trial(counter), '--system', system);
      expect([exit, err]).toEqual([0, '']);
      const result = JSON.parse(out) as {
        schema: string;
        figures: Record<string, { value: number }>;
        verdict: { code: string };
      };
      expect(result.schema).toBe('long-tally/trial-result@1');
      expect(result.verdict.code).toBe(code);
      expect(result.figures['trial.expected']!.value).toBeCloseTo(expected, 9);
      expect(result.figures['trial.shortfall']!.value).toBeCloseTo(shortfall, 9);
    },
  );

  test('a trial counts beside the log in the report, and a wrong one is told by its key', async () => {
    const rows = Array.from(
      { length: 48 },
      (_, i) => `${new Date(Date.UTC(2024, 4, 1) + i * 3_600_000).toISOString()},0,300,300,0,50`,
    );
    const log = file('quiet.csv', `time,solar_w,load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`);
    const args = ['analyse', '--system', system, '--log', log];
    const { code, out } = await tally(...args, '--trial', trial(805));
    expect(code).toBe(0);
    const { capacity, figures } = JSON.parse(out) as {
      capacity: readonly { kind: string; kWh: number }[];
      figures: Record<string, { value: number | null }>;
    };
    expect(capacity.map(({ kind }) => kind)).toEqual(['trial']);
    expect(figures['capacity.trial.modules']!.value).toBe(6);
    const wrong = await tally(
      ...args,
      '--trial',
      file('wrong-trial.json', '{"schema":"long-tally/trial@1","kind":"nap"}'),
    );
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringMatching(/kind/)]);
  });

  test('a log’s stretches are listed, and evaluated without a reading', async () => {
    const rows = Array.from({ length: 48 }, (_, i) => {
      const out = i < 20;
      return `${new Date(Date.UTC(2024, 4, 1, 18) + i * 1_800_000).toISOString()},0,${out ? 4000 : 300},${out ? 0 : 300},${out ? 4000 : 0},${Math.max(50, 100 - 2.5 * i)}`;
    });
    const log = file('night.csv', `time,solar_w,load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`);
    const { code, out } = await tally('trials', '--system', system, '--log', log);
    expect(code).toBe(0);
    const { stretches } = JSON.parse(out) as {
      stretches: { kind: string; deltaSoc: number; delivered: number; from: string; to: string }[];
    };
    expect(stretches[0]).toMatchObject({ kind: 'drawdown' });
    expect(stretches[0]!.deltaSoc).toBeGreaterThan(0.4);
    const own = file(
      'of-log.json',
      JSON.stringify({
        schema: 'long-tally/trial@1',
        kind: 'drawdown',
        from: stretches[0]!.from,
        to: stretches[0]!.to,
      }),
    );
    const evaluated = await tally('trial', own, '--system', system, '--log', log);
    expect(JSON.parse(evaluated.out)).toMatchObject({
      figures: { 'trial.delivered': { value: stretches[0]!.delivered, basis: { source: 'log' } } },
    });
  });

  test('combinations over a leg’s limit, with one to three inverters', async () => {
    const list = file(
      'appliances.json',
      JSON.stringify({
        schema: 'long-tally/appliances@1',
        appliances: [
          { name: 'heater', watts: 2000, leg: 1 },
          { name: 'oven', watts: 2000, leg: 2 },
          { name: 'kettle', watts: 1600, leg: 1 },
        ],
      }),
    );
    const { code, out } = await tally('combinations', list, '--system', system, '--units', '1..3');
    expect(code).toBe(0);
    const { units } = JSON.parse(out) as { units: { units: number; combinations: object[] }[] };
    expect(units.map((one) => [one.units, one.combinations.length])).toEqual([
      [1, 1],
      [2, 0],
      [3, 0],
    ]);
  });

  test('wrong input ends with 2 and names the key, a wrong call with 1', async () => {
    const bad = file(
      'bad-trial.json',
      '{"schema":"long-tally/trial@1","kind":"drawdown","readings":[{"at":"2024-05-01T20:00:00Z","soc":85}]}',
    );
    expect(await tally('trial', bad, '--system', system)).toMatchObject({
      code: 2,
      err: expect.stringMatching(
        /bad-trial\.json, key readings\[0\]\.soc: Found 85\. Write the charge as a share/,
      ),
    });
    expect((await tally('trial', trial(805))).code).toBe(1);
    expect((await tally('combinations', bad, '--system', system, '--units', 'many')).code).toBe(2);
  });
});

describe('a what-if on the command line', () => {
  const rows = Array.from({ length: 20 * 24 }, (_, i) => {
    const hour = i % 24;
    const sun = hour >= 9 && hour < 15 ? 5000 : 0;
    const battery = sun > 0 ? -4000 : hour >= 18 && hour < 23 ? 4000 : 0;
    const load = hour >= 18 && hour < 23 ? 4500 : 800;
    return `${new Date(Date.UTC(2024, 4, 1) + i * 3_600_000).toISOString()},${sun},${load},${load - sun - battery},${battery},${hour >= 15 && hour < 19 ? 90 : 50}`;
  });
  const log = file('whatif.csv', `time,solar_w,load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`);
  const scenario = (name: string, change: object) =>
    file(`${name}.json`, JSON.stringify({ schema: 'long-tally/scenario@1', name, change }));

  test('prints the base against the log, each scenario with its differences, and the sweep with its knee', async () => {
    const { code, out, err } = await tally(
      'whatif',
      '--system',
      system,
      '--log',
      log,
      '--scenario',
      scenario('none', {}),
      '--scenario',
      scenario('without', { noBattery: true }),
      '--sweep',
      'battery.modules=1..4',
    );
    expect([code, err]).toEqual([0, '']);
    const told = JSON.parse(out) as {
      schema: string;
      base: { modelled: Record<string, { value: number }>; errors: Record<string, number> };
      scenarios: {
        name: string;
        figures: Record<string, { value: number; basis: { difference: { value: number } } }>;
      }[];
      sweep: { at: number }[];
    };
    expect(told.schema).toBe('long-tally/whatif@1');
    expect(told.scenarios.map(({ name }) => name)).toEqual(['none', 'without']);
    expect(told.scenarios[0]!.figures['account.import']!.value).toBe(
      told.base.modelled['account.import']!.value,
    );
    expect(told.scenarios[1]!.figures['account.import']!.basis.difference.value).toBeGreaterThan(100);
    expect(typeof told.base.errors['account.import']).toBe('number');
    expect(told.sweep.map(({ at }) => at)).toEqual([1, 2, 3, 4]);
  });

  test('refuses what it cannot mean, naming the key; a call without a scenario is wrong', async () => {
    const bad = scenario('bad', { battery: { colour: 'red' } });
    expect(await tally('whatif', '--system', system, '--log', log, '--scenario', bad)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/bad\.json, key change\.battery.*colour/),
    });
    expect((await tally('whatif', '--system', system, '--log', log)).code).toBe(1);
    expect(
      (await tally('whatif', '--system', system, '--log', log, '--sweep', 'battery.modules=1..100000')).code,
    ).toBe(1);
  });

  test('a gain moves the knee, appliances are held against inverters, a storm is planned for', async () => {
    const appliances = file(
      'starts.json',
      JSON.stringify({ appliances: [{ name: 'saw', watts: 2000, startFactor: 6 }] }),
    );
    const asked = ['whatif', '--system', system, '--log', log, '--sweep', 'battery.modules=1..4'];
    const told = async (...more: string[]) =>
      JSON.parse((await tally(...asked, ...more)).out) as {
        knee: { at: number } | null;
        inverters: { highestW: number; counts: { failingStarts: string[] }[] } | null;
      };
    const plain = await told();
    const eager = await told('--gain', '0.9', '--appliances', appliances);
    expect(eager.knee!.at).toBe(1);
    expect(eager.inverters!.highestW).toBe(4500);
    expect(plain.inverters!.counts[0]!.failingStarts).toEqual([]);
    expect((await tally(...asked, '--gain', '2')).code).toBe(1);
    const storm = await tally('storm', '--system', system, '--log', log, '--at', '2026-05-08T18:00');
    expect(JSON.parse(storm.out)).toMatchObject({
      full: { survive24: { value: expect.any(Number) } },
      days: expect.any(Number),
    });
    expect((await tally('storm', '--system', system, '--log', log)).err).toMatch(/--at 2026-12-03T18:00/);
    expect(await tally('storm', '--system', system, '--log', log, '--at', '2026-12-08T18:00')).toMatchObject({
      code: 2,
      err: expect.stringMatching(/within three weeks/),
    });
  });
});
