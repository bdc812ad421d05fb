import { describe, expect, test } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import { CORPUS_HOME } from '../testing/shape.js';
import { logOf } from '../testing/logs.js';
import { iso } from '../testing/spoiltHome.js';

describe('a meter with a floor', () => {
  const rows = (floor: number) =>
    Array.from({ length: 400 }, (_, i) => {
      const watts = Math.round(60 * Math.sin(i / 7));
      return { battery_w: Math.abs(watts) < floor ? 0 : watts, soc_pct: 50 };
    });
  const floorOf = async (floor: number) => prepare(CORPUS_HOME, [await logOf(rows(floor), iso, 300)]);

  test('is found by what it never reads, told, and counted as a doubt; one without is not', async () => {
    const home = await floorOf(15);
    expect(home.floorW).toBeGreaterThanOrEqual(15);
    expect(home.floorW).toBeLessThan(18);
    expect(home.findings.find(({ code }) => code === 'meter-floor')!.message).toMatch(
      /between 0 and 1[5-7] W/,
    );
    expect((await floorOf(0)).floorW).toBe(0);
    expect((await floorOf(0)).findings.map(({ code }) => code)).not.toContain('meter-floor');
  });
});
