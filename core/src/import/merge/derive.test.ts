import { describe, expect, test } from '@jest/globals';
import { analyse } from '../../report/report.js';
import { logOf, systemOf, TEN_KWH } from '../../testing/logs.js';
import { mergeSources } from './mergeSources.js';

const START = '2024-01-01T00:00:00Z';
const system = systemOf(TEN_KWH);

describe('derived channels', () => {
  test('the one of four that is not logged is what the others leave over', async () => {
    const source = await logOf(
      [
        { solar_w: 3000, load_w: 700, battery_w: -2000 },
        { solar_w: 0, load_w: 700, battery_w: 650 },
      ],
      START,
      3600,
    );
    const grid = mergeSources([source], 'UTC', []).log.channels.get('grid')!;
    expect([grid.origin, ...grid.values]).toEqual(['derived', -300, 50]);
    expect(grid.sources).toEqual(['solar', 'battery', 'load']);
  });

  test('a home without a grid has grid power zero, and it is never derived', async () => {
    const source = await logOf(
      [
        { load_w: 700, battery_w: 650 },
        { load_w: 700, battery_w: 650 },
      ],
      START,
      3600,
    );
    const { channels } = mergeSources([source], 'UTC', [{ fromMs: -Infinity, toMs: Infinity }]).log;
    expect([channels.get('grid')!.origin, ...channels.get('grid')!.values]).toEqual(['known', 0, 0]);
    expect([...channels.get('solar')!.values]).toEqual([50, 50]);
  });
});

describe('a home that goes off the grid later', () => {
  test('keeps what was logged before, and knows the grid to be zero after', async () => {
    const rows = Array.from({ length: 4 }, () => ({ load_w: 700, grid_w: 500, battery_w: 200, solar_w: 0 }));
    const source = await logOf(rows, START, 3600);
    const off = [{ fromMs: Date.parse('2024-01-01T02:00:00Z'), toMs: Infinity }];
    const grid = mergeSources([source], 'UTC', off).log.channels.get('grid')!;
    expect([grid.origin, ...grid.values]).toEqual(['logged', 500, 500, 0, 0]);
    expect([...source.columns.get('grid')!.values]).toEqual([500, 500, 500, 500]);
    const home = {
      ...system,
      configurations: [
        { from: '2023-01-01T00:00:00Z', grid: 'connected' as const },
        { from: '2024-01-01T02:00:00Z', grid: 'none' as const },
      ],
    };
    expect(analyse(home, [source]).figures['account.import']!.value).toBeCloseTo(1, 9);
  });
});
