import { describe, expect } from '@jest/globals';
import { seededRandom } from '../statistics/random.js';
import { longTest } from '../testing/long.js';
import { reportOf, systemOf, TEN_KWH } from '../testing/logs.js';

const START = '2024-03-01T00:00:00Z';

// A simulation with known truth: meters whose gain and zero are drawn from their stated classes (95 % = two sigma).
describe('intervals hold the truth about as often as they say (simulation, known truth)', () => {
  longTest('totals, self-sufficiency and closing error over 200 homes with faulty meters', async () => {
    const random = seededRandom(2024);
    const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const held: Record<string, number> = {};
    const homes = 200;
    const system = {
      ...systemOf(TEN_KWH),
      accuracy: { solar: 0.03, load: 0.02, grid: 0.02, battery: 0.03, offsetW: 5 },
    };
    for (let home = 0; home < homes; home++) {
      const gain = {
        solar: 1 + 0.015 * normal(),
        load: 1 + 0.01 * normal(),
        grid: 1 + 0.01 * normal(),
        battery: 1 + 0.015 * normal(),
      };
      const zero = { load: 2.5 * normal(), grid: 2.5 * normal() };
      const truth = { load: 0, import: 0, export: 0, solar: 0 };
      const rows = Array.from({ length: 192 }, (_, i) => {
        const solar = Math.max(0, 3000 * Math.sin((Math.PI * ((i % 96) - 28)) / 40));
        const load = 300 + 900 * random();
        const battery = Math.max(-1200, Math.min(600, load - solar));
        const grid = load - solar - battery;
        truth.load += load / 4000;
        truth.solar += solar / 4000;
        truth.import += Math.max(0, grid) / 4000;
        truth.export += Math.max(0, -grid) / 4000;
        // A dead grid meter reads nothing: its zero shows only when something flows.
        return {
          solar_w: solar * gain.solar,
          load_w: load * gain.load + zero.load,
          grid_w: Math.abs(grid) < 1 ? 0 : grid * gain.grid + zero.grid,
          battery_w: battery * gain.battery,
        };
      });
      const { figures } = await reportOf(system, rows, START, 900);
      const real: Record<string, number> = {
        'account.load': truth.load,
        'account.solar': truth.solar,
        'account.import': truth.import,
        'account.export': truth.export,
        'account.selfSufficiency.grid': 1 - truth.import / truth.load,
        'account.closingError': 0,
      };
      for (const [key, value] of Object.entries(real)) {
        const { low, high } = figures[key]!;
        held[key] = (held[key] ?? 0) + (low! <= value && value <= high! ? 1 : 0);
      }
    }
    for (const [key, count] of Object.entries(held)) {
      expect([key, count / homes > 0.88]).toEqual([key, true]);
    }
  });
});
