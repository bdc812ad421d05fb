import { describe, expect, test } from '@jest/globals';
import { PLAIN_HOME, systemOf } from '../../testing/logs.js';
import { runtimeHours } from '../shared/homeStorage.js';
import { describedRunsOn } from './describedRuntime.js';

describe('a runtime without a log', () => {
  const home = systemOf({ modules: 3, moduleKWh: 13.5, usableShare: 1 });
  test('of 3 × 13.5 kWh at 64 % and 3.3 kW is 7.8 h', () => {
    // Common practice, no published source: 40.5 kWh × 0.64 ÷ 3.3 kW.
    const { value, low, high } = runtimeHours(describedRunsOn(home)!, 0.64, 3300, 0);
    expect(Math.floor(value * 10) / 10).toBe(7.8);
    expect(low).toBeLessThan(7.2);
    expect(high).toBeGreaterThan(8.4);
  });
  test('counts the stated idle draw and stops at the cut-off', () => {
    const [only] = home.configurations!;
    const battery = { ...only!.battery, cutOff: 0.1 };
    const runsOn = describedRunsOn({
      ...home,
      configurations: [{ ...only!, battery, inverter: { statedIdleW: 200 } }],
    })!;
    expect(runtimeHours(runsOn, 0.64, 3300, 0).value).toBeCloseTo((0.54 * 40.5) / 3.5, 6);
  });
  test('needs the capacity', () => expect(describedRunsOn(PLAIN_HOME)).toBeNull());
});
