import { zipSync } from 'fflate';
import { seededRandom } from '../statistics/random.js';
import type { Interval, Shape } from './shape.js';

/** A number from 0 to 1, the next of a seeded series. */
export type Random = ReturnType<typeof seededRandom>;

/** A file of a case, as it would be brought. */
export interface CaseFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/**
 * One way in which a log can differ from a sound one.
 * `same`: the file says the same in another way, so every figure must be the same. `loses`: rows or values are missing, so
 * coverage must tell. `told`: what is wrong must be told, asked or refused wherever it changes a figure.
 */
export interface Mutation {
  readonly name: string;
  readonly kind: 'same' | 'loses' | 'told';
  /** Only for these shapes; for all where it is left out. */
  readonly fits?: (shape: Shape) => boolean;
  /** Changes the series before it is written. */
  readonly series?: (list: Interval[], random: Random) => Interval[];
  /** Changes the lines of a text file. */
  readonly lines?: (lines: string[], random: Random, shape: Shape) => string[];
  /** Changes the bytes of a file. */
  readonly bytes?: (bytes: Uint8Array, random: Random, shape: Shape) => Uint8Array;
  /** Makes other files of a file. */
  readonly files?: (file: CaseFile, random: Random, shape: Shape) => CaseFile[];
}

export const pick = (random: Random, count: number) => Math.min(count - 1, Math.floor(random() * count));

/** Rows in another order, each as likely. */
export function shuffled<T>(list: readonly T[], random: Random): T[] {
  const next = [...list];
  for (let i = next.length - 1; i > 0; i--) {
    const k = pick(random, i + 1);
    [next[i], next[k]] = [next[k]!, next[i]!];
  }
  return next;
}

export const isText = ({ file }: Shape) => file === 'log.csv';
/** Shapes whose text is one byte a character, with nothing above or below the rows and names in the first line. */
export const isPlain = ({ file, name }: Shape) =>
  isText({ file } as Shape) && !/UTF-16|Windows|title|footer|row of units|quoted|mark/.test(name);
const isSemicolon = ({ name }: Shape) => /semicolon|words|points/.test(name);
/** Shapes of which order, not the course of a counter, tells what is what. */
const hasEveryFlow = ({ name }: Shape) =>
  !/not logged|counter|volts|energy|Slovene|exchanged|no units|UTC that does not|kW named W|strings/.test(
    name,
  );
export const isCommaPlain = (shape: Shape) =>
  isPlain(shape) && !isSemicolon(shape) && !/tabs|bars/.test(shape.name);
export const isCounter = ({ name }: Shape) => /counter/.test(name);
/** A shape of one day whose question hides what else is asked. */
export const isLong = ({ days }: Shape) => days > 2;

export const isPlainAndLong = (shape: Shape) => isPlain(shape) && isLong(shape);
/** Puts the rows of a text in another order, its names left where they are. */
export const inOrder =
  (change: (rows: string[], random: Random) => string[]) =>
  ([head, ...rows]: string[], random: Random): string[] => [
    head!,
    ...change(
      rows.filter((row) => row !== ''),
      random,
    ),
    '',
  ];

export const factor =
  (by: Partial<Record<'solar' | 'load' | 'grid' | 'battery', number>>) =>
  (list: Interval[]): Interval[] =>
    list.map((one) => ({
      ...one,
      solar: one.solar * (by.solar ?? 1),
      load: one.load * (by.load ?? 1),
      grid: one.grid * (by.grid ?? 1),
      battery: one.battery * (by.battery ?? 1),
    }));
const FLOWS = ['solar', 'load', 'grid', 'battery'] as const;
export const flowOf = (random: Random) => FLOWS[pick(random, 4)]!;
export const units = (shape: Shape) => hasEveryFlow(shape) && isLong(shape);

export const separatorOf = ({ name }: Shape) =>
  isSemicolon({ name } as Shape) ? ';' : name === 'tabs' ? '\t' : name === 'bars' ? '|' : ',';
export const cut = (line: string, shape: Shape) => line.split(separatorOf(shape));
export const join = (cells: readonly string[], shape: Shape) => cells.join(separatorOf(shape));
/** Changes cells of rows, names left as they are. */
export const cells =
  (change: (cells: string[], row: number, random: Random) => string[]) =>
  (lines: string[], random: Random, shape: Shape): string[] =>
    lines.map((line, i) =>
      i === 0 || line === '' ? line : join(change(cut(line, shape), i, random), shape),
    );
export const oneRow =
  (change: (cells: string[], random: Random) => string[]) =>
  (lines: string[], random: Random, shape: Shape): string[] => {
    const at = 1 + pick(random, lines.length - 2);
    return lines.map((line, i) => (i === at ? join(change(cut(line, shape), random), shape) : line));
  };
/** Changes one cell of a share of the rows. */
export const someCells = (share: number, change: (cell: string, random: Random) => string) =>
  cells((row, _i, random) => {
    if (random() >= share) return row;
    const at = 1 + pick(random, row.length - 1);
    return row.map((cell, f) => (f === at ? change(cell, random) : cell));
  });
export const insert =
  (line: string | ((random: Random) => string)) =>
  (lines: string[], random: Random): string[] => {
    const at = 1 + pick(random, lines.length - 1);
    return [...lines.slice(0, at), typeof line === 'string' ? line : line(random), ...lines.slice(at)];
  };
export const halves = (bytes: Uint8Array): [string, string] => {
  const [head, ...rows] = new TextDecoder('latin1').decode(bytes).trimEnd().split('\n');
  const half = rows.length >> 1;
  return [`${[head, ...rows.slice(0, half)].join('\n')}\n`, `${[head, ...rows.slice(half)].join('\n')}\n`];
};
export const packed = (name: string, files: Parameters<typeof zipSync>[0]): CaseFile[] => [
  { name, bytes: zipSync(files, { mtime: '2024-01-01' }) },
];

/** Each byte with a zero behind it, after a mark. */
export function wide(bytes: Uint8Array, mark: Uint8Array): Uint8Array {
  const all = new Uint8Array(mark.length + 2 * bytes.length);
  all.set(mark);
  bytes.forEach((byte, i) => (all[mark.length + 2 * i] = byte));
  return all;
}
