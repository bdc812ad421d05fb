import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readFile, surveyFile } from '../readLog.js';
import type { System } from '../../system/schema.js';
import { solarNoonUtc } from '../../time/solarNoon.js';
import { bytesOf, read, testData } from '../../testing/logs.js';
import { CORPUS_HOME, series, type Interval } from '../../testing/shape.js';
import type { Recognition } from './recognise.js';
import { hintOf } from './words.js';

// Invented logs with known truth.
const FROM = Date.UTC(2024, 4, 2, 23);

async function recognised(text: string, system: System = CORPUS_HOME): Promise<Recognition> {
  const {
    surveys: [survey],
  } = await surveyFile('log.csv', () => bytesOf(text), system);
  return survey!.recognition;
}

/** A log of the series, each row as told; times are UTC without an offset. */
function table(
  header: string,
  row: (one: Interval) => readonly (string | number)[],
  days = 8,
  minutes = 15,
): string {
  const lines = series(FROM, days, minutes).map((one) =>
    [new Date(one.ms).toISOString().slice(0, 19).replace('T', ' '), ...row(one)].join(','),
  );
  return `${header}\n${lines.join('\n')}\n`;
}

const about = ({ conclusions }: Recognition, what: string) => conclusions.find((one) => one.about === what)!;
const column = ({ mapping }: Recognition, name: string) => mapping.columns.find((one) => one.column === name);

describe('header words', () => {
  test.each([
    ['PV Power [kW]', '', 'solar', 'kW'],
    ['Grid consumption (kWh)', '', 'import', 'kWh'],
    ['To grid Wh', '', 'export', 'Wh'],
    ['Feed-in', 'kW', 'export', 'kW'],
    ['Battery charge/discharge power W', '', 'battery', 'W'],
    ['batteryDischargePower', '', 'discharge', null],
    ['State of Charge', '%', 'soc', '%'],
    ['Battery %', '', 'soc', '%'],
    ['Battery temperature °C', '', 'batteryTemp', '°C'],
    ['Ambient temp (°F)', '', 'outdoorTemp', '°F'],
    ['Grid voltage V', '', 'gridV', 'V'],
    ['Grid frequency', 'Hz', 'gridHz', 'Hz'],
    ['Battery DC power W', '', 'batteryDc', 'W'],
    ['DC charge of the battery (W)', '', 'chargeDc', 'W'],
    ['dc_discharge_kwh', '', 'dischargeDc', 'kWh'],
    ['heat pump load W', '', 'load:heat pump', 'W'],
    ['Solar to battery kWh', '', null, 'kWh'],
    ['Inverter temperature °C', '', null, '°C'],
    ['Firmware', '', null, null],
  ])('%s with %s under it is %s in %s', (header, unit, role, hinted) => {
    expect([hintOf(header, unit).role, hintOf(header, unit).unit]).toEqual([role, hinted]);
  });

  test('no word breaks it', () => {
    fc.assert(fc.property(fc.string(), fc.string({ maxLength: 6 }), (a, b) => void hintOf(a, b)));
  });
});

describe('a battery metered on its DC side, one column each way', () => {
  const text = table('Time,Load W,DC charge W,DC discharge W,SOC %', ({ load, battery, soc }) => [
    load,
    Math.max(0, -battery),
    Math.max(0, battery),
    soc,
  ]);

  test('stays on its DC side, and its power is discharge less charge', async () => {
    const found = await recognised(text);
    expect(['DC charge W', 'DC discharge W'].map((name) => column(found, name)?.quantity)).toEqual([
      'chargeDc',
      'dischargeDc',
    ]);
    const [read] = await readFile('log.csv', () => bytesOf(text), CORPUS_HOME);
    expect([...read!.log.columns.keys()].sort()).toEqual(['batteryDc', 'load', 'soc']);
    expect([...read!.log.columns.get('batteryDc')!.values]).toEqual(
      series(FROM, 8, 15).map(({ battery }) => battery),
    );
  });

  test('exchanged names are found by the state of charge and asked about', async () => {
    const found = await recognised(text.replace('DC charge W,DC discharge W', 'DC discharge W,DC charge W'));
    expect(column(found, 'DC discharge W')?.quantity).toBe('chargeDc');
    expect(about(found, 'column:DC discharge W').asks).toBe(true);
  });
});

describe('the clock', () => {
  test('is UTC where the sun says so: at the other end of the world the site’s clock would put noon at midnight', async () => {
    const auckland: System = {
      ...CORPUS_HOME,
      timeZone: 'Pacific/Auckland',
      latitude: -36.9,
      longitude: 174.6,
    };
    // Twelve hours later the same sun stands over Auckland.
    const shifted = table('Time,PV W,Load W', ({ solar, load }) => [solar, load]).replace(
      /^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d/gm,
      (text) =>
        new Date(Date.parse(`${text}Z`) - 12.2 * 3_600_000).toISOString().slice(0, 19).replace('T', ' '),
    );
    const found = await recognised(shifted, auckland);
    expect([found.mapping.time.zone, about(found, 'time.zone').asks]).toEqual(['UTC', false]);
    expect(about(found, 'time.zone').evidence.join(' ')).toMatch(
      /read in Pacific\/Auckland, the middle of the solar day lies 1[12]\.\d h/,
    );
  });

  test('labels at the end are told by how the state of charge moves with the battery', async () => {
    const list = series(FROM, 10, 15);
    const lines = list.map(
      ({ ms, battery }, i) =>
        `${new Date(ms + 900_000).toISOString()},${battery},${(list[i + 1] ?? list[i]!).soc}`,
    );
    const found = await recognised(`Stamp,Battery W,SOC %\n${lines.join('\n')}\n`);
    expect(found.mapping.time.marks).toBe('end');
    expect(about(found, 'time.marks').evidence[0]).toMatch(/battery's power of the next row/);
  });

  test('the sun stands highest when an almanac says: NREL/TP-560-34302, 17 October 2003 at 105.1786° west', () => {
    const spa = testData('spa_example.json') as { local: string; lon: number };
    // The example's equation of time is 14.641503 minutes (from memory): noon at 12 + 105.1786/15 − 14.6415/60.
    expect(solarNoonUtc(Date.parse(spa.local), spa.lon)).toBeCloseTo(12 - spa.lon / 15 - 14.641503 / 60, 1);
  });
});

describe('what the rows say against the header', () => {
  test('a sign named one way and found the other is asked, with both readings', async () => {
    const found = await recognised(
      table('Time,PV W,Load W,Grid W (+export),Battery W,SOC', ({ solar, load, grid, battery, soc }) => [
        solar,
        load,
        grid,
        battery,
        soc,
      ]),
    );
    const conclusion = about(found, 'column:Grid W (+export)');
    expect([conclusion.asks, column(found, 'Grid W (+export)')!.sign]).toEqual([true, 1]);
    expect(conclusion.evidence.at(-1)).toBe('its name says the opposite');
    expect(conclusion.alternatives).toEqual([{ says: 'the sign its name gives', set: { sign: -1 } }]);
  });

  test('an import that goes below zero is import less export', async () => {
    const found = await recognised(
      table('Time,PV W,Load W,Import W,Battery W', ({ solar, load, grid, battery }) => [
        solar,
        load + 500,
        grid + 500,
        battery,
      ]),
    );
    expect(column(found, 'Import W')).toMatchObject({ quantity: 'grid', sign: 1 });
    expect(about(found, 'column:Import W').evidence.join('; ')).toMatch(
      /goes both ways.*the account closes to 0 %/,
    );
  });

  test('a column without a known word is asked about when it runs as solar or a state of charge does, else left', async () => {
    const found = await recognised(
      table('Time,ch1,ch2,ch3,Load W', ({ solar, soc, load }) => [solar, soc, 7, load]),
    );
    expect([about(found, 'column:ch1').says, about(found, 'column:ch1').asks]).toEqual([
      'solar, power, in W',
      true,
    ]);
    expect(about(found, 'column:ch2').says).toBe('soc, in %');
    expect(found.ignored).toEqual(['ch3']);
  });

  test('without any unit two that are both plausible are asked; with energies named they are not', async () => {
    const half = ({ solar, load }: Interval) => [solar / 2000, load / 2000];
    const open = await recognised(table('Time,Solar,Load', half, 8, 30));
    expect(about(open, 'column:Solar').asks).toBe(true);
    expect(about(open, 'column:Solar').alternatives.map(({ set }) => set['unit'])).toEqual(['kWh']);
    const named = await recognised(table('Time,Solar kWh,Load kWh', half, 8, 30));
    expect([column(named, 'Solar kWh')!.kind, about(named, 'column:Solar kWh').asks]).toEqual([
      'energy',
      false,
    ]);
  });

  test('Fahrenheit is told from Celsius by its size where nothing is written', async () => {
    const found = await recognised(table('Time,Load W,Outdoor temperature', ({ load }) => [load, 68]));
    expect(column(found, 'Outdoor temperature')!.unit).toBe('°F');
  });

  test('every conclusion has evidence and a confidence', async () => {
    const found = await recognised(
      table('Time,PV,Load,Grid,Battery,SOC', ({ solar, load, grid, battery, soc }) => [
        solar,
        load,
        grid,
        battery,
        soc,
      ]),
    );
    for (const { evidence, confidence, says } of found.conclusions) {
      expect(evidence.length).toBeGreaterThan(0);
      expect([says, confidence > 0 && confidence <= 1]).toEqual([says, true]);
    }
  });
});

describe('a shunt that logs volts and amps', () => {
  // By hand: 20 A at 52 V charge for five hours of three days, 8 A discharge for the rest; the shunt counts charging positive.
  const rows = Array.from({ length: 864 }, (_, i) => {
    const hour = (i / 12) % 24;
    return {
      at: new Date(Date.UTC(2024, 4, 1) + i * 300_000).toISOString(),
      amps: hour > 9 && hour < 14 ? 20 : -8,
    };
  });
  const text = (names: string, withSoc: boolean) => {
    let soc = 50;
    const lines = rows.map(({ at, amps }) => {
      const line = `${at},52.0,${amps}${withSoc ? `,${soc.toFixed(1)}` : ''}`;
      soc = Math.min(100, Math.max(5, soc + (amps * 52 * 100) / 12 / 10_000));
      return line;
    });
    return `${names}\n${lines.join('\n')}\n`;
  };
  test.each([
    ['a foreign file', 'Time,Bank Voltage (V),Shunt Current (A),SOC (%)'],
    ['a canonical log', 'time,battery_v,battery_a,soc_pct'],
  ])('is battery power in %s, its sign by the state of charge', async (_of, names) => {
    const { log } = await read(text(names, true), 'shunt.csv');
    const { values } = log.columns.get('batteryDc')!;
    expect(values[12 * 12]).toBeCloseTo(-20 * 52, 6);
    expect(values[0]).toBeCloseTo(8 * 52, 6);
  });
  test('asks for its sign where nothing tells', async () => {
    await expect(read(text('Time,Bank Voltage (V),Shunt Current (A)', false), 'shunt.csv')).rejects.toThrow(
      /do not tell whether positive is discharge or charge/,
    );
  });
});

describe('parts that a foreign file names', () => {
  const rolesOf = async (header: readonly string[], row: (solar: number) => readonly number[]) => {
    const rows = Array.from({ length: 576 }, (_, i) => {
      const solar = Math.max(0, Math.round(4000 * Math.sin(((i % 288) / 144 - 0.5) * Math.PI)));
      return `${new Date(Date.UTC(2024, 4, 1) + i * 300_000).toISOString()},${row(solar).join(',')}`;
    });
    const { mapping } = await recognised(`Time,${header.join(',')}\n${rows.join('\n')}\n`);
    return mapping.columns.map(({ quantity }) => quantity);
  };
  test('strings are arrays of their own; beside their sum they are no solar twice', async () => {
    expect(
      await rolesOf(['PV1 Power (W)', 'PV2 Power (W)', 'Load (W)'], (w) => [w * 0.6, w * 0.4, 500]),
    ).toEqual(['solar:pv1', 'solar:pv2', 'load']);
    expect(
      await rolesOf(['PV (W)', 'East roof PV (W)', 'West roof PV (W)', 'Load (W)'], (w) => [
        w,
        w * 0.6,
        w * 0.4,
        500,
      ]),
    ).toEqual(['solar', 'solar:east roof pv', 'solar:west roof pv', 'load']);
  });
  test('a string with half of the panels is no sum of the others', async () => {
    expect(
      await rolesOf(['PV1 (W)', 'PV2 (W)', 'PV3 (W)', 'Load (W)'], (w) => [w, w * 0.5, w * 0.5, 500]),
    ).toEqual(['solar:pv1', 'solar:pv2', 'solar:pv3', 'load']);
    expect(
      await rolesOf(['South PV (W)', 'East PV (W)', 'West PV (W)', 'Load (W)'], (w) => [
        w,
        w * (w % 2),
        w * (1 - (w % 2)),
        500,
      ]),
    ).toEqual(['solar', 'solar:east pv', 'solar:west pv', 'load']);
    expect(
      await rolesOf(['South PV (W)', 'East PV (W)', 'West PV (W)', 'Load (W)'], (w) => [
        w,
        Math.round(w * (0.5 + 0.4 * Math.cos(w))),
        Math.round(w * 0.5),
        500,
      ]),
    ).toEqual(['solar:south pv', 'solar:east pv', 'solar:west pv', 'load']);
  });
  test('the mean temperature of a service is the weather; that of cells is not', () => {
    expect(hintOf('Average temperature', '°C').role).toBe('outdoorTemp');
    for (const device of ['Average cell temperature', 'Mean MOSFET temperature', 'Average module temp'])
      expect([device, hintOf(device, '°C').role]).toEqual([device, null]);
  });
  test('appliances have their names, whatever their accents', async () => {
    expect(
      await rolesOf(['PV (W)', 'Load (W)', 'Wärmepumpe Leistung (W)', 'Wallbox (W)'], (w) => [
        w,
        900,
        300,
        200,
      ]),
    ).toEqual(['solar', 'load', 'load:wärmepumpe', 'load:wallbox']);
  });
});
