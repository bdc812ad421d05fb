import { gzipSync, zipSync } from 'fflate';
import {
  cut,
  factor,
  flowOf,
  insert,
  isCounter,
  isLong,
  isPlain,
  isText,
  join,
  type Mutation,
  oneRow,
  pick,
  someCells,
  units,
  wide,
} from './mutation.js';

/** Ways in which rows or values are missing, or something is wrong. */
export const SPOILT: readonly Mutation[] = [
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
