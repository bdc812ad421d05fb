import { describe, expect, test } from '@jest/globals';
import { getPosition } from 'suncalc';
import { analyse } from '../../report/report.js';
import { simulatedSun, type SunTruth } from '../../testing/sun.js';
import { reportOf, systemOf, TEN_KWH } from '../../testing/logs.js';
import { clearSky } from './clearSky.js';
import { longTest } from '../../testing/long.js';

// Simulated, with known truth.
const HOME: SunTruth = {
  seed: 4,
  days: 200,
  stepSeconds: 900,
  coupling: 'ac',
  kWp: 7,
  ratingKW: 5,
  exportLimitKW: null,
  hasGrid: true,
  capacityKWh: 10,
};
const figuresOf = (truth: SunTruth) => {
  const { log, system, lost } = simulatedSun(truth);
  return { ...analyse(system, [log]), lost };
};

describe('solar that was not made', () => {
  longTest.each([
    ['clipped at the rating of the arrays’ own inverter', HOME, 'clipped'],
    ['clipped behind a hybrid', { ...HOME, coupling: 'dc', ratingKW: 4 }, 'clipped'],
    ['held back with nothing to sell to', { ...HOME, kWp: 5, ratingKW: 6, exportLimitKW: 0 }, 'heldBack'],
    ['held back at the export limit', { ...HOME, ratingKW: 7, exportLimitKW: 2 }, 'heldBack'],
    [
      'held back at the export limit, behind a full battery that draws much itself',
      { ...HOME, ratingKW: 7, exportLimitKW: 2, idleW: 260 },
      'heldBack',
    ],
    [
      'held back at the export limit, with a battery that takes no more',
      { ...HOME, kWp: 8, ratingKW: 8, exportLimitKW: 3, capacityKWh: 25 },
      'heldBack',
    ],
    [
      'held back without a grid',
      { ...HOME, coupling: 'dc', kWp: 4, ratingKW: 6, hasGrid: false },
      'heldBack',
    ],
  ] as const)('%s is told within a tenth, and its interval holds the truth', (_, truth, which) => {
    const { figures, lost, findings } = figuresOf(truth);
    const figure = figures[`solar.${which}`]!;
    expect(Math.abs(figure.value! / lost[which] - 1)).toBeLessThan(0.12);
    expect(figure.low! <= lost[which] && lost[which] <= figure.high!).toBe(true);
    expect(findings.map(({ code }) => code)).toContain(
      which === 'clipped' ? 'solar-clipped' : 'solar-held-back',
    );
  });

  longTest(
    'where nothing is clipped nothing is told of it, and a home that sells everything holds nothing back',
    () => {
      const { figures } = figuresOf({ ...HOME, kWp: 5, ratingKW: 6 });
      expect(figures['solar.clipped']!.value).toBe(0);
      expect(figures['solar.heldBack']!.value).toBe(0);
    },
  );

  longTest('what a battery on the DC side took beyond the inverter is its gain', () => {
    const { figures, lost } = figuresOf({ ...HOME, coupling: 'dc', ratingKW: 3, capacityKWh: 20 });
    const gain = figures['solar.dcGain']!;
    expect(lost.dcGain).toBeGreaterThan(5);
    expect(gain.low! <= lost.dcGain && lost.dcGain <= gain.high!).toBe(true);
    expect(Math.abs(gain.value! / lost.dcGain - 1)).toBeLessThan(0.2);
  });

  test('7 kW of panels behind 6 kW: 1 kW is clipped, of which a battery on the DC side takes its share (common practice)', async () => {
    const home = systemOf(TEN_KWH);
    const system = {
      ...home,
      configurations: [
        { ...home.configurations![0]!, coupling: 'dc' as const, inverter: { continuousKW: 6 } },
      ],
    };
    // Two hours at 7 kW, the inverter giving 6 kW to the grid, the battery taking what is over; an inverter of 96 %.
    const rows = Array.from({ length: 96 }, (_, i) => ({
      solar_w: i >= 40 && i < 48 ? 7000 : 1000,
      load_w: 500,
      grid_w: i >= 40 && i < 48 ? -5500 : -300,
      battery_dc_w: i >= 40 && i < 48 ? -(7000 - 6000 / 0.96) : 0,
      soc_pct: 60,
    }));
    const { figures } = await reportOf(system, rows, '2024-06-01T00:00:00Z', 900);
    expect(figures['solar.dcGain']!.value).toBeCloseTo(2 * (7 - 6 / 0.96), 3);
    expect(figures['solar.clipped']!.value).toBe(0);
  });

  test('export that earns nothing is surplus beside what was held back; months of a rate count', async () => {
    const home = systemOf(TEN_KWH);
    const rows = Array.from({ length: 48 }, (_, i) => ({
      solar_w: i % 24 === 12 ? 3000 : 0,
      load_w: 1000,
      grid_w: i % 24 === 12 ? -2000 : 1000,
      battery_w: 0,
      soc_pct: 50,
    }));
    const surplusOf = async (tariff: object) =>
      (
        await reportOf(
          { ...home, tariffs: [{ from: '2024-01-01', import: [{ rate: 0.3 }], ...tariff }] },
          rows,
          '2024-06-01T00:00:00Z',
          3600,
        )
      ).figures['solar.surplus']!;
    expect((await surplusOf({ export: [{ rate: 0.05 }] })).value).toBe(0);
    expect((await surplusOf({ export: [{ rate: 0.05, months: [1] }] })).value).toBeCloseTo(4, 9);
    expect((await surplusOf({ export: [{ rate: 0.05 }], exportScheme: 'none' })).value).toBeCloseTo(4, 9);
    const blind = await reportOf(home, rows, '2024-06-01T00:00:00Z', 3600);
    expect(blind.figures['solar.surplus']!.reason).toMatch(/a tariff in the system would tell/);
  });

  test('a log without solar, or in steps of a day, says what is missing', async () => {
    const none = await reportOf(
      systemOf(TEN_KWH),
      [{ load_w: 1 }, { load_w: 2 }],
      '2024-06-01T00:00:00Z',
      3600,
    );
    expect(none.figures['solar.clipped']!.status).toBe('not-measured');
    expect(none.figures['solar.heldBack']!.reason).toMatch(/solar/);
    const rows = Array.from({ length: 20 }, () => ({ solar_w: 800, load_w: 500, soc_pct: 50 }));
    const coarse = await reportOf(systemOf(TEN_KWH), rows, '2024-06-01T00:00:00Z', 7200);
    expect(coarse.figures['solar.clipped']!.reason).toMatch(/known as totals only/);
  });
});

describe('a clear sky on arrays', () => {
  const place = { latitude: 45, longitude: 7 };
  const plane = (array: object, ms: number) =>
    clearSky({ ...place, arrays: [{ kWp: 5, ...array }] }, ms).plane;
  const MORNING = Date.UTC(2024, 5, 21, 7);

  test('an array that faces the sun gets all of the beam, one turned by 60° half of it, one turned away none', () => {
    const { altitude, azimuth } = getPosition(new Date(MORNING), place.latitude, place.longitude);
    const tilt = 90 - altitude;
    expect(plane({ tilt, azimuth }, MORNING)).toBeCloseTo(1, 9);
    expect(plane({ tilt: tilt - 60, azimuth }, MORNING)).toBeCloseTo(0.5, 9);
    expect(plane({ tilt: 90, azimuth: (azimuth + 180) % 360 }, MORNING)).toBe(0);
    expect(plane({}, MORNING)).toBeCloseTo(Math.sin((altitude * Math.PI) / 180), 9);
  });

  test('two arrays share by their size; the night gives nothing; the place of none is flat', () => {
    const east = { kWp: 3, tilt: 40, azimuth: 90 };
    const west = { kWp: 1, tilt: 40, azimuth: 270 };
    const both = clearSky({ ...place, arrays: [east, west] }, MORNING).plane;
    expect(both).toBeCloseTo(0.75 * plane(east, MORNING) + 0.25 * plane(west, MORNING), 9);
    expect(clearSky({ ...place, arrays: [] }, MORNING)).toEqual(
      clearSky({ ...place, arrays: [{ kWp: 1 }] }, MORNING),
    );
    expect(clearSky({ ...place, arrays: [] }, Date.UTC(2024, 5, 21, 23))).toEqual({ plane: 0, sky: 0 });
  });
});
