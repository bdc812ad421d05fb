import { gzipSync, strToU8, zipSync } from 'fflate';
import { seededRandom } from '../statistics/random.js';
import type { Interval, Shape } from './corpus.js';

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

const pick = (random: Random, count: number) => Math.min(count - 1, Math.floor(random() * count));

/** Rows in another order, each as likely. */
export function shuffled<T>(list: readonly T[], random: Random): T[] {
  const next = [...list];
  for (let i = next.length - 1; i > 0; i--) {
    const k = pick(random, i + 1);
    [next[i], next[k]] = [next[k]!, next[i]!];
  }
  return next;
}

const isText = ({ file }: Shape) => file === 'log.csv';
/** Shapes whose text is one byte a character, with nothing above or below the rows and names in the first line. */
const isPlain = ({ file, name }: Shape) =>
  isText({ file } as Shape) && !/UTF-16|Windows|title|footer|row of units|quoted|mark/.test(name);
const isSemicolon = ({ name }: Shape) => /semicolon|words|points/.test(name);
/** Shapes of which order, not the course of a counter, tells what is what. */
const hasEveryFlow = ({ name }: Shape) =>
  !/not logged|counter|volts|energy|Slovene|exchanged|no units|UTC that does not|kW named W|strings/.test(
    name,
  );
const isCommaPlain = (shape: Shape) => isPlain(shape) && !isSemicolon(shape) && !/tabs|bars/.test(shape.name);
const isCounter = ({ name }: Shape) => /counter/.test(name);
/** A shape of one day whose question hides what else is asked. */
const isLong = ({ days }: Shape) => days > 2;

const isPlainAndLong = (shape: Shape) => isPlain(shape) && isLong(shape);
/** Puts the rows of a text in another order, its names left where they are. */
const inOrder =
  (change: (rows: string[], random: Random) => string[]) =>
  ([head, ...rows]: string[], random: Random): string[] => [
    head!,
    ...change(
      rows.filter((row) => row !== ''),
      random,
    ),
    '',
  ];

const factor =
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
const flowOf = (random: Random) => FLOWS[pick(random, 4)]!;
const units = (shape: Shape) => hasEveryFlow(shape) && isLong(shape);

const separatorOf = ({ name }: Shape) =>
  isSemicolon({ name } as Shape) ? ';' : name === 'tabs' ? '\t' : name === 'bars' ? '|' : ',';
const cut = (line: string, shape: Shape) => line.split(separatorOf(shape));
const join = (cells: readonly string[], shape: Shape) => cells.join(separatorOf(shape));
/** Changes cells of rows, names left as they are. */
const cells =
  (change: (cells: string[], row: number, random: Random) => string[]) =>
  (lines: string[], random: Random, shape: Shape): string[] =>
    lines.map((line, i) =>
      i === 0 || line === '' ? line : join(change(cut(line, shape), i, random), shape),
    );
const oneRow =
  (change: (cells: string[], random: Random) => string[]) =>
  (lines: string[], random: Random, shape: Shape): string[] => {
    const at = 1 + pick(random, lines.length - 2);
    return lines.map((line, i) => (i === at ? join(change(cut(line, shape), random), shape) : line));
  };
/** Changes one cell of a share of the rows. */
const someCells = (share: number, change: (cell: string, random: Random) => string) =>
  cells((row, _i, random) => {
    if (random() >= share) return row;
    const at = 1 + pick(random, row.length - 1);
    return row.map((cell, f) => (f === at ? change(cell, random) : cell));
  });
const insert =
  (line: string | ((random: Random) => string)) =>
  (lines: string[], random: Random): string[] => {
    const at = 1 + pick(random, lines.length - 1);
    return [...lines.slice(0, at), typeof line === 'string' ? line : line(random), ...lines.slice(at)];
  };
const halves = (bytes: Uint8Array): [string, string] => {
  const [head, ...rows] = new TextDecoder('latin1').decode(bytes).trimEnd().split('\n');
  const half = rows.length >> 1;
  return [`${[head, ...rows.slice(0, half)].join('\n')}\n`, `${[head, ...rows.slice(half)].join('\n')}\n`];
};
const packed = (name: string, files: Parameters<typeof zipSync>[0]): CaseFile[] => [
  { name, bytes: zipSync(files, { mtime: '2024-01-01' }) },
];

/** Each byte with a zero behind it, after a mark. */
function wide(bytes: Uint8Array, mark: Uint8Array): Uint8Array {
  const all = new Uint8Array(mark.length + 2 * bytes.length);
  all.set(mark);
  bytes.forEach((byte, i) => (all[mark.length + 2 * i] = byte));
  return all;
}

/** Every class of mutation. */
export const MUTATIONS: readonly Mutation[] = [
  // The same told in another way.
  {
    name: 'shuffled rows',
    kind: 'same',
    fits: isPlainAndLong,
    lines: inOrder((rows, random) => shuffled(rows, random)),
  },
  { name: 'newest first', kind: 'same', fits: isPlainAndLong, lines: inOrder((rows) => rows.reverse()) },
  {
    name: 'rotated rows',
    kind: 'same',
    fits: isPlainAndLong,
    lines: inOrder((rows, random) => {
      const at = pick(random, rows.length);
      return [...rows.slice(at), ...rows.slice(0, at)];
    }),
  },
  {
    name: 'interleaved halves',
    kind: 'same',
    fits: isPlainAndLong,
    lines: inOrder((rows) => {
      const half = rows.length >> 1;
      return rows.slice(0, half).flatMap((row, i) => [row, rows[half + i]!]);
    }),
  },
  {
    name: 'rows twice',
    kind: 'same',
    fits: isPlainAndLong,
    lines: inOrder((rows) => rows.flatMap((row) => [row, row])),
  },
  {
    name: 'another name',
    kind: 'same',
    files: ({ bytes, name }) => [{ name: `Export 2024-05 (1).${name.split('.').slice(1).join('.')}`, bytes }],
  },
  {
    name: 'CRLF',
    kind: 'same',
    fits: isPlain,
    lines: (lines) => lines.map((line) => (line === '' ? line : `${line}\r`)),
  },
  {
    name: 'a mark before it',
    kind: 'same',
    fits: isPlain,
    bytes: (bytes) => Uint8Array.of(0xef, 0xbb, 0xbf, ...bytes),
  },
  { name: 'blank lines at the end', kind: 'same', fits: isPlain, lines: (lines) => [...lines, '', '', ''] },
  { name: 'blank lines among the rows', kind: 'same', fits: isPlain, lines: insert('') },
  {
    name: 'all cells quoted',
    kind: 'same',
    fits: isPlain,
    lines: (lines, _r, shape) =>
      lines.map((line) =>
        line === '' || line.includes('"')
          ? line
          : join(
              cut(line, shape).map((cell) => `"${cell}"`),
              shape,
            ),
      ),
  },
  {
    name: 'spaces around cells',
    kind: 'same',
    fits: isPlain,
    lines: (lines, _r, shape) =>
      lines.map((line) =>
        line === ''
          ? line
          : join(
              cut(line, shape).map((cell) => ` ${cell}  `),
              shape,
            ),
      ),
  },
  {
    name: 'a separator at each end',
    kind: 'same',
    fits: isPlain,
    lines: (lines, _r, shape) => lines.map((line) => (line === '' ? line : `${line}${separatorOf(shape)}`)),
  },
  {
    name: 'semicolons',
    kind: 'same',
    fits: isCommaPlain,
    lines: (lines) => lines.map((line) => line.replaceAll(',', ';')),
  },
  {
    name: 'tabs for commas',
    kind: 'same',
    fits: isCommaPlain,
    lines: (lines) => lines.map((line) => line.replaceAll(',', '\t')),
  },
  {
    name: 'capital names',
    kind: 'same',
    fits: (s) => isPlain(s) && !/camel/.test(s.name),
    lines: ([head, ...rows]) => [
      head!.toUpperCase().replace(/KWH/g, 'kWh').replace(/MWH/g, 'MWh').replace(/KW/g, 'kW'),
      ...rows,
    ],
  },
  {
    name: 'a column of remarks',
    kind: 'same',
    fits: isPlain,
    lines: (lines, _r, shape) =>
      lines.map((line, i) =>
        line === '' ? line : `${line}${separatorOf(shape)}${i === 0 ? 'Remark' : i % 7 === 0 ? 'ok' : ''}`,
      ),
  },
  {
    name: 'columns in another order',
    kind: 'same',
    fits: (s) => isPlain(s) && !/date and clock/.test(s.name),
    lines: (lines, random, shape) => {
      const order = shuffled(
        cut(lines[0]!, shape).map((_, f) => f),
        random,
      );
      return lines.map((line) =>
        line === ''
          ? line
          : join(
              order.map((f) => cut(line, shape)[f] ?? ''),
              shape,
            ),
      );
    },
  },
  {
    name: 'title lines',
    kind: 'same',
    fits: isPlain,
    lines: (lines) => ['Report of the home', 'made on request', ...lines],
  },
  {
    name: 'numbers with a plus',
    kind: 'same',
    fits: isPlain,
    lines: someCells(0.3, (cell) => (/^[1-9]\d*(\.\d+)?$/.test(cell) ? `+${cell}` : cell)),
  },
  {
    name: 'typographic minus',
    kind: 'same',
    fits: (s) => isPlain(s),
    bytes: (bytes) =>
      new TextEncoder().encode(new TextDecoder().decode(bytes).replace(/(?<=[,;\t|])-(?=\d)/g, '\u2212')),
  },
  {
    name: 'thousands set apart',
    kind: 'same',
    fits: (s) =>
      isCommaPlain(s) && /^(ISO|site clock, (?!year)|month by|UTC said|newest|charge pos|signs)/.test(s.name),
    lines: cells((row) =>
      row.map((cell, f) =>
        f > 0 && /^-?\d{4}$/.test(cell) ? `"${cell.replace(/(\d)(\d{3})$/, '$1,$2')}"` : cell,
      ),
    ),
  },
  {
    name: 'UTF-16',
    kind: 'same',
    fits: isPlain,
    bytes: (bytes) => wide(bytes, Uint8Array.of(0xff, 0xfe)),
  },
  {
    name: 'gzip',
    kind: 'same',
    fits: isText,
    files: ({ name, bytes }) => [{ name: `${name}.gz`, bytes: gzipSync(bytes) }],
  },
  {
    name: 'zip',
    kind: 'same',
    fits: isText,
    files: ({ name, bytes }) => packed('log.zip', { [name]: bytes }),
  },
  {
    name: 'zip in a zip',
    kind: 'same',
    fits: isText,
    files: ({ name, bytes }) =>
      packed('log.zip', { 'inner.zip': zipSync({ [name]: bytes }), 'notes.md': strToU8('nothing here') }),
  },
  {
    name: 'gzip in a zip',
    kind: 'same',
    fits: isText,
    files: ({ name, bytes }) => packed('log.zip', { [`${name}.gz`]: gzipSync(bytes) }),
  },
  {
    name: 'the same file twice in a zip',
    kind: 'same',
    fits: isText,
    files: ({ bytes }) => packed('log.zip', { 'a.csv': bytes, 'b.csv': bytes }),
  },
  {
    name: 'two halves as two files',
    kind: 'same',
    fits: (s) => isPlain(s) && isLong(s) && !isCounter(s),
    files: ({ bytes }) => halves(bytes).map((text, i) => ({ name: `${i}.csv`, bytes: strToU8(text) })),
  },
  {
    name: 'two halves under one name in a zip',
    kind: 'same',
    fits: (s) => isPlain(s) && isLong(s) && !isCounter(s),
    files: ({ bytes }) => {
      const [a, b] = halves(bytes);
      // Two names of one length, then one put in place of the other: no packer would do it, some loggers do.
      const zip = zipSync({ 'aa.csv': strToU8(a), 'ab.csv': strToU8(b) });
      for (let i = 0; i + 5 < zip.length; i++)
        if (zip[i] === 97 && zip[i + 1] === 98 && zip[i + 2] === 46 && zip[i + 3] === 99) zip[i + 1] = 97;
      return [{ name: 'log.zip', bytes: zip }];
    },
  },

  // Rows or values that are missing.
  {
    name: 'a hole of hours',
    kind: 'loses',
    fits: isLong,
    series: (list, random) => {
      const at = pick(random, list.length - 40);
      return list.filter((_, i) => i < at || i >= at + 30);
    },
  },
  {
    name: 'a hole of days',
    kind: 'loses',
    fits: isLong,
    series: (list, random) => {
      const at = pick(random, list.length >> 1);
      return list.filter((_, i) => i < at || i >= at + list.length / 3);
    },
  },
  {
    name: 'rows lost here and there',
    kind: 'loses',
    fits: isLong,
    series: (list, random) => list.filter(() => random() > 0.3),
  },
  {
    name: 'the file cut short',
    kind: 'loses',
    fits: isText,
    bytes: (bytes, random) => bytes.slice(0, Math.floor(bytes.length * (0.2 + 0.7 * random()))),
  },
  { name: 'rows cut short', kind: 'loses', fits: isPlain, lines: oneRow((row) => row.slice(0, 2)) },
  { name: 'empty cells', kind: 'loses', fits: isPlain, lines: someCells(0.2, () => '') },
  {
    name: 'a column empty for days',
    kind: 'loses',
    fits: (s) => isPlain(s) && isLong(s),
    lines: (lines, random, shape) => {
      const at = pick(random, lines.length >> 1);
      return lines.map((line, i) =>
        i < Math.max(1, at) || i > at + lines.length / 3 || line === ''
          ? line
          : join(
              cut(line, shape).map((cell, f) => (f === 2 ? '' : cell)),
              shape,
            ),
      );
    },
  },

  // What is wrong and must be told.
  {
    name: 'words for numbers',
    kind: 'told',
    fits: isPlain,
    lines: someCells(
      0.1,
      (_, random) =>
        ['NaN', 'N/A', 'inf', '1e308', '--', 'null', '#REF!', '-Infinity', '1e999'][pick(random, 9)]!,
    ),
  },
  {
    name: 'sentinels',
    kind: 'told',
    fits: (s) => isPlain(s) && units(s),
    lines: someCells(0.002, (_, random) => ['-9999', '65535', '32767', '99999'][pick(random, 4)]!),
  },
  { name: 'a row of other width', kind: 'told', fits: isPlain, lines: oneRow((row) => [...row, '7', '8']) },
  { name: 'a line of rubbish', kind: 'told', fits: isPlain, lines: insert('### connection lost ###') },
  {
    name: 'the names once more',
    kind: 'told',
    fits: isPlain,
    lines: (lines, random) => insert(lines[0]!)(lines, random),
  },
  {
    name: 'a quote left open',
    kind: 'told',
    fits: isPlain,
    lines: oneRow(([first, ...row]) => [`"${first!}`, ...row]),
  },
  {
    name: 'a hundred thousand spaces',
    kind: 'told',
    fits: isPlain,
    lines: oneRow((row) => row.map((cell, f) => (f === 1 ? `${' '.repeat(100_000)}x` : cell))),
  },
  {
    name: 'spaces in the time',
    kind: 'told',
    fits: isPlain,
    lines: oneRow((row) => row.map((cell, f) => (f === 0 ? `${cell}${' '.repeat(100_000)}x` : cell))),
  },
  {
    name: 'a long cell of digits',
    kind: 'told',
    fits: isPlain,
    lines: oneRow((row) => row.map((cell, f) => (f === 1 ? '1,'.repeat(50_000) : cell))),
  },
  {
    name: 'month 13',
    kind: 'told',
    fits: (s) => isPlain(s),
    lines: oneRow(([first, ...row]) => [
      first!.replace(/-(0[1-9]|1[0-2])-/, '-13-').replace(/\/05\//, '/83/'),
      ...row,
    ]),
  },
  {
    name: 'day 83',
    kind: 'told',
    fits: isPlain,
    lines: oneRow(([first, ...row]) => [first!.replace(/-\d\d([T ])/, '-83$1'), ...row]),
  },
  {
    name: 'offset +99:99',
    kind: 'told',
    fits: ({ name }) => name === 'ISO with an offset',
    lines: oneRow(([first, ...row]) => [first!.replace(/\+\d\d:\d\d$/, '+99:99'), ...row]),
  },
  {
    name: 'a row of the year 2000',
    kind: 'told',
    fits: isLong,
    series: ([first, ...rest]) => [{ ...first!, ms: Date.UTC(2000, 0, 1, 12) }, ...rest],
  },
  {
    name: 'a row of the year 2049',
    kind: 'told',
    fits: isLong,
    series: (list) => [...list.slice(0, -1), { ...list.at(-1)!, ms: Date.UTC(2049, 5, 1, 12) }],
  },
  {
    name: 'a row half a year off',
    kind: 'told',
    fits: isLong,
    series: (list, random) => {
      const at = pick(random, list.length);
      return list.map((one, i) => (i === at ? { ...one, ms: one.ms + 180 * 86_400_000 } : one));
    },
  },
  {
    name: 'rows twice with other values',
    kind: 'told',
    fits: (s) => isLong(s) && !isCounter(s),
    series: (list) => list.flatMap((one) => [one, { ...one, load: one.load + 900, grid: one.grid + 900 }]),
  },
  {
    name: 'spikes',
    kind: 'told',
    fits: units,
    series: (list, random) => {
      const flow = flowOf(random);
      return list.map((one) => (random() < 0.002 ? { ...one, [flow]: 600_000 } : one));
    },
  },
  {
    name: 'a value that stands still',
    kind: 'told',
    fits: units,
    series: (list) => {
      const from = list.length >> 2;
      return list.map((one, i) => (i > from && i < from + list.length / 2 ? { ...one, load: 431 } : one));
    },
  },
  {
    name: 'three hours late',
    kind: 'told',
    fits: units,
    series: (list) => list.map((one) => ({ ...one, ms: one.ms + 3 * 3_600_000 })),
  },
  {
    name: 'one flow turned',
    kind: 'told',
    fits: units,
    series: (list, random) => factor({ [flowOf(random)]: -1 })(list),
  },
  { name: 'grid and battery turned', kind: 'told', fits: units, series: factor({ grid: -1, battery: -1 }) },
  {
    name: 'all signs turned',
    kind: 'told',
    fits: units,
    series: factor({ solar: -1, load: -1, grid: -1, battery: -1 }),
  },
  {
    name: 'one flow tenfold',
    kind: 'told',
    fits: units,
    series: (list, random) => factor({ [flowOf(random)]: 10 })(list),
  },
  {
    name: 'one flow a tenth',
    kind: 'told',
    fits: units,
    series: (list, random) => factor({ [flowOf(random)]: 0.1 })(list),
  },
  {
    name: 'one flow a thousandth',
    kind: 'told',
    fits: units,
    series: (list, random) => factor({ [flowOf(random)]: 0.001 })(list),
  },
  {
    name: 'one flow a thousandfold',
    kind: 'told',
    fits: units,
    series: (list, random) => factor({ [flowOf(random)]: 1000 })(list),
  },
  {
    name: 'all in kilowatts',
    kind: 'told',
    fits: units,
    series: factor({ solar: 0.001, load: 0.001, grid: 0.001, battery: 0.001 }),
  },
  {
    name: 'all a thousandfold',
    kind: 'told',
    fits: units,
    series: factor({ solar: 1000, load: 1000, grid: 1000, battery: 1000 }),
  },
  {
    name: 'another unit from the middle on',
    kind: 'told',
    fits: units,
    series: (list) => [
      ...list.slice(0, list.length >> 1),
      ...factor({ load: 0.001 })(list.slice(list.length >> 1)),
    ],
  },
  {
    name: 'load and grid exchanged',
    kind: 'told',
    fits: units,
    series: (list) => list.map((one) => ({ ...one, load: one.grid, grid: one.load })),
  },
  {
    name: 'solar and load exchanged',
    kind: 'told',
    fits: units,
    series: (list) => list.map((one) => ({ ...one, solar: one.load, load: one.solar })),
  },
  {
    name: 'grid and battery exchanged',
    kind: 'told',
    fits: units,
    series: (list) => list.map((one) => ({ ...one, grid: one.battery, battery: one.grid })),
  },
  {
    name: 'charge as a share',
    kind: 'told',
    fits: units,
    series: (list) => list.map((one) => ({ ...one, soc: one.soc / 100 })),
  },
  {
    name: 'depth of discharge',
    kind: 'told',
    fits: units,
    series: (list) => list.map((one) => ({ ...one, soc: 100 - one.soc })),
  },
  {
    name: 'a flow all zero',
    kind: 'told',
    fits: units,
    series: (list, random) => factor({ [flowOf(random)]: 0 })(list),
  },
  {
    name: 'one byte',
    kind: 'told',
    bytes: (bytes, random) => {
      const at = pick(random, bytes.length);
      return bytes.map((byte, i) => (i === at ? pick(random, 256) : byte));
    },
  },
  {
    name: 'a zero byte',
    kind: 'told',
    bytes: (bytes, random) => {
      const at = pick(random, bytes.length);
      return bytes.map((byte, i) => (i === at ? 0 : byte));
    },
  },
  {
    name: 'a beginning lost',
    kind: 'told',
    bytes: (bytes, random) => bytes.slice(pick(random, bytes.length >> 2)),
  },
  {
    name: 'every other byte zero',
    kind: 'told',
    fits: ({ name }) => name !== 'UTF-16',
    bytes: (bytes) => wide(bytes.slice(0, 200_000), new Uint8Array(0)),
  },
  {
    name: 'gzip cut short',
    kind: 'told',
    fits: isText,
    files: ({ name, bytes }, random) => [
      { name: `${name}.gz`, bytes: gzipSync(bytes).slice(0, -1 - pick(random, 40)) },
    ],
  },
  {
    name: 'a damaged member',
    kind: 'told',
    fits: isText,
    files: ({ bytes }, random) => {
      const zip = zipSync({ 'a.csv': bytes });
      const at = 60 + pick(random, zip.length - 160);
      zip[at] = zip[at]! ^ 0x5a;
      return [{ name: 'log.zip', bytes: zip }];
    },
  },
  {
    name: 'an archive cut short',
    kind: 'told',
    fits: isText,
    files: ({ bytes }, random) => [
      { name: 'log.zip', bytes: zipSync({ 'a.csv': bytes }).slice(0, -1 - pick(random, 60)) },
    ],
  },
  {
    name: 'names exchanged',
    kind: 'told',
    fits: (s) => isPlain(s) && units(s),
    lines: ([head, ...rows], random, shape) => {
      const names = cut(head!, shape);
      const [a, b] = [1 + pick(random, names.length - 1), 1 + pick(random, names.length - 1)];
      [names[a], names[b]] = [names[b]!, names[a]!];
      return [join(names, shape), ...rows];
    },
  },
  {
    name: 'control characters in a name',
    kind: 'told',
    fits: isPlain,
    lines: ([head, ...rows]) => [`${head!}\u001b[2J\u0007`, ...rows],
  },
];
