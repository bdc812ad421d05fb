import { describe, expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { csvOf, read } from '../../testing/logs.js';
import { isoOf } from '../../time/instant.js';

const START = '2024-01-01T00:00:00Z';
const DAY_MS = 86_400_000;

describe('rows that lie astray', () => {
  const rows = Array.from({ length: 200 }, (_, i) => ({ load_w: 100 + i }));
  const text = csvOf(rows, START, 10);

  test('are set aside and told, on whichever side of the log they lie', async () => {
    const sound = await read(text);
    for (const stamp of [
      '2000-01-01T00:00:00Z',
      '2023-05-01T00:00:00Z',
      '2024-12-31T00:00:00Z',
      '2049-01-01T00:00:00Z',
    ]) {
      const { log } = await read(`${text}${stamp},5\n`);
      expect([stamp, log.count, log.startMs]).toEqual([stamp, sound.log.count, sound.log.startMs]);
      expect([...log.columns.get('load')!.values]).toEqual([...sound.log.columns.get('load')!.values]);
      expect(log.findings.map(({ code, message }) => `${code}: ${message}`)).toEqual(
        [
          expect.stringMatching(/^(stray-times|unordered-rows): /),
          expect.stringMatching(/stray-times: 1 row lies months from all the others, first at .* set aside/),
        ].slice(Date.parse(stamp) < sound.log.startMs ? 0 : 1),
      );
    }
  });

  test('stay where they are too many for a slip, or where rows are months apart by nature', async () => {
    const later = csvOf(rows.slice(0, 50), '2024-09-01T00:00:00Z', 10).split('\n').slice(1).join('\n');
    const { log } = await read(`${text}${later}`);
    expect(endMs(log)).toBe(Date.parse('2024-09-01T00:00:00Z') + 50 * 10_000);
    const counters = [
      '2020-01-01,100',
      '2021-01-02,900',
      '2022-01-01,1800',
      '2024-01-01,3500',
      '2025-01-01,4300',
    ];
    const { log: yearly } = await read(`Date,Import counter kWh\n${counters.join('\n')}\n`);
    expect(yearly.lumps.reduce((sum, { wh }) => sum + wh, 0)).toBe(4_200_000);
  });

  test('that are bursts in years of nothing are refused before any memory is taken', async () => {
    const bursts = Array.from({ length: 6 }, (_, year) =>
      csvOf(rows.slice(0, 100), `${2015 + year}-03-01T00:00:00Z`, 1)
        .split('\n')
        .slice(1, -1)
        .join('\n'),
    ).join('\n');
    await expect(read(`time,load_w\n${bursts}\n`)).rejects.toThrow(
      /fill 0\.\d+ % of them\. Look for a row with a stray date/,
    );
  });
});

describe('coarse rows', () => {
  // Two-hourly powers and energies with a hole of 60 days: the energy is that of the rows that are there.
  test.each([
    ['powers', 'Load power (W)', 500],
    ['energies', 'Import kWh', 1],
  ])('%s leave a hole a hole', async (_name, header, value) => {
    const first = Array.from({ length: 120 }, (_, i) => i);
    const rows = [...first, ...first.map((i) => i + 120 + 60 * 12)];
    const at = (i: number) => isoOf(Date.parse(START) + i * 7_200_000);
    const { log } = await read(`Time,${header}\n${rows.map((i) => `${at(i)},${value}`).join('\n')}\n`);
    expect(log.lumps.reduce((sum, { wh }) => sum + wh, 0)).toBe(rows.length * 1000);
    const [from, to] = [Date.parse(START) + 10 * DAY_MS, Date.parse(START) + 70 * DAY_MS];
    expect(log.lumps.filter(({ fromMs, toMs }) => fromMs < to && toMs > from)).toEqual([]);
  });
});
