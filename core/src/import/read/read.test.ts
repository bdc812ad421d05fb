import { gzipSync } from 'node:zlib';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InputError } from '../../model/problem.js';
import { csvOf, read, bytesOf, PLAIN_HOME } from '../../testing/logs.js';
import { readFile } from '../readLog.js';
import { canonicalQuantity } from './columns.js';
import { splitRow } from './splitRow.js';

const HEADER = 'time,solar_w,load_w,grid_w,battery_w,soc_pct';
const ROWS =
  '2024-01-01T00:00:00Z,0,200,10,190,55\n2024-01-01T00:05:00Z,0,210,12,198,54\n2024-01-01T00:10:00Z,0,205,,195,54\n';

async function problemsOf(reading: Promise<unknown>): Promise<string> {
  try {
    await reading;
  } catch (error) {
    if (error instanceof InputError) return error.message;
    throw error;
  }
  throw new Error('It was read, and should have been refused.');
}

describe('a canonical log', () => {
  test('goes into columns, missing as missing, SOC as a share', async () => {
    const { log, rows } = await read(`${HEADER}\n${ROWS}`);
    expect([rows, log.stepMs, log.count, log.startMs]).toEqual([3, 300_000, 3, Date.UTC(2024, 0, 1)]);
    expect([...log.columns.get('load')!.values]).toEqual([200, 210, 205]);
    expect([...log.columns.get('grid')!.values]).toEqual([10, 12, NaN]);
    expect(log.columns.get('soc')!.values[0]).toBeCloseTo(0.55, 12);
    expect(log.columns.get('soc')!.resolution).toBeCloseTo(0.01, 12);
    expect(log.findings).toEqual([]);
  });

  test.each([
    [
      'byte order mark, CRLF, no line end at the end',
      `\uFEFF${HEADER}\n${ROWS}`.trimEnd().replaceAll('\n', '\r\n'),
    ],
    ['quoted cells', `${HEADER}\n${ROWS}`.replace(/[^,\n]+/g, '"$&"')],
    ['blank lines and spaces', `\n${HEADER}\n\n${ROWS.replaceAll(',', ' , ')}\n\n`],
    ['times with an offset', `${HEADER}\n${ROWS.replace(/T00:(\d\d):00Z/g, 'T12:$1:00+12:00')}`],
    ['capital letters', `${HEADER.toUpperCase()}\n${ROWS}`],
    ['a column more', `${HEADER},comment\n${ROWS.replaceAll('\n', ',"a, ""b""\n c"\n')}`],
  ])('reads the same with %s', async (_name, text) => {
    const plain = await read(`${HEADER}\n${ROWS}`);
    const other = await read(text);
    expect({ ...other.log, findings: [], firstLine: 2 }).toEqual(plain.log);
  });

  test('is the same in whatever pieces its bytes come, plain or gzipped', async () => {
    const text = `${HEADER},note\n${ROWS.replaceAll('\n', ',"x\n""y"""\n')}`;
    const whole = await read(text);
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 300 }), fc.boolean(), async (size, packed) => {
        const { log } = await read(
          packed ? new Uint8Array(gzipSync(text)) : text,
          'log.csv',
          packed ? size + 20 : size,
        );
        expect(log).toEqual(whole.log);
      }),
      { numRuns: 60 },
    );
  });

  test('its numbers are those that the language itself reads', async () => {
    const numbers = fc.oneof(
      fc.integer({ min: -9e6, max: 9e6 }),
      fc.double({ min: -9e6, max: 9e6, noNaN: true }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(numbers, { minLength: 2, maxLength: 40 }), async (values) => {
        const { log } = await read(
          csvOf(
            values.map((v) => ({ load_w: v })),
            '2024-01-01T00:00:00Z',
            60,
          ),
        );
        expect([...log.columns.get('load')!.values]).toEqual(values.map((v) => Number(String(v))));
      }),
    );
  });

  test('knows its columns in whatever case they are written, and nothing else', () => {
    for (const word of ['solar_w', 'soc_pct', 'battery_dc_w', 'leg2_w', 'grid_up', 'heat pump_load_w']) {
      expect(canonicalQuantity(` ${word.toUpperCase()} `)).toEqual(canonicalQuantity(word));
      expect(canonicalQuantity(word)).toBeDefined();
    }
    expect(canonicalQuantity('constructor')).toBeUndefined();
  });
});

describe('a log with faults is read, and says what it met', () => {
  const codes = async (text: string) =>
    (await read(text)).log.findings.map(({ code, message }) => `${code}: ${message}`);

  test('text in a number column, with its count, first line and column', async () => {
    const found = await codes(`${HEADER}\n${ROWS.replace(',210,', ',N/A,').replace(',205,', ',NaN,')}`);
    expect(found).toEqual([
      'not-a-number: 2 values are not a number and are taken as missing; first on line 3, column load_w: N/A.',
    ]);
  });

  test('impossible values', async () => {
    const found = await codes(`${HEADER}\n${ROWS.replace(',210,', ',1e308,').replace(',54\n', ',140\n')}`);
    expect(found.join('\n')).toMatch(/beyond-range: 1 value lies .* line 3, column load_w: 1e308 W/);
    expect(found.join('\n')).toMatch(/column soc_pct: 140 %/);
  });

  test('rows out of order are sorted; doubled rows are merged', async () => {
    const lines = ROWS.trim().split('\n');
    const mixed = await read(`${HEADER}\n${[lines[2], lines[0], lines[1], lines[1]].join('\n')}\n`);
    expect({ ...mixed.log, findings: [], firstLine: 2 }).toEqual((await read(`${HEADER}\n${ROWS}`)).log);
    expect(mixed.log.findings.map(({ code }) => code)).toEqual(['unordered-rows', 'doubled-rows']);
    expect(mixed.log.findings[0]!.message).toMatch(/once, on line 3/);
  });

  test('rows that cannot be placed in time or have other fields are left out and counted', async () => {
    const found = await codes(
      `${HEADER}\n${ROWS}yesterday,1,2,3,4,5\n1970-01-01T00:00:00Z,1,2,3,4,5\n2024-01-01T00:15:00,1,2,3,4,5\n2024-01-01T00:20:00Z,1\n`,
    );
    expect(found.map((text) => text.split(':')[0])).toEqual([
      'unreadable-time',
      'implausible-time',
      'no-offset',
      'ragged-row',
    ]);
  });

  test('a quote that is never closed costs its line, not the file', async () => {
    const rest = Array.from(
      { length: 3000 },
      (_, i) => `${new Date(Date.UTC(2024, 0, 2) + i * 300_000).toISOString()},0,1,2,3,50\n`,
    ).join('');
    const { rows } = await read(`${HEADER}\n${ROWS}"open,1,2\n${rest}`);
    expect(rows).toBe(3003);
  });
});

test('times without an offset are read by the clock of the site', async () => {
  const text = `${HEADER}\n${ROWS.replaceAll('Z,', ',')}`;
  const { log } = await read(text, 'log.csv', undefined, { ...PLAIN_HOME, timeZone: 'Pacific/Auckland' });
  expect(log.startMs).toBe(Date.UTC(2023, 11, 31, 11));
});

describe('what cannot be used is refused in words', () => {
  test.each([
    ['an empty file', '', /empty\.csv: The file is empty/],
    ['a header alone', `${HEADER}\n`, /header row but no row of data/],
    [
      'no time column',
      'kettle,solar_w\n3,5\n4,6\n',
      /No row holds a time and a number beside it; the first lines are "kettle,solar_w"/,
    ],
    ['no quantity', 'time,kettle\n2024-01-01T00:00:00Z,5\n', /No quantity is recognised.*solar_w/],
    ['a web page', '<!DOCTYPE html><html><body>Sign in</body></html>', /web page, not a log/],
    ['an archive that is none', 'PK\u0003\u0004xl/worksheets', /archive is damaged or cut short/],
    ['binary data', 'time\u0000\u0001\u0002', /binary data/],
    ['only words', `${HEADER}\n${ROWS.replace(/,[\d,]+\n/g, ',a,b,c,d,e\n')}`, /Not one value can be read/],
    ['one row', `${HEADER}\n${ROWS.split('\n')[0]!}\n`, /length of their interval is not known/],
    ['a line without end', `${HEADER} ${'x'.repeat(3e6)}`, /no line end within the first million/],
  ])('%s', async (_name, text, message) => {
    expect(await problemsOf(read(text, 'empty.csv'))).toMatch(message);
  });

  test('a gzip file cut short', async () => {
    const packed = new Uint8Array(gzipSync(`${HEADER}\n${ROWS.repeat(200)}`));
    expect(await problemsOf(read(packed.slice(0, packed.length - 20), 'a.csv.gz'))).toMatch(
      /a\.csv\.gz: The compressed file is damaged or cut short/,
    );
  });

  test('a cancel from the reader comes through as it is', async () => {
    class Cancelled extends Error {}
    async function* chunks() {
      yield* bytesOf(`${HEADER}\n`);
      await Promise.resolve();
      throw new Cancelled();
    }
    await expect(readFile('a.csv', chunks, PLAIN_HOME)).rejects.toThrow(Cancelled);
  });

  test('mutated files are read or refused, never anything else', async () => {
    const text = `${HEADER}\n${ROWS}`;
    const bytes = new TextEncoder().encode(text);
    const change = fc.record({
      at: fc.nat(bytes.length - 1),
      byte: fc.nat(255),
      kind: fc.constantFrom('set', 'cut', 'insert'),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(change, { minLength: 1, maxLength: 6 }), async (changes) => {
        let mutated = Array.from(bytes);
        for (const { at, byte, kind } of changes) {
          if (kind === 'set') mutated[at] = byte;
          else if (kind === 'cut') mutated = mutated.slice(0, at);
          else mutated.splice(at, 0, byte);
        }
        try {
          const { log } = await read(Uint8Array.from(mutated));
          for (const { values } of log.columns.values()) expect(values.length).toBe(log.count);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
        }
      }),
      { numRuns: 500 },
    );
  });
});

test('a row is split as RFC 4180 says', () => {
  const bytes = new TextEncoder().encode('a,"b ""c"", d\ne",,\r\nnext');
  expect(splitRow(bytes, 0, bytes.length)).toEqual({
    cells: ['a', 'b "c", d\ne', '', ''],
    next: 20,
    lines: 2,
  });
  expect(splitRow(new TextEncoder().encode('"open'), 0, 5)).toBeNull();
});
