import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import Papa from 'papaparse';
import { readClock, readTime } from './clock.js';
import { dialectOf } from './dialect.js';
import { asUtf8, encodingOf } from './encoding.js';
import { mappingSchema, parseMapping, type Mapping, type TimeFormat } from './mapping.js';
import { readNumber } from './number.js';
import { isoOf } from '../../time/instant.js';
import { splitRow } from './splitRow.js';
import { bytesOf, read } from '../../testing/logs.js';

const at = (text: string, format: TimeFormat) => {
  const reading = readTime(text, format);
  return reading && [new Date(reading.ms).toISOString().slice(0, 19), reading.offsetMs];
};

describe('a time as it is written', () => {
  test.each<[string, TimeFormat, string, number | null]>([
    ['2024-06-30T12:05:00+12:00', 'ymd', '2024-06-30T12:05:00', 12 * 3_600_000],
    ['2024-06-30 12:05:00Z', 'ymd', '2024-06-30T12:05:00', 0],
    ['2024/6/3 7:05', 'ymd', '2024-06-03T07:05:00', null],
    ['20240630T1205', 'ymd', '2024-06-30T12:05:00', null],
    ['20240630 120530', 'ymd', '2024-06-30T12:05:30', null],
    ['30.06.2024 12:05', 'dmy', '2024-06-30T12:05:00', null],
    ['30/06/24 00:00', 'dmy', '2024-06-30T00:00:00', null],
    ['06/30/2024 12:05 AM', 'mdy', '2024-06-30T00:05:00', null],
    ['06/30/2024 12:05:09 p.m.', 'mdy', '2024-06-30T12:05:09', null],
    ['Jun 30, 2024 1:05 pm', 'mdy', '2024-06-30T13:05:00', null],
    ['Sunday, 30 June 2024 13:05', 'dmy', '2024-06-30T13:05:00', null],
    ['30-Jun-2024 24:00', 'dmy', '2024-07-01T00:00:00', null],
    ['30 juin 2024', 'dmy', '2024-06-30T00:00:00', null],
    ['3-Dez-2024 05:10', 'dmy', '2024-12-03T05:10:00', null],
    ['1719749100', 'unix-s', '2024-06-30T12:05:00', 0],
    ['1719749100000', 'unix-ms', '2024-06-30T12:05:00', 0],
    ['45473.503472', 'serial', '2024-06-30T12:05:00', null],
  ])('%s as %s', (text, format, iso, offsetMs) => {
    expect(at(text, format)).toEqual([iso, offsetMs]);
  });

  test.each<[string, TimeFormat]>([
    ['31.02.2024', 'dmy'],
    ['30/06/2024', 'mdy'],
    ['2024-06-30', 'dmy'],
    ['30/06/2024 25:00', 'dmy'],
    ['30/06/2024 13:05 pm', 'dmy'],
    ['yesterday', 'ymd'],
    ['', 'ymd'],
    ['12', 'dmy'],
    ['1.5e9', 'unix-s'],
  ])('%s is no time as %s', (text, format) => {
    expect(at(text, format)).toBeNull();
  });

  test('what luxon writes in any of these shapes is read to the second', () => {
    const shapes: readonly (readonly [string, TimeFormat])[] = [
      ['yyyy-MM-dd HH:mm:ss', 'ymd'],
      ['yyyyMMdd HHmmss', 'ymd'],
      ['d.M.yyyy H:mm:ss', 'dmy'],
      ['dd/MM/yyyy hh:mm:ss a', 'dmy'],
      ['MM/dd/yyyy h:mm:ss a', 'mdy'],
      ['d MMM yyyy HH:mm:ss', 'dmy'],
    ];
    fc.assert(
      fc.property(
        fc.integer({ min: Date.UTC(2000, 0) / 1000, max: Date.UTC(2049, 0) / 1000 }),
        fc.constantFrom(...shapes),
        (seconds, [shape, format]) => {
          const text = DateTime.fromSeconds(seconds, { zone: 'utc' }).setLocale('en').toFormat(shape);
          expect([text, readTime(text, format)?.ms]).toEqual([text, seconds * 1000]);
        },
      ),
    );
  });

  test('a clock alone, and a spreadsheet’s share of a day', () => {
    expect(['7:05', '07.05', '12:00 am', '0.510416', '0', '25:00', 'noon'].map(readClock)).toEqual([
      25_500_000,
      25_500_000,
      0,
      44_100_000,
      0,
      NaN,
      NaN,
    ]);
  });
});

describe('a row', () => {
  test('is cut as papaparse cuts it, whatever is in it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ maxLength: 12 }), { minLength: 2, maxLength: 8 }),
        fc.constantFrom(',', ';', '\t', '|'),
        (cells, separator) => {
          const plain = cells.map((cell) => cell.replace(/[\r\n]/g, ' ').trim());
          const text = Papa.unparse([plain], { delimiter: separator, newline: '\n' });
          const bytes = new TextEncoder().encode(text);
          expect(splitRow(bytes, 0, bytes.length, separator.charCodeAt(0))?.cells).toEqual(plain);
        },
      ),
    );
  });
});

describe('a table', () => {
  const rows = (separator: string, number: string) =>
    Array.from({ length: 30 }, (_, i) =>
      ['2024-05-01 00:' + String(i).padStart(2, '0'), number, number].join(separator),
    ).join('\n');

  test.each([
    [
      'semicolons and decimal commas',
      `Time;Solar;Load\n${rows(';', '1,5')}`,
      { separator: ';', decimal: ',', headerLine: 1, skipLines: 0 },
    ],
    [
      'commas with quoted decimal commas',
      `Time,Solar,Load\n${rows(',', '"1,5"')}`,
      { separator: ',', decimal: ',', headerLine: 1 },
    ],
    [
      'tabs under two title lines',
      `Report\n\nTime\tSolar\tLoad\n${rows('\t', '1.5')}`,
      { separator: '\t', decimal: '.', headerLine: 3 },
    ],
    [
      'a row of units',
      `Time|Solar|Load\n|kW|kW\n${rows('|', '1.5')}`,
      { separator: '|', headerLine: 1, skipLines: 1 },
    ],
    [
      'no names at all',
      rows(',', '7'),
      { separator: ',', headerLine: 0, names: ['column 1', 'column 2', 'column 3'] },
    ],
  ])('with %s', (_name, text, expected) => {
    expect(dialectOf(text)).toMatchObject(expected);
  });

  test('is none where no line holds a time and a number', () => {
    expect(dialectOf('a,b\nc,d\ne,f\n')).toBeNull();
    expect(dialectOf('Dear owner,\nyour battery is fine.\n')).toBeNull();
  });
});

describe('numbers as people write them', () => {
  test.each([
    ['1,234', '.', 1234, 0],
    ['1.234', ',', 1234, 0],
    ["1'234,5 kWh", ',', 1234.5, 1],
    ['1 234 567.25', '.', 1_234_567.25, 2],
    ['\u22125,0', ',', -5, 1],
    ['12 %', '.', 12, 0],
    ['1e3', '.', 1000, 0],
  ] as const)('%s with %s', (text, decimal, value, decimals) => {
    expect(readNumber(text, decimal)).toMatchObject({ value, decimals });
  });

  test.each([
    ['0.512', ','],
    ['12,5', '.'],
    ['1.5', ','],
    ['1,23,456', '.'],
    ['', '.'],
    ['-', '.'],
    ['W', '.'],
    [' '.repeat(100_000), '.'],
  ] as const)('%s is none with %s', (text, decimal) => {
    expect(readNumber(text, decimal)).toBeNull();
  });

  test('read back what d3 and Intl write, whatever the language', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -999_999_999, max: 999_999_999 }),
        fc.constantFrom(
          ['en', '.'] as const,
          ['de', ','] as const,
          ['fr', ','] as const,
          ['de-CH', '.'] as const,
        ),
        (thousandths, [locale, decimal]) => {
          const written = new Intl.NumberFormat(locale, { maximumFractionDigits: 3 }).format(
            thousandths / 1000,
          );
          expect([written, readNumber(written, decimal)?.value]).toEqual([written, thousandths / 1000]);
        },
      ),
    );
  });

  const rows = (separator: string, cells: readonly string[]) =>
    cells
      .map((cell, i) =>
        ['2024-05-01 0' + String(i) + ':00', separator === ',' ? `"${cell}"` : cell].join(separator),
      )
      .join('\n');
  const decimalOf = (separator: string, cells: readonly string[]) => {
    const { decimal, openNumber } = dialectOf(`Time${separator}Load W\n${rows(separator, cells)}`)!;
    return [decimal, openNumber === '' ? 'told' : 'asked'];
  };

  test('groups of three are thousands whenever no value of the column speaks against it, else it is asked', () => {
    expect(decimalOf(',', ['1,234', '950', '12', '2,100'])).toEqual(['.', 'told']);
    expect(decimalOf(';', ['1.234', '950', '12', '2.100'])).toEqual([',', 'told']);
    expect(decimalOf(';', ['1.234', '0.512', '12.100'])).toEqual(['.', 'told']);
    expect(decimalOf(';', ['1.234,5', '950,25', '12'])).toEqual([',', 'told']);
    expect(decimalOf(';', ['1.234', '2500', '12', '950'])).toEqual([',', 'asked']);
    expect(decimalOf(',', ['1,234', '2500', '12', '950'])).toEqual(['.', 'asked']);
    expect(decimalOf(';', ['1.234', '2.500', '1.205', '3.950', '1.001'])).toEqual([',', 'asked']);
  });

  test('stand so in the log: thousands between commas and between semicolons', async () => {
    const times = Array.from({ length: 30 }, (_, i) => isoOf(Date.UTC(2024, 4, 1, i)));
    const values = times.map((_, i) => 100 + i * 97);
    const grouped = (sign: string) =>
      values.map((value) => String(value).replace(/(\d)(\d{3})$/, `$1${sign}$2`));
    const comma = await read(
      `time,load_w\n${times.map((time, i) => `${time},"${grouped(',')[i]!}"`).join('\n')}\n`,
    );
    const semicolon = await read(
      `Time;Load (W)\n${times.map((time, i) => `${time};${grouped('.')[i]!}`).join('\n')}\n`,
    );
    const known = (log: typeof comma.log) =>
      log.columns
        .get('load')!
        .values.filter((value) => !Number.isNaN(value))
        .sort();
    expect([...known(comma.log)]).toEqual([...values].sort((a, b) => a - b));
    expect([...known(semicolon.log)]).toEqual([...values].sort((a, b) => a - b));
  });
});

describe('the encoding of a text', () => {
  const utf16 = (text: string, big: boolean) =>
    Uint8Array.from(
      Array.from(text).flatMap((c) =>
        big ? [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255] : [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8],
      ),
    );

  test('is told by its mark, its zeros, or what it holds', () => {
    expect(encodingOf(Uint8Array.of(0xff, 0xfe, 65, 0))).toBe('utf-16le');
    expect(encodingOf(Uint8Array.of(0xfe, 0xff, 0, 65))).toBe('utf-16be');
    expect(encodingOf(utf16('time,load\n', false))).toBe('utf-16le');
    expect(encodingOf(utf16('time,load\n', true))).toBe('utf-16be');
    expect(encodingOf(new TextEncoder().encode('Einspeisung für März'))).toBe('utf-8');
    expect(encodingOf(Uint8Array.from('Einspeisung für', (c) => c.charCodeAt(0)))).toBe('windows-1252');
  });

  test('does not change the text, in whatever pieces its bytes come', async () => {
    const text = 'Zeit;Verbrauch für März\n1;2\n';
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 2, max: 40 }), fc.boolean(), async (size, wide) => {
        const bytes = wide ? utf16(`\uFEFF${text}`, false) : new TextEncoder().encode(text);
        let back = '';
        const decoder = new TextDecoder();
        for await (const chunk of asUtf8(bytesOf(bytes, Math.max(size, wide ? 8 : 60))))
          back += decoder.decode(chunk, { stream: true });
        expect(back.replace('\uFEFF', '')).toBe(text);
      }),
      { numRuns: 40 },
    );
  });
});

describe('a mapping', () => {
  const mapping: Mapping = {
    schema: 'long-tally/mapping@1',
    table: { separator: ';', decimal: ',', headerLine: 2, skipLines: 1 },
    time: { columns: ['Day', 'Hour'], format: 'dmy', zone: '+01:00', marks: 'end' },
    columns: [
      { column: 'A', quantity: 'solar', unit: 'kW', sign: 1, kind: 'power' },
      { column: 'A', nth: 1, quantity: 'load', unit: 'W', sign: -1, kind: 'power' },
      { column: 'T', quantity: 'outdoorTemp', unit: '°F', sign: 1, kind: 'state' },
    ],
  };
  const text = `My house\nDay;Hour;A;A;T\n-;-;kW;W;F\n${Array.from({ length: 4 }, (_, i) => `01.05.2024;0${i + 1}:00;1,25;-400;${50 + 9 * i}`).join('\n')}\n`;

  test('reads what it says: separator, units, signs, clock, columns of one name', async () => {
    const { log } = await read(text, 'log.csv', undefined, undefined, [mapping]);
    expect(new Date(log.startMs).toISOString()).toBe('2024-04-30T23:00:00.000Z');
    expect([...log.columns.get('solar')!.values]).toEqual([1250, 1250, 1250, 1250]);
    expect([...log.columns.get('load')!.values]).toEqual([400, 400, 400, 400]);
    // Labels at the end: a state belongs to the start of the row behind it.
    expect([...log.columns.get('outdoorTemp')!.values].map((c) => Math.round(c))).toEqual([NaN, 10, 15, 20]);
  });

  test('written and read back is the same; what is wrong in it is named', () => {
    expect(parseMapping(JSON.stringify(mapping), 'map.json')).toEqual(mapping);
    expect(() => parseMapping('{', 'map.json')).toThrow(/map\.json, line 1: This is not JSON/);
    const wrong = { ...mapping, columns: [{ ...mapping.columns[0], quantity: 'kettle' }] };
    expect(() => parseMapping(JSON.stringify(wrong), 'map.json')).toThrow(
      /key columns\[0\]\.quantity: Found "kettle"\. This quantity is not known/,
    );
    expect(mappingSchema.safeParse({ ...mapping, time: { ...mapping.time, zone: 'Mars' } }).success).toBe(
      false,
    );
  });

  test('that does not fit a file leaves it to be recognised: a canonical log beside a mapped one is read', async () => {
    const canonical = 'time,load_w\n2024-05-01T00:00:00Z,400\n2024-05-01T01:00:00Z,500\n';
    const { log } = await read(canonical, 'plain.csv', undefined, undefined, [mapping]);
    expect([...log.columns.get('load')!.values]).toEqual([400, 500]);
    const other = { ...mapping, columns: [{ ...mapping.columns[0]!, column: 'Z' }] };
    await expect(read(text, 'log.csv', undefined, undefined, [other])).rejects.toThrow(
      /No quantity is recognised: the columns are "Day", "Hour", "A", "A", "T"/,
    );
  });
});
