import { isDeepStrictEqual } from 'node:util';
import { unzipSync, zipSync } from 'fflate';
import { openBook, type OpenedBook } from '../bookFile/openBook.js';
import { bookOf, pathOfFile } from '../bookFile/writeBook.js';
import { readFile } from '../import/readLog.js';
import { InputError } from '../model/problem.js';
import { prepare } from '../passes/prepare.js';
import { seededRandom } from '../statistics/random.js';
import { SHAPES } from './corpus.js';
import { CORPUS_HOME, series } from './shape.js';
import type { Trial } from './fuzzing.js';
import { bytesOf } from './logs.js';
import type { Random } from './mutation.js';

const FROM = Date.UTC(2024, 4, 3);

/** A small book: two days of hours in one file, a reading and a note. */
async function smallBook(): Promise<Uint8Array> {
  const text = SHAPES.find(({ name }) => name === 'canonical')!.write(series(FROM, 2, 60)) as string;
  const bytes = new TextEncoder().encode(text);
  const [file] = await readFile('log.csv', () => bytesOf(bytes), CORPUS_HOME);
  const path = pathOfFile(0, 'log.csv');
  const note = {
    fromMs: FROM,
    toMs: FROM + 3_600_000,
    kind: 'weather',
    text: 'hail',
    leaveOut: false,
  } as const;
  const prepared = prepare(CORPUS_HOME, [file!.log], [], [note]);
  const contents = {
    id: 'home-1',
    files: [{ path, open: () => bytesOf(bytes) }],
    sources: [
      {
        ...{ path, fileName: 'log.csv', name: 'log.csv', mapping: file!.mapping },
        ...{ importedAt: 1, removedAt: null, leftOut: [] },
      },
    ],
    readings: [{ atMs: FROM, counters: { import: 1 }, note: 'by hand' }],
    ...{ corrections: [], dismissals: [], trials: [], appliances: [], offers: [], scenarios: [] },
    reportLayout: null,
    settings: null,
  };
  const chunks: Uint8Array[] = [];
  for await (const chunk of bookOf(contents, prepared, prepared, FROM)) chunks.push(chunk);
  return new Uint8Array(Buffer.concat(chunks));
}

const anywhere = (random: Random, bytes: Uint8Array) => Math.floor(random() * bytes.length);

/** Ways in which a book is spoilt on a disk, on its way, or by a hand. */
const WAYS: Readonly<Record<string, (book: Uint8Array, random: Random) => Uint8Array>> = {
  cut: (book, random) => book.slice(0, anywhere(random, book)),
  'a flipped bit': (book, random) => {
    const at = anywhere(random, book);
    return book.map((byte, i) => (i === at ? byte ^ (1 << Math.floor(8 * random())) : byte));
  },
  'a block of zeros': (book, random) => {
    const at = anywhere(random, book);
    return book.map((byte, i) => (i >= at && i < at + 512 ? 0 : byte));
  },
  'a piece twice': (book, random) => {
    const at = anywhere(random, book);
    return new Uint8Array(Buffer.concat([book.slice(0, at), book.slice(Math.max(0, at - 1000))]));
  },
  'a member gone': (book, random) => {
    const members = Object.entries(unzipSync(book));
    members.splice(Math.floor(random() * members.length), 1);
    return zipSync(Object.fromEntries(members), { level: 1 });
  },
  'two members exchanged': (book, random) => {
    const members = Object.entries(unzipSync(book));
    const [a, b] = [members, members].map((list) => Math.floor(random() * list.length)) as [number, number];
    const [one, other] = [members[a]!, members[b]!];
    return zipSync({ ...Object.fromEntries(members), [one[0]]: other[1], [other[0]]: one[1] }, { level: 1 });
  },
};

let sound: Promise<readonly [Uint8Array, OpenedBook]> | null = null;

/** Spoils a book: it must be refused in words, or hold all that it held; what is saved of it must be what it was. */
export async function tryBook(seed: number): Promise<Trial> {
  sound ??= smallBook().then(async (bytes) => [bytes, await openBook('book.zip', bytes)] as const);
  const [bytes, whole] = await sound;
  const random = seededRandom(seed);
  const names = Object.keys(WAYS);
  const mutation = names[Math.floor(random() * names.length)]!;
  const spoilt = WAYS[mutation]!(bytes, random);
  const begin = performance.now();
  let [outcome, why]: [Trial['outcome'], string] = ['equal', ''];
  try {
    if (!isDeepStrictEqual(await openBook('book.zip', spoilt), whole))
      [outcome, why] = ['silent', 'It opened, and holds something else.'];
  } catch (error) {
    [outcome, why] =
      error instanceof InputError ? ['refused', ''] : ['broken', String((error as Error).stack)];
  }
  if (outcome === 'refused')
    try {
      const { lost, files } = await openBook('book.zip', spoilt, 'salvage');
      const isOther = [...files].some(([path, own]) => !isDeepStrictEqual(own, whole.files.get(path)));
      if (lost.length === 0)
        [outcome, why] = ['silent', 'Nothing is said to be lost of a book that is refused.'];
      if (isOther) [outcome, why] = ['silent', 'A file that was saved from it is not what it was.'];
    } catch (error) {
      if (!(error instanceof InputError)) [outcome, why] = ['broken', String((error as Error).stack)];
    }
  return { seed, shape: 'a book', mutation, outcome, why, ms: performance.now() - begin };
}
