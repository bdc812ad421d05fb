import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { readTime } from '../import/read/clock.js';
import { read, testData } from '../testing/logs.js';
import { dayNumberAt, dayNumberOfDate, dayOf, daysBetween } from './days.js';
import { isoOf, offsetMsOf, parseDate, parseInstant } from './instant.js';
import { instantOfLocal, isZone, offsetAt, zoneOf } from './zone.js';

interface Transitions {
  readonly items: readonly {
    readonly zone: string;
    readonly transitions: readonly {
      readonly utc: string;
      readonly offset_before_min: number;
      readonly offset_after_min: number;
      readonly local_date: string;
      readonly local_day_hours: number;
    }[];
  }[];
}

describe('instants that no clock shows', () => {
  const dates = ['2024-13-05', '2024-00-05', '2024-06-83', '2024-02-30', '2023-02-29', '2024-04-31'];
  const offsets = ['+99:99', '+14:30', '-15:00', '+05:60'];

  test('are refused by every parser of time', () => {
    for (const date of dates) {
      expect([date, parseInstant(`${date}T00:00:00Z`), parseDate(date), dayNumberOfDate(date)]).toEqual([
        date,
        NaN,
        NaN,
        NaN,
      ]);
      expect([date, readTime(`${date} 00:00`, 'ymd')]).toEqual([date, null]);
      const [y, m, d] = date.split('-') as [string, string, string];
      expect([date, readTime(`${d}/${m}/${y} 00:00`, 'dmy'), readTime(`${m}/${d}/${y}`, 'mdy')]).toEqual([
        date,
        null,
        null,
      ]);
      expect([date, readTime(date.replaceAll('-', ''), 'ymd')]).toEqual([date, null]);
    }
    for (const offset of offsets) {
      expect([offset, offsetMsOf(offset), parseInstant(`2024-01-01T00:00:00${offset}`)]).toEqual([
        offset,
        NaN,
        NaN,
      ]);
      expect([offset, readTime(`2024-01-01T00:00:00${offset}`, 'ymd')]).toEqual([offset, null]);
    }
    expect(offsetMsOf('+14:00')).toBe(14 * 3_600_000);
    expect(offsetMsOf('-0330')).toBe(-3.5 * 3_600_000);
  });

  test('leave out the rows that bear them, which are told with their line', async () => {
    for (const stamp of [
      '2024-13-05T00:10:00Z',
      '2024-01-83T00:10:00Z',
      '2024-02-30T00:10:00Z',
      '2024-01-01T00:10:00+99:99',
    ]) {
      const rows = [
        '2024-01-01T00:00:00Z,1',
        '2024-01-01T00:05:00Z,2',
        `${stamp},999`,
        '2024-01-01T00:15:00Z,4',
      ];
      const { log } = await read(`time,load_w\n${rows.join('\n')}\n`);
      expect([stamp, [...log.columns.get('load')!.values]]).toEqual([stamp, [1, 2, NaN, 4]]);
      expect(log.findings.map(({ code, message }) => `${code}: ${message}`).join()).toMatch(
        /unreadable-time: 1 row has a time that cannot be read.*line 4/,
      );
    }
  });
});

describe('zones, against the IANA database (dst_transitions.json, tzdata 2025b)', () => {
  const { items } = testData('dst_transitions.json') as Transitions;
  const all = items.flatMap(({ zone, transitions }) =>
    transitions.map((transition) => ({ zone, ...transition })),
  );

  test('64 transitions in ten zones stand at their second, with the offsets before and after', () => {
    expect(all.length).toBe(64);
    for (const { zone, utc, offset_before_min, offset_after_min } of all) {
      const table = zoneOf(zone);
      const ms = parseInstant(utc);
      expect([zone, offsetAt(table, ms - 1) / 60_000]).toEqual([zone, offset_before_min]);
      expect([zone, offsetAt(table, ms) / 60_000]).toEqual([zone, offset_after_min]);
    }
  });

  test('days of 23, 23.5, 24.5 and 25 hours have their length', () => {
    const lengths = new Set<number>();
    for (const { zone, local_date, local_day_hours } of all) {
      const day = dayOf(zoneOf(zone), dayNumberOfDate(local_date));
      expect([zone, local_date, (day.toMs - day.fromMs) / 3_600_000]).toEqual([
        zone,
        local_date,
        local_day_hours,
      ]);
      lengths.add(local_day_hours);
    }
    expect([...lengths].sort()).toEqual([23, 23.5, 24.5, 25]);
  });

  test('offsets and days agree with luxon at any instant', () => {
    const zones = [...new Set(items.map(({ zone }) => zone))];
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        fc.integer({ min: Date.UTC(2015, 0), max: Date.UTC(2049, 0) }),
        (id, ms) => {
          const zone = zoneOf(id);
          const there = DateTime.fromMillis(ms, { zone: id });
          expect(offsetAt(zone, ms) / 60_000).toBe(there.offset);
          const day = dayOf(zone, dayNumberAt(zone, ms));
          expect(day.date).toBe(there.toISODate());
          expect(day.fromMs).toBe(there.startOf('day').toMillis());
          // The wall clock's reading leads back to the instant, or to the first of two that show it.
          const local = ms + offsetAt(zone, ms);
          const back = instantOfLocal(zone, local);
          expect(back + offsetAt(zone, back)).toBe(local);
          expect(back).toBeLessThanOrEqual(ms);
        },
      ),
    );
  });

  test('an unknown zone is told from a known one', () => {
    expect(isZone('Pacific/Auckland')).toBe(true);
    expect(isZone('Mars/Olympus')).toBe(false);
    expect(() => zoneOf('Mars/Olympus')).toThrow(RangeError);
  });
});

describe('local readings', () => {
  test('a repeated reading is the first of the two, a skipped one the moment of the change', () => {
    const zone = zoneOf('Europe/Lisbon');
    expect(isoOf(instantOfLocal(zone, Date.UTC(2024, 9, 27, 1, 30)))).toBe('2024-10-27T00:30:00Z');
    expect(isoOf(instantOfLocal(zone, Date.UTC(2024, 2, 31, 1, 30)))).toBe('2024-03-31T01:00:00Z');
  });

  test('days between two instants touch each other without gap or overlap', () => {
    const days = daysBetween(zoneOf('Australia/Lord_Howe'), Date.UTC(2024, 2, 1), Date.UTC(2024, 10, 1));
    expect(days.length).toBeGreaterThan(240);
    days.slice(1).forEach((day, i) => expect(day.fromMs).toBe(days[i]!.toMs));
  });
});

describe('instants', () => {
  test('ISO 8601 with offset or Z is read, everything else is not', () => {
    expect(parseInstant('2024-06-30T12:00:00+12:00')).toBe(Date.UTC(2024, 5, 30));
    expect(parseInstant('2024-06-30 12:00Z')).toBe(Date.UTC(2024, 5, 30, 12));
    expect(parseInstant('2024-06-30T12:00:00.250-0330')).toBe(Date.UTC(2024, 5, 30, 15, 30, 0, 250));
    for (const text of [
      '2024-06-30T12:00:00',
      '2024-02-30T00:00:00Z',
      '30/06/2024 12:00',
      '2024-06-30T24:10:00Z',
      '',
    ]) {
      expect([text, parseInstant(text)]).toEqual([text, NaN]);
    }
  });

  test('writing and reading an instant gives it back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: Date.UTC(2100, 0) }), (ms) =>
        expect(parseInstant(isoOf(ms))).toBe(ms),
      ),
    );
  });
});
