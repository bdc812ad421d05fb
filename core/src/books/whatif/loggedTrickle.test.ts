import { describe, expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { HAND_HOME, hourlyLog } from '../../testing/handHome.js';
import { loggedTrickle } from './loggedTrickle.js';

// Invented data: by night the battery carries 600 W but for what trickles in; by day the sun does.
const isNight = (hour: number) => hour % 24 < 8 || hour % 24 >= 16;
const trickleOf = (
  days: number,
  gridAt: (hour: number) => number,
  socAt: (hour: number) => number = () => 0.6,
) => {
  const log = hourlyLog(days, (hour) => ({
    solar: isNight(hour) ? 0 : 2000,
    load: 600,
    grid: isNight(hour) ? gridAt(hour) : -900,
    battery: isNight(hour) ? 600 - gridAt(hour) : -500,
    soc: socAt(hour),
  }));
  const prepared = prepare(HAND_HOME, [log]);
  return loggedTrickle(rangeDataOf(prepared, { fromMs: log.startMs, toMs: endMs(log) }), 0.2);
};

describe('what is bought while the battery could give more', () => {
  test('is the mean of it, over and under what is called a trickle in the account', () => {
    expect(trickleOf(30, () => 80)).toBeCloseTo(80, 6);
    expect(trickleOf(30, (hour) => (hour % 2 === 0 ? 20 : 40))).toBeCloseTo(30, 0);
  });

  test('is nothing where the grid is held at zero, or a little is sold', () => {
    expect(trickleOf(30, () => 0)).toBe(0);
    expect(trickleOf(30, () => -5)).toBe(0);
  });

  test('counts no hour that begins or ends near the reserve, nor one that is bought for the most part', () => {
    expect(
      trickleOf(
        60,
        (hour) => (hour % 24 < 4 ? 250 : 50),
        (hour) => (hour % 24 < 5 ? 0.22 : 0.6),
      ),
    ).toBeCloseTo(50, 6);
    expect(trickleOf(60, (hour) => (hour % 24 < 4 ? 400 : 50))).toBeCloseTo(50, 6);
  });

  test('is not told by a few hours', () => {
    expect(trickleOf(10, () => 80)).toBeNull();
  });
});
