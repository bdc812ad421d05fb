import { expect, test } from '@jest/globals';
import { reportOf, systemOf, TEN_KWH } from '../testing/logs.js';
import { reportSchema } from './reportSchema.js';
import { writtenReport } from './writtenReport.js';

test('a written report has its dates as text, value, bounds and working alike, and everything else as it is', async () => {
  const home = systemOf(TEN_KWH);
  const warranty = { years: 10 };
  const rows = Array.from({ length: 48 }, () => ({ load_w: 400, battery_w: 400, soc_pct: 50 }));
  const report = await reportOf(
    { ...home, configurations: [{ ...home.configurations![0]!, warranty }] },
    rows,
    '2024-01-01T00:00:00Z',
    3600,
  );
  const { figures, ...rest } = writtenReport(report);
  // Ten years of 365.25 days from the first of January 2020.
  expect(figures['warranty.first']).toMatchObject({
    value: '2029-12-31',
    low: '2029-12-31',
    high: '2029-12-31',
  });
  expect(figures['warranty.first']!.working[0]!.value).toBe('2029-12-31');
  expect(figures['account.load']).toBe(report.figures['account.load']);
  expect(rest).toEqual({ ...report, figures: undefined });
  expect(
    reportSchema.safeParse(JSON.parse(JSON.stringify({ ...rest, figures }))).error?.issues ?? [],
  ).toEqual([]);
});
