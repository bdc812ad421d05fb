import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  analyse,
  endMs,
  isoOf,
  outagesView,
  parseReadings,
  parseSystem,
  partsView,
  prepare,
  readFile,
  readingsLog,
  report as reportOf,
  type Report,
  whatif,
} from '@long-tally/core';
import type { TrueStop } from './secondsHome.js';
import type { Truth } from './truth.js';
import { longTest } from '../../core/src/testing/long.js';

// A simulation with known truth: the demo home is invented, its generator writes what really happened beside the log.
const folder = fileURLToPath(new URL('../homes/kauri-bend/', import.meta.url));
const generator = fileURLToPath(new URL('./main.ts', import.meta.url));
const generate = () =>
  execFileSync(process.execPath, ['--import', 'tsx', generator], {
    env: { ...process.env, NODE_OPTIONS: '' },
  });
const FILES = [
  'kauri-bend/kauri-bend.csv',
  'koca-pod-skalo/koca-pod-skalo.zip',
  'casa-da-azenha/inverter.csv',
  'casa-da-azenha/contador.csv',
  'casa-da-azenha/precos.csv',
  'juniper-wash/juniper-wash.csv.gz',
  'larch-row/application-by-month.csv',
  'larch-row/meter-by-month.csv',
  'larch-row/roofs-and-car.csv',
  'larch-row/readings.csv',
];
const hash = () =>
  FILES.map((file) =>
    createHash('sha256')
      .update(readFileSync(`${folder}../${file}`))
      .digest('hex'),
  );

let truth: Truth;
let report: Report;

beforeAll(async () => {
  if (!FILES.every((file) => existsSync(`${folder}../${file}`))) generate();
  truth = JSON.parse(readFileSync(`${folder}truth.json`, 'utf8')) as Truth;
  const system = parseSystem(readFileSync(`${folder}system.json`, 'utf8'), 'system.json');
  const logs = await readFile('kauri-bend.csv', () => createReadStream(`${folder}kauri-bend.csv`), system);
  report = analyse(
    system,
    logs.map(({ log }) => log),
  );
});

describe('the truth of the demo home is recovered', () => {
  const classes = { solar: 0.03, load: 0.02, import: 0.02, export: 0.02, charge: 0.03, discharge: 0.03 };

  test.each(Object.entries(classes))(
    '%s within the class of its meter, and inside its interval',
    (key, share) => {
      const figure = report.figures[`account.${key}`]!;
      const real = truth.logged[key as keyof typeof classes];
      expect(Math.abs(figure.value! - real)).toBeLessThan(share * real);
      expect(figure.low! <= real && real <= figure.high!).toBe(true);
    },
  );

  test('round trip within one point, by both methods', () => {
    for (const key of ['losses.roundTrip.fullToFull', 'losses.roundTrip.counter']) {
      const figure = report.figures[key]!;
      expect(Math.abs(figure.value! - truth.roundTrip)).toBeLessThan(0.01);
      expect(figure.low! <= truth.roundTrip && truth.roundTrip <= figure.high!).toBe(true);
    }
  });

  test('equivalent full cycles within 1 %, over the change of configuration', () => {
    const figure = report.figures['wear.efc.nameplate']!;
    expect(Math.abs(figure.value! / truth.logged.efcNameplate - 1)).toBeLessThan(0.01);
    expect(figure.basis['configurations']).toEqual(['two modules', 'three modules']);
  });

  test('the losses of the account hold the difference of the true flows', () => {
    const { solar, import: bought, load, export: sold } = truth.totals;
    const figure = report.figures['account.losses']!;
    const real = solar + bought - load - sold;
    expect(figure.low! < real && real < figure.high!).toBe(true);
  });

  test('idle draw and conversion lie where the truth is, and the firmware that raised the draw is dated', () => {
    const { idleW, idleAfterW, chargeEfficiency, dischargeEfficiency, firmware, from, to } = truth.parameters;
    // Seen from the meter the cells' own draw has to be charged first.
    const [before, after] = [idleW / chargeEfficiency, idleAfterW / chargeEfficiency];
    const share = (Date.parse(firmware) - Date.parse(from)) / (Date.parse(to) - Date.parse(from));
    const idle = report.figures['losses.idle.battery']!;
    expect(Math.abs(idle.value! - (before * share + after * (1 - share)))).toBeLessThan(1.5);
    const lambda = report.figures['losses.conversion.discharge']!;
    expect(Math.abs(lambda.value! - (1 / (chargeEfficiency * dischargeEfficiency) - 1))).toBeLessThan(0.005);
    const steps = report.findings.filter(({ code }) => code === 'idle-step');
    expect(steps).toHaveLength(1);
    expect(Math.abs(Date.parse(steps[0]!.from!) - Date.parse(firmware))).toBeLessThan(3 * 86_400_000);
    expect(report.figures['losses.idle.rest']!.value).toBeGreaterThan(idleW * 0.9);
    expect(report.figures['losses.idle.rest']!.value).toBeLessThan(idleAfterW);
  });

  test('every outage longer than the log’s step shows on its day', () => {
    const seen = report.findings.find(({ code }) => code === 'outage')!;
    const hours = truth.outages.reduce((sum, { minutes }) => sum + minutes / 60, 0);
    const told = Number(/down for ([\d.]+) h/.exec(seen.message)![1]);
    // The log marks a step of 5 minutes by its start, so each outage may gain or lose one.
    expect(Math.abs(told - hours)).toBeLessThan((truth.outages.length * 5) / 60 + 0.1);
  });
});

describe('the other two homes, read from their differently shaped files without a question', () => {
  longTest.each([
    ['koca-pod-skalo', ['koca-pod-skalo.zip'], ['solar', 'load', 'charge', 'discharge']],
    [
      'casa-da-azenha',
      ['inverter.csv', 'contador.csv'],
      ['solar', 'load', 'import', 'export', 'charge', 'discharge'],
    ],
  ])('%s gives its totals within the classes of its meters', async (id, files, keys) => {
    const own = fileURLToPath(new URL(`../homes/${id}/`, import.meta.url));
    const { totals } = JSON.parse(readFileSync(`${own}truth.json`, 'utf8')) as {
      totals: Record<string, number>;
    };
    const system = parseSystem(readFileSync(`${own}system.json`, 'utf8'), 'system.json');
    const read = await Promise.all(
      files.map((file) => readFile(file, () => createReadStream(own + file), system)),
    );
    const logs = read.flat().map(({ log }) => log);
    const { figures, findings } = analyse(system, logs);
    for (const key of keys) {
      const figure = figures[`account.${key}`]!;
      // Within a step charge and discharge cancel: up to 3 % of what the battery moves.
      expect([key, Math.abs(figure.value! / totals[key]! - 1) < 0.035]).toEqual([key, true]);
      expect(figure.high! * 1.01).toBeGreaterThan(totals[key]!);
    }
    expect(findings.filter(({ proposal }) => proposal)).toEqual([]);
    expect(analyse(system, [...logs].reverse()).figures).toEqual(figures);
  });

  longTest(
    'the hut’s two inverters are found to draw what they draw, on top of the battery’s own',
    async () => {
      const own = fileURLToPath(new URL('../homes/koca-pod-skalo/', import.meta.url));
      const { parameters, heldBackKWh } = JSON.parse(readFileSync(`${own}truth.json`, 'utf8')) as {
        parameters: Record<'idleW' | 'tareW' | 'chargeEfficiency' | 'solarToAc', number>;
        heldBackKWh: number;
      };
      const system = parseSystem(readFileSync(`${own}system.json`, 'utf8'), 'system.json');
      const file = 'koca-pod-skalo.zip';
      const logs = await readFile(file, () => createReadStream(own + file), system);
      const prepared = prepare(
        system,
        logs.map(({ log }) => log),
      );
      const range = { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };
      const { figures } = reportOf(prepared, range);
      const tare = figures['losses.idle.inverter']!;
      expect(Math.abs(tare.value! - parameters.tareW)).toBeLessThan(0.02 * parameters.tareW);
      expect(tare.low! <= parameters.tareW && parameters.tareW <= tare.high!).toBe(true);
      expect(Math.abs((tare.basis['dischargeEfficiency'] as number) - parameters.solarToAc)).toBeLessThan(
        0.01,
      );
      const idle = figures['losses.idle.battery']!;
      const real = parameters.idleW / parameters.chargeEfficiency;
      expect(idle.low! <= real && real <= idle.high!).toBe(true);
      const rest = figures['losses.unexplained']!;
      expect(rest.low! < 0.15 * figures['account.losses']!.value!).toBe(true);
      // By day the sun carries that draw, by night the battery: the model of the home does the same.
      const { base } = whatif(prepared, range, figures, {});
      // Three quarters of its sun could not be used, so that too few hours show what it could have been: the figure is refused, and
      // what the model finds of it is told to be the least.
      expect(figures['solar.heldBack']!.status).toBe('insufficient');
      expect(base.modelled['solar.heldBack']!.value!).toBeLessThan(heldBackKWh);
      expect(base.causes).toContainEqual(expect.stringMatching(/at least what is given here/));
      for (const key of ['account.charge', 'account.discharge', 'wear.efc.nameplate'])
        expect([key, Math.abs(base.modelled[key]!.value! / figures[key]!.value! - 1) < 0.02]).toEqual([
          key,
          true,
        ]);
    },
  );

  longTest(
    'every stop of the cabin is told with its cause and the seconds it was dark, and solar held back by the frequency',
    async () => {
      const own = fileURLToPath(new URL('../homes/juniper-wash/', import.meta.url));
      const { stops, heldBackKWh } = JSON.parse(readFileSync(`${own}truth.json`, 'utf8')) as {
        stops: readonly TrueStop[];
        heldBackKWh: number;
      };
      const system = parseSystem(readFileSync(`${own}system.json`, 'utf8'), 'system.json');
      const file = 'juniper-wash.csv.gz';
      const logs = await readFile(file, () => createReadStream(own + file), system);
      const prepared = prepare(
        system,
        logs.map(({ log }) => log),
      );
      const { peaks, sun } = outagesView(prepared, {
        fromMs: prepared.log.startMs,
        toMs: endMs(prepared.log),
      });
      const told = peaks.stops.map(({ atMs, restartMs, cause }) => ({
        at: isoOf(atMs),
        cause,
        darkS: (restartMs! - atMs) / 1000,
      }));
      expect(told).toEqual(stops);
      expect(new Set(stops.map(({ cause }) => cause))).toEqual(new Set(['leg', 'total', 'low-charge']));
      expect(peaks.stops.map(({ fault }) => fault)).toEqual([
        'F04 overload, leg 1',
        'F06 output limited at low charge',
        'F11 battery below cut-off',
        'F04 overload, leg 2',
      ]);
      const held = sun.figures['solar.heldBack']!;
      expect(held.low! <= heldBackKWh && heldBackKWh <= held.high!).toBe(true);
      expect(sun.months.some(({ causes }) => causes.frequency)).toBe(true);
    },
  );

  test('statements, typed readings and a log of parts of the row house give its totals, its car and the tree before its roof', async () => {
    const own = fileURLToPath(new URL('../homes/larch-row/', import.meta.url));
    const truth = JSON.parse(readFileSync(`${own}truth.json`, 'utf8')) as {
      totals: Record<string, number>;
      carKWhPerKm: number;
    };
    const system = parseSystem(readFileSync(`${own}system.json`, 'utf8'), 'system.json');
    const logs = await Promise.all(
      ['application-by-month.csv', 'meter-by-month.csv', 'roofs-and-car.csv'].map(async (file) =>
        (await readFile(file, () => createReadStream(own + file), system)).map(({ log }) => log),
      ),
    );
    const readings = parseReadings(readFileSync(`${own}readings.csv`, 'utf8'), 'readings.csv');
    const prepared = prepare(system, [...logs.flat(), readingsLog(readings)!]);
    const range = { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };
    const { figures, findings } = reportOf(prepared, range);
    for (const [flow, kWh] of Object.entries(truth.totals)) {
      const { value, low, high } = figures[`account.${flow}`]!;
      expect([flow, low! <= kWh && kWh <= high!, Math.abs(value! / kWh - 1) < 0.003]).toEqual([
        flow,
        true,
        true,
      ]);
    }
    // The readings run over the ends of months: the months still count whole.
    const byMeter = figures['account.selfSufficiency.grid']!;
    expect(byMeter.value).toBeCloseTo(1 - truth.totals['import']! / truth.totals['load']!, 2);
    const lost = truth.totals['charge']! - truth.totals['discharge']!;
    const { low, high } = figures['account.losses']!;
    expect(low! <= lost && lost <= high!).toBe(true);
    expect(findings.find(({ code }) => code === 'totals-differ')!.message).toMatch(
      /meter-by-month\.csv counts .* application-by-month\.csv/,
    );
    const [east, west, car] = partsView(prepared, range, readings);
    const { perUnit } = car!.uses[0]!;
    expect(perUnit!.low <= truth.carKWhPerKm && truth.carKWhPerKm <= perUnit!.high).toBe(true);
    const behind = (month: string) =>
      west!.months.find((one) => one.month === month)!.ofClearSky! /
      east!.months.find((one) => one.month === month)!.ofClearSky!;
    // From 10 July a tree takes 12 % of the west roof.
    expect(behind('2024-09') / behind('2024-06')).toBeCloseTo(0.88, 1);
  });

  longTest('the utility meter of the terrace house leads the totals of the grid', async () => {
    const own = fileURLToPath(new URL('../homes/casa-da-azenha/', import.meta.url));
    const { totals } = JSON.parse(readFileSync(`${own}truth.json`, 'utf8')) as {
      totals: Record<string, number>;
    };
    const system = parseSystem(readFileSync(`${own}system.json`, 'utf8'), 'system.json');
    const logsOf = async (file: string) =>
      (await readFile(file, () => createReadStream(own + file), system)).map(({ log }) => log);
    const both = analyse(system, [...(await logsOf('inverter.csv')), ...(await logsOf('contador.csv'))]);
    // The meter counts 0.2 % too much, the inverter's clamp 2.5 % too little.
    expect(both.figures['account.import']!.value! / totals['import']!).toBeCloseTo(1.002, 3);
    expect(both.figures['account.export']!.value! / totals['export']!).toBeCloseTo(1.002, 3);
    expect(both.findings.filter(({ code }) => code === 'meter-leads')).toHaveLength(2);
    for (const key of ['import', 'export']) {
      const { value, low, high } = both.figures[`account.${key}`]!;
      expect(low! <= totals[key]! && totals[key]! <= high!).toBe(true);
      // A meter of its class leads: 1 % either way, not a clamp with its zero.
      expect((high! - low!) / value!).toBeCloseTo(0.02, 9);
    }
  });
});

test('three years at 5 minutes, with daylight saving, gaps and both configurations', () => {
  expect(report.range).toMatchObject({ days: 1096, timeZone: 'Pacific/Auckland' });
  expect(report.coverage.share).toBeGreaterThan(0.98);
  expect(report.coverage.gaps.some(({ hours }) => hours > 48)).toBe(true);
});

longTest('the generator writes the same bytes every time', () => {
  const before = hash();
  generate();
  expect(hash()).toEqual(before);
});
