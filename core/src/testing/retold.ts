import { gzipSync, strToU8, zipSync } from 'fflate';
import {
  cells,
  cut,
  halves,
  inOrder,
  insert,
  isCommaPlain,
  isCounter,
  isLong,
  isPlain,
  isPlainAndLong,
  isText,
  join,
  type Mutation,
  packed,
  pick,
  separatorOf,
  shuffled,
  someCells,
  wide,
} from './mutation.js';

/** Ways in which a file says the same. */
export const RETOLD: readonly Mutation[] = [
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
];
