import { describe, expect, test } from '@jest/globals';
import { analyse } from '../../report/report.js';
import type { SourceLog } from '../../model/log.js';
import { PLAIN_HOME, read } from '../../testing/logs.js';
import { seededRandom } from '../../statistics/random.js';
import { mergeSources } from './mergeSources.js';
import { isLong } from '../../testing/long.js';

const START = Date.UTC(2024, 4, 1);
const MINUTES = 12 * 1440;

/** Twelve days of a home's grid power, minute by minute, invented: a sun, an evening, appliances that come and go. */
const random = seededRandom(8);
const grid = new Float64Array(MINUTES);
let appliance = 0;
for (let i = 0; i < MINUTES; i++) {
  const hour = (i / 60) % 24;
  if (random() < 0.02) appliance = random() < 0.5 ? 0 : 2500 * random();
  const sun = Math.max(0, 2500 * Math.sin((Math.PI * (hour - 6)) / 12));
  grid[i] = 300 + appliance + (hour > 18 && hour < 22 ? 600 : 0) - sun;
}
const iso = (ms: number) => new Date(ms).toISOString();

/** The clamp's log of minutes; its gain changes from day to day by up to a twelfth. */
const clampText = `time,grid_w\n${Array.from(grid, (value, i) => `${iso(START + i * 60_000)},${(value * (1 + 0.08 * Math.sin(i / 700))).toFixed(2)}`).join('\n')}\n`;

/** The utility meter's quarter hours, by a clock that is off by so many minutes. */
function meterText(slowMinutes: number): string {
  const rows: string[] = [];
  for (let i = 30; i + 45 < MINUTES; i += 15) {
    let [bought, sold] = [0, 0];
    // What the meter stamps with a clock that is slow happened later than the stamp says.
    for (let k = i + slowMinutes; k < i + slowMinutes + 15; k++) {
      bought += Math.max(0, grid[k]!) / 60_000;
      sold += Math.max(0, -grid[k]!) / 60_000;
    }
    rows.push(`${iso(START + i * 60_000)},${bought.toFixed(4)},${sold.toFixed(4)}`);
  }
  return `Start,Import (kWh),Export (kWh)\n${rows.join('\n')}\n`;
}

async function sourcesOf(slowMinutes: number): Promise<SourceLog[]> {
  const [clamp, meter] = await Promise.all([
    read(clampText, 'clamp.csv'),
    read(meterText(slowMinutes), 'meter.csv'),
  ]);
  return [clamp.log, meter.log];
}

describe('a clock that is off by some minutes', () => {
  const LAGS = [
    [7, '7 min slow: its stamps are 7 min too early', 7],
    [-4, '4 min fast: its stamps are 4 min too late', -4],
    [22, '22 min slow: its stamps are 22 min too early', 22],
  ] as const;
  test.each(isLong ? LAGS : LAGS.slice(0, 1))(
    'by %d is found to the minute, with its direction',
    async (slow, words, byMinutes) => {
      const report = analyse(PLAIN_HOME, await sourcesOf(slow));
      const told = report.findings.find(({ code }) => code === 'clocks-differ')!;
      expect(told.message).toContain(`Against clamp.csv the clock of meter.csv is ${words}`);
      expect(told.proposal).toMatchObject({ kind: 'shift', source: 'meter.csv', byMs: byMinutes * 60_000 });
      const mended = analyse(PLAIN_HOME, await sourcesOf(slow), undefined, [told.proposal!]);
      expect(mended.findings.map(({ code }) => code)).not.toContain('clocks-differ');
    },
  );
  test('is not seen in one that is right', async () => {
    const report = analyse(PLAIN_HOME, await sourcesOf(0));
    expect(report.findings.map(({ code }) => code)).not.toContain('clocks-differ');
  });
});

describe('a utility meter', () => {
  test('leads within each of its own intervals, not by one factor for all', async () => {
    const [clamp, meter] = await sourcesOf(0);
    const { log } = mergeSources([clamp!, meter!], 'UTC', []);
    const { values } = log.channels.get('grid')!;
    let worst = 0;
    for (let i = 30; i + 45 < MINUTES; i += 15) {
      let [merged, truth] = [0, 0];
      for (let k = i; k < i + 15; k++) {
        merged += Math.max(0, values[k]!) / 60;
        truth += Math.max(0, grid[k]!) / 60;
      }
      if (truth > 20) worst = Math.max(worst, Math.abs(merged / truth - 1));
    }
    // The clamp itself is off by up to 8 %; the meter's last digit is a tenth of a watt-hour.
    expect(worst).toBeLessThan(0.01);
    // Within an interval the course stays that of the clamp.
    const [a, b] = [700, 701];
    const clampGrid = clamp!.columns.get('grid')!.values;
    expect(values[a]! / values[b]!).toBeCloseTo(clampGrid[a]! / clampGrid[b]!, 6);
  });
  test('whose clock is off leads by one factor, so that no energy lands in the wrong interval', async () => {
    const [clamp, meter] = await sourcesOf(7);
    const { log } = mergeSources([clamp!, meter!], 'UTC', []);
    const { values } = log.channels.get('grid')!;
    const clampGrid = clamp!.columns.get('grid')!.values;
    const factors = Array.from({ length: 200 }, (_, i) => values[100 + i]! / clampGrid[100 + i]!);
    expect(Math.max(...factors) - Math.min(...factors.filter((one) => one > 0))).toBeLessThan(0.05);
  });
});
