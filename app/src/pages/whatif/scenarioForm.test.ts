import { describe, expect, test } from '@jest/globals';
import type { ScenarioFile } from '@long-tally/core';
import { formOfScenario, scenarioOfForm } from './scenarioForm.js';

const EMPTY = formOfScenario(null);
const FULL: ScenarioFile = {
  schema: 'long-tally/scenario@1',
  name: 'much',
  change: {
    battery: { modules: 4, reserve: 0.3, usableShare: 0.9 },
    inverter: { batteryOnlyKW: 7, units: 2 },
    exportLimitKW: 3,
    idleW: 20,
    arraysScale: { all: 1.5, 'north roof': 0 },
    chargeWindows: [
      { start: '23:00', end: '05:00', toSoc: 0.85, months: [11, 12, 1, 2] },
      { start: '13:00', end: '15:00', toSoc: 1 },
    ],
    addLoads: [{ name: 'car', kWhPerDay: 8, start: '23:00', end: '05:00', kW: 7 }],
    surplusLoad: { kW: 2, aboveSoc: 0.9 },
    heatPump: { kWhPerDegreeDay: 0.6, baseC: 16, kW: 4 },
    strategy: 'cheap-charge',
    knowsTomorrow: true,
    coupling: 'ac',
    gridChargeLimitKW: 8,
    shiftLoads: [
      { name: 'boiler', to: 'surplus' },
      { name: 'car', to: 'night' },
    ],
    removeLoads: ['pool', 'sauna'],
    outage: { share: 0.5, capKW: 2, without: ['oven'] },
  },
  price: 4500,
};

describe('the form of a change', () => {
  test('loses nothing that it does not show', () => {
    expect(scenarioOfForm(formOfScenario(FULL), FULL)).toEqual(FULL);
  });
  test('what is emptied stays as it is in the home', () => {
    const form = {
      ...formOfScenario(FULL),
      modules: '',
      loadName: '',
      loadKWh: '',
      loadKW: '',
      surplusKW: '',
    };
    const { change } = scenarioOfForm(form, FULL) as ScenarioFile;
    expect(change.battery).toEqual({ reserve: 0.3, usableShare: 0.9 });
    expect(change.addLoads).toBeUndefined();
    expect(change.surplusLoad).toBeUndefined();
  });
  test('percent, commas and short times are read', () => {
    const form = {
      ...EMPTY,
      name: ' four ',
      reserve: '12,5',
      windowStart: '9:00',
      windowEnd: '11:30',
      windowTo: '80',
      without: 'solar' as const,
    };
    expect(scenarioOfForm(form, null)).toEqual({
      schema: 'long-tally/scenario@1',
      name: 'four',
      change: {
        battery: { reserve: 0.125 },
        chargeWindows: [{ start: '09:00', end: '11:30', toSoc: 0.8 }],
        noSolar: true,
      },
    });
  });
  test('what cannot be is said of its part', () => {
    expect(scenarioOfForm({ ...EMPTY, modules: '3' }, null)).toMatch(/name/);
    expect(scenarioOfForm({ ...EMPTY, name: 'x' }, null)).toMatch(/at least one thing/);
    expect(scenarioOfForm({ ...EMPTY, name: 'x', modules: '1000000' }, null)).toMatch(/^The battery/);
    expect(scenarioOfForm({ ...EMPTY, name: 'x', modules: 'many' }, null)).toMatch(/^The battery/);
    expect(scenarioOfForm({ ...EMPTY, name: 'x', windowStart: '23:00' }, null)).toMatch(
      /^The charging at night/,
    );
    expect(scenarioOfForm({ ...EMPTY, name: 'x', loadName: 'car' }, null)).toMatch(/^The load that is added/);
    expect(scenarioOfForm({ ...EMPTY, name: 'x', modules: '3', price: 'much' }, null)).toMatch(
      /^What it costs/,
    );
  });
});
