import { gzipSync, strToU8, zipSync } from 'fflate';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readPart, surveyFile } from '../intake.js';
import { InputError } from '../problem.js';
import type { SourceLog } from '../series/log.js';
import { quantile } from '../statistics/quantile.js';
import { bytesOf } from '../testing/logs.js';
import { CORPUS_HOME, series, SHAPES, type Interval } from '../testing/corpus.js';

// Mutated files: read, asked about or refused, and never with another unit in silence.
const list = series(Date.UTC(2024, 4, 3) - 3_600_000, 2, 30);
/** Middle ratio of what was read to what is true at the same instants; NaN where too little flows. */
function ratioOf(
  { startMs, stepMs }: SourceLog,
  values: Float64Array,
  of: (interval: Interval) => number,
): number {
  const truth = new Map(list.map((interval) => [interval.ms, of(interval)]));
  const ratios = Array.from(values, (value, i) => {
    const real = truth.get(startMs + i * stepMs) ?? 0;
    return Math.abs(real) > 20 ? Math.abs(value / real) : NaN;
  }).filter((ratio) => ratio > 0);
  return ratios.length < 10 ? NaN : quantile(Float64Array.from(ratios).sort(), 0.5);
}

type Mutation = (bytes: Uint8Array, at: number, other: number) => Uint8Array;
const lines = (
  bytes: Uint8Array,
  change: (all: string[], at: number, other: number) => void,
): ((at: number, other: number) => Uint8Array) => {
  return (at, other) => {
    const all = new TextDecoder('latin1').decode(bytes).split('\n');
    change(all, at % all.length, other % all.length);
    return Uint8Array.from(all.join('\n'), (character) => character.charCodeAt(0) & 255);
  };
};
const MUTATIONS: Readonly<Record<string, Mutation>> = {
  cut: (bytes, at) => bytes.slice(0, at % bytes.length),
  'cut head': (bytes, at) => bytes.slice((at % bytes.length) >> 3),
  byte: (bytes, at, other) => bytes.map((byte, i) => (i === at % bytes.length ? other & 255 : byte)),
  nul: (bytes, at) => bytes.map((byte, i) => (i === at % bytes.length ? 0 : byte)),
  quote: (bytes, at) => bytes.map((byte, i) => (i === at % bytes.length ? 34 : byte)),
  'swap lines': (bytes, at, other) =>
    lines(bytes, (all, a, b) => ([all[a], all[b]] = [all[b]!, all[a]!]))(at, other),
  'double a line': (bytes, at, other) => lines(bytes, (all, a, b) => all.splice(a, 0, all[b]!))(at, other),
  'drop a line': (bytes, at, other) => lines(bytes, (all, a) => all.splice(a, 1))(at, other),
  shuffle: (bytes, at, other) =>
    lines(bytes, (all) => all.push(...all.splice(1, other % all.length)))(at, other),
  semicolons: (bytes, at, other) =>
    lines(bytes, (all) => all.forEach((line, i) => (all[i] = line.replaceAll(',', ';'))))(at, other),
  'one line of other separators': (bytes, at, other) =>
    lines(bytes, (all, a) => (all[a] = all[a]!.replaceAll(',', '\t')))(at, other),
  'wrong encoding': (bytes) => new Uint8Array(Array.from(bytes).flatMap((byte) => [byte, 0])),
  'words for numbers': (bytes, at, other) =>
    lines(bytes, (all, a) => (all[a] = all[a]!.replace(/\d+/g, 'n/a')))(at, other),
  'gzip cut': (bytes, at) => gzipSync(bytes).slice(0, -1 - (at % 20)),
};

test('2 400 mutated files never break it, and never change a unit in silence', async () => {
  const shapes = SHAPES.filter(
    ({ name, stepMinutes, days, file }) =>
      stepMinutes === 5 && days === 12 && !file.endsWith('.json') && !/counter|energy/.test(name),
  );
  const counts = { read: 0, asked: 0, refused: 0 };
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...shapes),
      fc.array(fc.tuple(fc.constantFrom(...Object.keys(MUTATIONS)), fc.nat(), fc.nat()), {
        minLength: 1,
        maxLength: 3,
      }),
      async (shape, mutations) => {
        const content = shape.write(list);
        let bytes: Uint8Array = typeof content === 'string' ? new TextEncoder().encode(content) : content;
        for (const [name, at, other] of mutations)
          if (bytes.length > 3) bytes = MUTATIONS[name]!(bytes, at, other);
        try {
          for (const { part, mapping, recognition } of await surveyFile(
            shape.file,
            () => bytesOf(bytes),
            CORPUS_HOME,
          )) {
            const { log } = await readPart(part, mapping, CORPUS_HOME);
            for (const { values } of log.columns.values()) expect(values.length).toBe(log.count);
            if (recognition.conclusions.some(({ asks }) => asks)) {
              counts.asked++;
              continue;
            }
            counts.read++;
            if (log.stepMs !== 1_800_000) continue;
            for (const quantity of ['solar', 'load', 'grid', 'battery'] as const) {
              const column = log.columns.get(quantity);
              const ratio = column ? ratioOf(log, column.values, (interval) => interval[quantity]) : NaN;
              const verdict = Number.isNaN(ratio) || (ratio > 0.05 && ratio < 20) ? 'same unit' : ratio;
              expect([shape.name, mutations, quantity, verdict]).toEqual([
                shape.name,
                mutations,
                quantity,
                'same unit',
              ]);
            }
          }
        } catch (error) {
          if (!(error instanceof InputError)) throw error;
          counts.refused++;
          for (const { found, mend } of error.problems)
            expect([found.length > 10, mend.length > 10]).toEqual([true, true]);
        }
      },
    ),
    { numRuns: 2400, seed: 20240503 },
  );
  console.log(`mutated files: ${JSON.stringify(counts)}`);
  expect(counts.read).toBeGreaterThan(200);
  expect(counts.refused).toBeGreaterThan(50);
});

describe('what is made to fill a machine is refused', () => {
  const refusal = async (name: string, content: Uint8Array | string) => {
    try {
      for (const { part, mapping } of await surveyFile(name, () => bytesOf(content, 1 << 20), CORPUS_HOME))
        await readPart(part, mapping, CORPUS_HOME);
    } catch (error) {
      if (error instanceof InputError) return error.message;
      throw error;
    }
    throw new Error('It was read.');
  };
  test('a zip bomb and a gzip bomb', async () => {
    const zeros = new Uint8Array(60e6).fill(48);
    expect(await refusal('bomb.zip', zipSync({ 'a.csv': zeros }))).toMatch(
      /bomb\.zip: The archive would unpack to more than 60 MB/,
    );
    const blank = new Uint8Array(60e6).fill(10);
    blank.set(strToU8('time,load_w\n2024-01-01T00:00:00Z,1\n2024-01-01T00:05:00Z,2\n'));
    expect(await refusal('bomb.csv.gz', gzipSync(blank))).toMatch(/unpacks to more than 300 times its size/);
  });
  test('a line of 100 MB', async () => {
    expect(await refusal('line.csv', new Uint8Array(100e6).fill(97))).toMatch(
      /no line end within the first million/,
    );
  });
  test('ten thousand columns', async () => {
    const header = ['time', ...Array.from({ length: 10_000 }, (_, i) => `c${i}`)].join(',');
    const row = (minute: number) =>
      [`2024-01-01T00:0${minute}:00Z`, ...new Array<number>(10_000).fill(1)].join(',');
    expect(await refusal('wide.csv', `${header}\n${row(0)}\n${row(5)}\n`)).toMatch(
      /10001 columns.*at most 500/,
    );
  });
  test('an archive without a log, and one that is damaged', async () => {
    expect(await refusal('a.zip', zipSync({ 'photo.jpg': strToU8('x') }))).toMatch(
      /holds no log: "photo\.jpg"/,
    );
    expect(await refusal('b.zip', zipSync({ 'a.csv': strToU8('time,load_w\n') }).slice(0, 60))).toMatch(
      /damaged or cut short/,
    );
  });
});
