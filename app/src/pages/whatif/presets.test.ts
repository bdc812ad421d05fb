import { afterEach, describe, expect, test } from '@jest/globals';
import {
  configurationAt,
  configurationsOf,
  DEFAULT_SETTINGS,
  parseScenario,
  type System,
  type SystemConfiguration,
} from '@long-tally/core';
import { showAs } from '../../ui/format.js';
import { CROSSINGS } from './crossings.js';
import { presetsOf } from './presets.js';

const AUCKLAND = { timeZone: 'Pacific/Auckland' };
const configured = (described: Omit<SystemConfiguration, 'from'>) => {
  const system: System = {
    schema: 'long-tally/system@1',
    name: 'Mill Lane',
    timeZone: 'UTC',
    configurations: [{ from: '2022-01-01T00:00:00Z', ...described }],
  };
  return configurationAt(configurationsOf(system), Date.UTC(2024, 0, 1));
};
const sayingsOf = (
  described: Omit<SystemConfiguration, 'from'>,
  place: Parameters<typeof presetsOf>[1] = AUCKLAND,
) => presetsOf(configured(described), place).map(({ says }) => says);
afterEach(() => showAs(DEFAULT_SETTINGS));

describe('what people ask of a home', () => {
  test('counts from the modules and the reserve it has', () => {
    const says = sayingsOf({ battery: { modules: 3, moduleKWh: 5, reserve: 0.155 } });
    expect(says).toContain('another module: 3 → 4');
    expect(says).toContain('twice the modules: 3 → 6');
    expect(says).toContain('keep more for storms: reserve 16 % → 40 %');
  });

  test('charges in the winter of the place: each half of the world has its own, and none is guessed', () => {
    const nightly = (place: Parameters<typeof presetsOf>[1]) => {
      const found = presetsOf(configured({}), place).find(({ says }) => says.startsWith('charge at night'))!;
      return [found.says, found.change.chargeWindows![0]!.months];
    };
    expect(nightly(AUCKLAND)).toEqual(['charge at night from May to August, to 80 %', [5, 6, 7, 8]]);
    expect(nightly({ timeZone: 'Europe/Lisbon' })).toEqual([
      'charge at night from November to February, to 80 %',
      [11, 12, 1, 2],
    ]);
    expect(nightly({ timeZone: 'Asia/Kolkata' })).toEqual(['charge at night, to 80 %', undefined]);
    expect(nightly({ timeZone: 'Asia/Kolkata', latitude: 19 })[0]).toMatch(/November to February/);
  });

  test('asks nothing of a grid where there is none', () => {
    const says = sayingsOf({ grid: 'none', battery: { modules: 1, moduleKWh: 10 } });
    for (const word of ['reserve', 'charge at night', 'no solar'])
      expect(says.filter((one) => one.includes(word))).toEqual([]);
    expect(says).toContain('no battery');
  });

  test('is a scenario file each, with a name of its own', () => {
    const presets = presetsOf(configured({ battery: { modules: 2, moduleKWh: 5 } }), AUCKLAND);
    expect(new Set(presets.map(({ says }) => says)).size).toBe(presets.length);
    for (const { says, change } of presets) {
      const text = JSON.stringify({ schema: 'long-tally/scenario@1', name: says, change });
      expect(parseScenario(text, says).change).toEqual(change);
    }
  });
});

test('what modules are set against is told in the marks of the reader', () => {
  showAs({ ...DEFAULT_SETTINGS, numbers: '1.234,5' });
  expect(CROSSINGS.panels.says(1.25)).toBe('panels × 1,25');
  expect(CROSSINGS.panels.says(1)).toBe('panels as they are');
  expect(CROSSINGS.reserve.says(0.3)).toBe('reserve 30 %');
});
