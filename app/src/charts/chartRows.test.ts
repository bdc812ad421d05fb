import { describe, expect, test } from '@jest/globals';
import type { Figure, ScenarioOutcome, WearView } from '@long-tally/core';
import {
  capacityRows,
  clockRows,
  courseRows,
  depthRows,
  flowRows,
  lossRows,
  paybackRows,
  powerRows,
  roundTripRows,
  survivalRows,
  sweepRows,
  tareRows,
  windowRows,
} from './chartRows.js';
import type { DrawnRun } from './ScenarioCourses.js';

const kWh = (value: number | null, low = value, high = value) =>
  ({ unit: 'kWh', value, low, high }) as unknown as Figure;
const course = (name: string, curve: ScenarioOutcome['curve']) =>
  ({ scenario: { name }, curve }) as unknown as ScenarioOutcome;

describe('a chart as a table', () => {
  test('has a row for each flow that is known, with its interval', () => {
    const figures = {
      'account.flow.solarToLoad': kWh(119.34, 115.7, 122.8),
      'account.flow.gridToStore': kWh(10.2, 9.6, 10.8),
      'account.flow.storeToLoad': kWh(null),
    };
    expect(flowRows(figures).rows).toEqual([
      ['S solar gave', 'load', '119.3', '115.7 – 122.8'],
      ['G grid gave', 'store', '10.2', '9.6 – 10.8'],
    ]);
    expect(lossRows({ 'account.load': kWh(5), 'losses.unexplained': kWh(-2, -4, 1) }).rows).toEqual([
      ['load', '5.0', '5.0 – 5.0'],
      ['of them unexplained', '−2.0', '−4.0 – 1.0'],
    ]);
  });

  test('shares the cycle life used among the depths, all of it and no more', () => {
    const depths = [
      { from: 0.1, count: 30, damage: 0.001 },
      { from: 0.9, count: 10.5, damage: 0.003 },
    ];
    expect(depthRows({ depths } as unknown as WearView).rows).toEqual([
      ['10 – 20', '30.0', '25.0'],
      ['90 – 100', '10.5', '75.0'],
    ]);
    const none = depthRows({ depths: [{ from: 0, count: 0, damage: 0 }] } as unknown as WearView);
    expect(none.rows).toEqual([['0 – 10', '0.0', '']]);
  });

  test('reads survival off the curve: the step of an hour counts from that hour on', () => {
    const two = survivalRows(
      [
        course('whole home', [
          { hours: 0, share: 1 },
          { hours: 12, share: 0.5 },
          { hours: 40, share: 0.25 },
        ]),
        course('essentials', [{ hours: 0, share: 1 }]),
      ],
      72,
    );
    expect(two.head).toEqual(['hours', 'whole home, % last longer', 'essentials, % last longer']);
    const at = (hour: string) => two.rows.find(([hours]) => hours === hour);
    expect(at('12')).toEqual(['12', '100.0', '100.0']);
    expect(at('18')).toEqual(['18', '50.0', '100.0']);
    expect(at('72')).toEqual(['72', '25.0', '100.0']);
    expect(at('84')).toBeUndefined();
  });

  test('leaves what is not known empty, never nought', () => {
    const runs: DrawnRun[] = [
      { name: 'logged', ink: '', dash: '', hours: { soc: [0.5, null], missingW: [null, 1500] } },
      { name: 'modelled', ink: '', dash: '', hours: { soc: [1], missingW: [0] } },
    ];
    expect(courseRows(runs, 'bought', (hour) => `${hour} h`).rows).toEqual([
      ['0 h', '50', '', '100', '0.00'],
      ['1 h', '', '1.50', '', ''],
    ]);
    const power = {
      ...{ startMs: Date.UTC(2024, 0, 1, 11), stepMs: 300_000, solar: null, grid: null, battery: null },
      ...{ load: Float64Array.of(1234, NaN), soc: Float64Array.of(0.5, 0.6) },
    } as unknown as Parameters<typeof powerRows>[0];
    expect(powerRows(power, 'Europe/Paris')).toEqual({
      head: ['from', 'load, kW', 'charge, %'],
      rows: [
        ['12:00', '1.234', '50.0'],
        ['12:05', '', '60.0'],
      ],
    });
    const month = { fromMs: Date.UTC(2024, 4, 1), toMs: Date.UTC(2024, 5, 1), value: 0.8, quartiles: null };
    const months = roundTripRows({ months: [month] } as unknown as Parameters<typeof roundTripRows>[0]);
    expect(months.rows).toEqual([['May 2024', '80.0', '', '']]);
  });

  test('names windows by the site’s clock, estimates by what they are from, and what lies ahead as a trend', () => {
    const at = Date.UTC(2024, 4, 1, 22, 30);
    const window = { fromMs: at, toMs: at + 86_400_000, dischargeADay: 4.236, lossADay: 0.5 };
    const losses = { stretches: [{ windows: [window] }] } as unknown as Parameters<typeof windowRows>[0];
    expect(windowRows(losses, 'Europe/Paris').rows).toEqual([
      ['2 May 2024, 00:30', '3 May 2024, 00:30', '4.24', '0.50'],
    ]);
    const estimate = { atMs: at, kWh: 9.5, low: 9, high: 10 };
    const wear = {
      estimates: [
        { ...estimate, kind: 'segment', direction: 'discharge' },
        { ...estimate, kind: 'full-run', direction: 'discharge' },
        { ...estimate, kind: 'trial', direction: 'discharge' },
      ],
      trend: { fan: [{ atMs: at + 365 * 86_400_000, value: 9.25, low: 8, high: 10 }] },
    } as unknown as WearView;
    expect(capacityRows(wear, 'UTC').rows).toEqual([
      ['1 May 2024', 'discharge', '9.50', '9.00', '10.00'],
      ['1 May 2024', 'full to cut-off', '9.50', '9.00', '10.00'],
      ['1 May 2024', 'trial', '9.50', '9.00', '10.00'],
      ['1 May 2025', 'if the trend continues', '9.25', '8.00', '10.00'],
    ]);
  });

  test('tells a warranty’s limits with the dates on which they are reached, where they are', () => {
    const year = (of: number) => Date.UTC(of, 5, 15);
    const clocks = [
      {
        limit: 'years',
        used: { value: 0.25 },
        runsOutMs: { value: year(2033), low: year(2033), high: year(2033) },
      },
      { limit: 'throughput', used: { value: 0.1 }, runsOutMs: null },
    ];
    const { rows } = clockRows({ clocks } as unknown as Parameters<typeof clockRows>[0]);
    expect(rows.map((cells) => cells.slice(1))).toEqual([
      ['25.0', 'Jun 2033', 'Jun 2033', 'Jun 2033'],
      ['10.0', '', '', ''],
    ]);
  });

  test('has a cell under every head, with the currency where one is known', () => {
    const point = { atMs: Date.UTC(2030, 0, 1), value: -1234.4, low: -1300, high: -1100 };
    const fan = { points: [point] } as unknown as Parameters<typeof paybackRows>[0];
    const tables = [
      paybackRows(fan, 'NZD'),
      paybackRows(fan, ''),
      sweepRows([{ at: 2, share: 0.5, low: 0.4, high: 0.6 }], 'modules', 'self-sufficiency'),
      tareRows({ points: [[500, 640]] } as unknown as Parameters<typeof tareRows>[0]),
    ];
    for (const { head, rows } of tables) for (const row of rows) expect(row).toHaveLength(head.length);
    expect(tables[0]!.head[1]).toBe('saved less paid, NZD');
    expect(tables[1]!.head[1]).toBe('saved less paid');
    expect(tables[0]!.rows[0]!.slice(1)).toEqual(['−1,234', '−1,300', '−1,100']);
    expect(tables[2]!.rows).toEqual([['2', '50.0', '40.0', '60.0']]);
    expect(tables[3]!.rows).toEqual([['0.500', '0.640']]);
  });
});
