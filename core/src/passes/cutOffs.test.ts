import { describe, expect, test } from '@jest/globals';
import { prepare } from './prepare.js';
import { logOf, systemOf, TEN_KWH, type Row } from '../testing/logs.js';

const START = '2024-01-01T00:00:00Z';

/** What is found in quarters of an hour of a 10 kWh battery; powers in W, charge in %. */
async function found(
  rows: readonly (readonly [battery: number, load: number, soc: number])[],
  grid?: 'none',
) {
  const base = systemOf(TEN_KWH);
  const system = grid ? { ...base, configurations: [{ ...base.configurations![0]!, grid } as const] } : base;
  const list: Row[] = rows.map(([battery_w, load_w, soc_pct]) => ({
    battery_w,
    load_w,
    soc_pct,
    solar_w: 0,
    grid_w: grid ? 0 : load_w - battery_w,
  }));
  const { cutOffs } = prepare(system, [await logOf(list, START, 900)]);
  return cutOffs.map(({ atMs, soc }) => [(atMs - Date.parse(START)) / 900_000, Math.round(100 * soc)]);
}

const times = <T>(count: number, row: T): T[] => new Array<T>(count).fill(row);

describe('a battery that has no more to give', () => {
  test('falls from work to rest near empty while the home needs it, and is charged before it gives again', async () => {
    expect(
      await found([
        ...times(4, [600, 600, 12] as const),
        ...times(6, [0, 600, 8] as const),
        ...times(4, [-900, 300, 14] as const),
        ...times(2, [600, 600, 14] as const),
      ]),
    ).toEqual([[4, 8]]);
  });

  test('one that was parked gives again uncharged; one told to stop high up, or by a load that ended, is none', async () => {
    const parked = [
      ...times(4, [600, 600, 12] as const),
      ...times(6, [0, 600, 12] as const),
      ...times(4, [600, 600, 12] as const),
      ...times(4, [-900, 300, 20] as const),
    ];
    expect(await found(parked)).toEqual([]);
    const high = [
      ...times(4, [600, 600, 55] as const),
      ...times(4, [0, 600, 50] as const),
      ...times(4, [-900, 300, 60] as const),
    ];
    expect(await found(high)).toEqual([]);
    const ended = [
      ...times(4, [600, 600, 12] as const),
      ...times(4, [0, 100, 10] as const),
      ...times(4, [-900, 300, 20] as const),
    ];
    expect(await found(ended)).toEqual([]);
  });

  test('without a grid the home goes dark with it', async () => {
    const dark = [
      ...times(4, [600, 600, 8] as const),
      ...times(20, [0, 0, 4] as const),
      ...times(4, [-900, 200, 9] as const),
    ];
    expect(await found(dark, 'none')).toEqual([[4, 4]]);
  });

  test('one that rests for more than three days is not told apart from one switched off', async () => {
    const off = [
      ...times(4, [600, 600, 8] as const),
      ...times(300, [0, 600, 4] as const),
      ...times(4, [-900, 200, 9] as const),
    ];
    expect(await found(off)).toEqual([]);
  });
});
