import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import { logOf, reportOf, systemOf, TEN_KWH, valueOf, type Row } from '../../testing/logs.js';
import { daysBetween } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';
import { powerSeries } from '../../views/powerSeries.js';
import { rollOf } from '../../views/roll.js';
import { longTest } from '../../testing/long.js';

const START = '2024-01-01T00:00:00Z';
const system = systemOf(TEN_KWH);

describe('grid-free days', () => {
  /** Days on the battery with a trickle of so many W, on every fourth of them 2 kWh bought besides. */
  const days = (count: number, trickleW: number): Row[] =>
    Array.from({ length: count * 24 }, (_, i) => {
      const bought = Math.floor(i / 24) % 4 === 3 && i % 24 < 2 ? 1000 : 0;
      const grid = trickleW + bought;
      return { solar_w: 0, load_w: 600 + bought, grid_w: grid, battery_w: 600 + bought - grid, soc_pct: 60 };
    });

  test('a trickle near the limit decides nothing by itself, and the days beyond it are counted apart', async () => {
    const { figures } = await reportOf(system, days(40, 20), START, 3600);
    const all = figures['account.gridFreeDays']!;
    // 20 W over 24 h are 0.48 kWh, and a meter's zero of 5 W moves that by 0.12.
    expect([all.value, all.low, all.high]).toEqual([30, 0, 30]);
    expect(all.assumptions.join(' ')).toMatch(/trickle alone lies so near the limit .* on 30 of 40 days/);
    const beyond = figures['account.gridFreeDays.beyondTrickle']!;
    expect([beyond.value, beyond.low, beyond.high]).toEqual([30, 30, 30]);
  });

  longTest('the limit is the home’s own where it states one', async () => {
    const rows = days(40, 20);
    const strict = await reportOf({ ...system, gridFreeKWh: 0.2 }, rows, START, 3600);
    expect(strict.figures['account.gridFreeDays']!.value).toBe(0);
    expect(strict.days.every(({ gridFree }) => gridFree === false)).toBe(true);
    const wide = await reportOf({ ...system, gridFreeKWh: 3 }, rows, START, 3600);
    expect(wide.figures['account.gridFreeDays']!.value).toBe(40);
    expect(wide.figures['account.gridFreeDays']!.basis['limitKWh']).toBe(3);
  });

  test('a home without a grid has none', async () => {
    const alone = { ...system, configurations: [{ ...system.configurations![0]!, grid: 'none' as const }] };
    const { figures, days: told } = await reportOf(alone, days(3, 0), START, 3600);
    expect(figures['account.gridFreeDays']!.reason).toMatch(/has no grid/);
    expect(told.map(({ gridFree }) => gridFree)).toEqual([null, null, null]);
  });
});

describe('missing is missing', () => {
  const day = Array.from(
    { length: 288 },
    (_, i): Row =>
      ({
        solar_w: 0,
        load_w: 600,
        grid_w: 600,
        battery_w: 0,
        soc_pct: 50,
        ...(i >= 100 && i < 148 ? { load_w: undefined } : {}),
      }) as Row,
  );

  test('a gap is told with its hours and stays out of the total', async () => {
    const figures = await reportOf(system, day, START, 300);
    expect(valueOf(figures, 'account.load')).toBeCloseTo(0.6 * 20, 9);
    expect(figures.coverage.share).toBeCloseTo(20 / 24, 9);
    expect(figures.coverage.gaps).toEqual([
      { from: '2024-01-01T08:20:00Z', to: '2024-01-01T12:20:00Z', hours: 4, quantities: ['load'] },
    ]);
    expect(figures.days[0]!.gridFree).toBeNull();
    expect(figures.figures['account.gridFreeDays']!.status).toBe('insufficient');
    expect(figures.findings.map(({ code }) => code)).toContain('gaps');
  });

  test('a quantity that is not logged is not measured, with what would supply it, and never zero', async () => {
    const figures = await reportOf(system, [{ load_w: 500 }, { load_w: 500 }], START, 3600);
    for (const key of [
      'account.solar',
      'account.import',
      'account.selfSufficiency.grid',
      'account.losses',
      'wear.efc.nameplate',
      'losses.roundTrip.counter',
    ]) {
      const figure = figures.figures[key]!;
      expect([key, figure.value, figure.low, figure.high, figure.status]).toEqual([
        key,
        null,
        null,
        null,
        'not-measured',
      ]);
      expect(figure.reason).toBeTruthy();
    }
    expect(figures.days[0]!.solar).toBeNull();
  });

  test('a system that describes no battery has no capacity to refer to, and says so', async () => {
    const bare = { schema: 'long-tally/system@1', name: 'Bare', timeZone: 'UTC' } as const;
    const figures = await reportOf(bare, day, START, 300);
    expect(figures.figures['wear.efc.nameplate']!.reason).toMatch(/not described/);
    expect(figures.figures['account.storeChange']!.reason).toMatch(/usable capacity is not known/);
    expect(figures.findings.map(({ code }) => code)).toContain('no-configuration');
  });

  test('one channel derived: closed by construction, and the closing error is not measured', async () => {
    const figures = await reportOf(
      system,
      [
        { solar_w: 500, load_w: 400, battery_w: -50 },
        { solar_w: 0, load_w: 400, battery_w: 300 },
      ],
      START,
      3600,
    );
    expect(figures.figures['account.closingError']!.reason).toMatch(/Closed by construction: grid/);
    expect(figures.figures['account.import']).toMatchObject({ value: 0.1, status: 'estimated' });
    expect(figures.findings.map(({ code }) => code)).toContain('closed-by-construction');
  });
});

describe('what explains a day', () => {
  // A day of hours: outage at 3, empty battery at 5, grid charging at 8, a load over the limit at 20.
  const hours = Array.from({ length: 24 }, (): Row => ({
    solar_w: 0,
    load_w: 300,
    grid_w: 0,
    battery_w: 300,
    soc_pct: 60,
    grid_v: 230,
  }));
  hours[3] = { ...hours[3], grid_v: 0 };
  hours[5] = { ...hours[5], battery_w: 0, grid_w: 300, soc_pct: 10 };
  hours[8] = { ...hours[8], battery_w: -2000, grid_w: 2300 };
  hours[20] = { ...hours[20], load_w: 7200, battery_w: 6000, grid_w: 1200 };
  hours[13] = { ...hours[13], solar_w: 900, battery_w: -600 };

  test('stands in the roll with its time', async () => {
    const [day] = rollOf(prepare(system, [await logOf(hours, START, 3600)]));
    const at = (hour: number) => Date.parse(START) + hour * 3_600_000;
    expect(day!.notes).toEqual([
      { kind: 'outage', hours: 1, atMs: at(3), isPlanned: false },
      { kind: 'battery-empty', atMs: at(5) },
      { kind: 'grid-charged', kWh: 2 },
      { kind: 'over-limit', atMs: at(20), kW: 7.2 },
    ]);
    expect([day!.import, day!.gridFree]).toEqual([3.8, false]);
  });

  test('and in the course of the day: the crossing, the highest load, the outage', async () => {
    const prepared = prepare(system, [await logOf(hours, START, 3600)]);
    const course = powerSeries(
      prepared,
      daysBetween(zoneOf('UTC'), Date.parse(START), Date.parse(START) + 1)[0]!,
    );
    expect(course.carriedFromMs).toBe(Date.parse(START) + 13 * 3_600_000);
    expect(course.peak).toEqual({ atMs: Date.parse(START) + 20 * 3_600_000, watts: 7200 });
    expect([...course.gridDown].indexOf(1)).toBe(3);
    expect(course.limits.batteryOnlyW).toBe(6000);
  });

  test('the headroom says by how much the load was too high', async () => {
    const figures = await reportOf(system, hours, START, 3600);
    expect(valueOf(figures, 'peak.load')).toBeCloseTo(7.2, 9);
    expect(valueOf(figures, 'peak.headroom.batteryOnly')).toBeCloseTo(-1.2, 9);
  });
});
