import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { analyse } from '../../report/report.js';
import { bytesOf, PLAIN_HOME, read, systemOf, TEN_KWH, valueOf } from '../../testing/logs.js';
import { surveyFile } from '../readLog.js';
import { isPeriod, readPeriod, readPeriods } from './period.js';

const dates = (period: ReturnType<typeof readPeriod>) =>
  period && [period.fromMs, period.untilMs].map((ms) => new Date(ms).toISOString().slice(0, 10));

describe('a period', () => {
  test.each([
    ['2023-02', '2023-02-01', '2023-03-01'],
    ['02/2023', '2023-02-01', '2023-03-01'],
    ['2/2023', '2023-02-01', '2023-03-01'],
    ['02.2023', '2023-02-01', '2023-03-01'],
    ['Feb-23', '2023-02-01', '2023-03-01'],
    ["Feb '23", '2023-02-01', '2023-03-01'],
    ['February 2023', '2023-02-01', '2023-03-01'],
    ['2023 Feb', '2023-02-01', '2023-03-01'],
    ['fevereiro 2023', '2023-02-01', '2023-03-01'],
    ['Dec 2023', '2023-12-01', '2024-01-01'],
    ['2021', '2021-01-01', '2022-01-01'],
    ['1 Jan 2023 – 28 Jan 2023', '2023-01-01', '2023-01-29'],
    ['1 Jan – 28 Jan 2023', '2023-01-01', '2023-01-29'],
    ['20 Dec – 19 Jan 2023', '2022-12-20', '2023-01-20'],
    ['2023-01-05 to 2023-02-03', '2023-01-05', '2023-02-04'],
    ['01.03.2023 - 31.03.2023', '2023-03-01', '2023-04-01'],
  ])('"%s" runs from %s until %s', (text, from, until) => {
    expect(dates(readPeriod(text, undefined, 'period-dmy', 2000))).toEqual([from, until]);
  });
  test.each([
    '12/23',
    '2023-13',
    '13/2023',
    'hello',
    '',
    '12.5',
    '45',
    'Smarch 2023',
    '31 Feb 2023 – 2 Mar 2023',
  ])('"%s" is none', (text) => expect(isPeriod(text)).toBe(false));
  test('of two columns ends with its last day, or before it where the next begins on it', () => {
    const included = readPeriods(
      [
        ['2023-01-01', '2023-01-31'],
        ['2023-02-01', '2023-02-28'],
      ],
      'period-ymd',
      2000,
    );
    const shared = readPeriods(
      [
        ['2023-01-01', '2023-02-01'],
        ['2023-02-01', '2023-03-01'],
      ],
      'period-ymd',
      2000,
    );
    expect(included.map((one) => one!.untilMs)).toEqual(shared.map((one) => one!.untilMs));
  });
  test('without a year goes on into the next one', () => {
    const read = readPeriods(
      [
        ['28 Nov – 27 Dec', undefined],
        ['28 Dec – 27 Jan', undefined],
        ['28 Jan – 27 Feb', undefined],
      ],
      'period-dmy',
      2022,
    );
    expect(read.map(dates)).toEqual([
      ['2022-11-28', '2022-12-28'],
      ['2022-12-28', '2023-01-28'],
      ['2023-01-28', '2023-02-28'],
    ]);
  });
  test('is read back however a month is written, against luxon', () => {
    const formats = ['yyyy-MM', 'MM/yyyy', 'LLL-yy', 'LLLL yyyy', 'LLL yyyy', 'yyyy LLL'];
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 500 }), fc.constantFrom(...formats), (months, format) => {
        const month = DateTime.utc(1999, 1).plus({ months: months % 300 });
        if (month.year < 2000) return;
        const read = readPeriod(month.toFormat(format), undefined, 'period-ymd', 2000)!;
        expect([read.fromMs, read.untilMs]).toEqual([month.toMillis(), month.plus({ months: 1 }).toMillis()]);
      }),
    );
  });
});

describe('a statement', () => {
  const months = ['2023-01', '2023-02', '2023-03', '2023-04'];
  const rows = (names: readonly string[]) =>
    `${names[0]!.length === 4 ? 'Year' : 'Month'};Solar (kWh);Consumption (kWh);Import (kWh);Export (kWh)\n${names.map((name, i) => `${name};${200 + 40 * i};${300 - 10 * i};${180 - 20 * i};${60 + 5 * i}`).join('\n')}\n`;
  const home = systemOf(TEN_KWH, 'Europe/Lisbon');

  test.each([
    ['months', months],
    ['months by name', ['Jan-23', 'Feb-23', 'Mar-23', 'Apr-23']],
    [
      'ranges',
      [
        '1 Jan 2023 – 31 Jan 2023',
        '1 Feb 2023 – 28 Feb 2023',
        '1 Mar 2023 – 31 Mar 2023',
        '1 Apr 2023 – 30 Apr 2023',
      ],
    ],
    ['years', ['2019', '2020', '2021', '2022']],
  ])('of %s gives its totals', async (_what, names) => {
    const { log } = await read(rows(names), 'statement.csv', undefined, home);
    const report = analyse(home, [log]);
    expect(valueOf(report, 'account.solar')).toBeCloseTo(1040, 6);
    expect(valueOf(report, 'account.import')).toBeCloseTo(600, 6);
    expect(valueOf(report, 'account.selfSufficiency.grid')).toBeCloseTo(1 - 600 / 1140, 6);
  });

  test('has months that begin at midnight of its site, over the change of the clock', async () => {
    const { log } = await read(rows(months), 'statement.csv', undefined, home);
    const march = log.lumps.find(({ fromMs }) => fromMs === Date.UTC(2023, 2, 1))!;
    const zone = 'Europe/Lisbon';
    expect(march.toMs).toBe(DateTime.fromISO('2023-04-01', { zone }).toMillis());
    expect((march.toMs - march.fromMs) / 3_600_000).toBe(31 * 24 - 1);
  });

  test('without a year asks for it', async () => {
    const text = 'Period,Import (kWh)\n1 Jan – 28 Jan,120\n29 Jan – 27 Feb,130\n28 Feb – 30 Mar,99\n';
    const { surveys } = await surveyFile('bills.csv', () => bytesOf(text), PLAIN_HOME);
    const asked = surveys[0]!.recognition.conclusions.find(({ about }) => about === 'time.format')!;
    expect(asked.asks).toBe(true);
    expect(asked.alternatives.map(({ set }) => set['time.year'])).toEqual([2001, 2002, 2003, 2004]);
    const { mapping } = surveys[0]!;
    const answered = { ...mapping!, time: { ...mapping!.time, year: 2024 } };
    const { log } = await read(text, 'bills.csv', undefined, PLAIN_HOME, [answered]);
    expect(new Date(log.startMs).toISOString()).toBe('2024-01-01T00:00:00.000Z');
  });

  test('tells the rows that name no period', async () => {
    const text = `${rows(months)}Total;1040;1140;600;270\n`;
    const { log } = await read(text, 'statement.csv', undefined, home);
    expect(log.findings.find(({ code }) => code === 'unreadable-time')?.message).toContain('line 6');
  });
});

describe('a list of bills', () => {
  test('is asked whether its dates end or begin their periods', async () => {
    const text = 'Bill date,Import (kWh)\n2024-01-12,210\n2024-02-11,190\n2024-03-13,170\n2024-04-12,120\n';
    const survey = async (csv: string) =>
      (
        await surveyFile('bills.csv', () => bytesOf(csv), PLAIN_HOME)
      ).surveys[0]!.recognition.conclusions.find(({ about }) => about === 'time.marks')!;
    expect(await survey(text)).toMatchObject({ asks: true, says: 'each time is the end of its interval' });
    expect(await survey(text.replace('Bill date', 'Period start'))).toMatchObject({ asks: false });
  });
});
