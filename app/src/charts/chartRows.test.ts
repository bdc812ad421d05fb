import { describe, expect, test } from '@jest/globals';
import type { Figure, ScenarioOutcome, WearView } from '@long-tally/core';
import {
  courseRows,
  depthRows,
  flowRows,
  lossRows,
  powerRows,
  roundTripRows,
  survivalRows,
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
});
