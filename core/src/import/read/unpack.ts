import { InputError, problemText } from '../../model/problem.js';
import { filesOf, isBomb, type ArchiveFile, type Budget } from './archive.js';
import { asUtf8, encodingOf } from './encoding.js';
import { gunzip } from './gunzip.js';
import { csvOfJson, csvRow } from './jsonRows.js';

declare const TextDecoder: new (label: string) => { decode(bytes: Uint8Array): string };
declare const TextEncoder: new () => { encode(text: string): Uint8Array };

/** Bytes of a file from its beginning; it may be asked for more than once. */
export type Open = () => AsyncIterable<Uint8Array>;

/** One text with rows in it: a file, a file in an archive, a sheet of a workbook. */
export interface Part {
  readonly name: string;
  /** UTF-8, from the beginning each time. */
  readonly open: Open;
}

/** A file within a file that is not read, and why, in words. */
export interface LeftOut {
  readonly name: string;
  readonly why: string;
  /** True when it looked like a log: then something is lost without it. */
  readonly isLog: boolean;
}

/** The texts of a file, and what else is in it. */
export interface Unpacked {
  readonly parts: readonly Part[];
  readonly leftOut: readonly LeftOut[];
}

/** Archives, workbooks and JSON are held in memory whole; text is not. */
const MOST_PACKED = 400e6;
const MOST_JSON = 120e6;
const MOST_UNPACKED = 1e9;
const DEEPEST = 4;
const LOG_NAME = /\.(csv|tsv|txt|log|json|csv\.gz|gz|xlsx|zip)$/i;
const SYSTEM_FILE = /^__MACOSX\/|(^|\/)\./;

/**
 * The texts in a file: the file itself, plain or gzipped, the files of a zip archive and of those within it, the sheets of
 * a workbook, the rows of a JSON file as CSV. Everything that is none is told.
 * @throws InputError when it cannot be unpacked, or would unpack to more than can be held
 */
export function unpack(name: string, open: Open): Promise<Unpacked> {
  return unpackFile(name, open, { left: MOST_UNPACKED }, 0);
}

async function unpackFile(name: string, open: Open, budget: Budget, depth: number): Promise<Unpacked> {
  const first = await firstBytes(open);
  if (first[0] === 0x1f && first[1] === 0x8b) {
    const inner = () => gunzipped(name, open);
    return unpackText(name, inner, await firstBytes(inner));
  }
  if (first[0] !== 0x50 || first[1] !== 0x4b || first[2] !== 3) return unpackText(name, open, first);
  if (depth >= DEEPEST) {
    const found = `Archives are nested more than ${DEEPEST} deep.`;
    throw new InputError([{ where: name, found, mend: 'Unpack them and bring the logs.' }]);
  }
  const bytes = await whole(name, open, MOST_PACKED);
  const files = await filesOf(name, bytes, budget);
  return files.some((file) => file.name === 'xl/workbook.xml')
    ? sheetsOf(name, bytes)
    : unpackArchive(name, files, budget, depth);
}

async function unpackText(name: string, open: Open, first: Uint8Array): Promise<Unpacked> {
  const text = () => asUtf8(open());
  const head = new TextDecoder(encodingOf(first))
    .decode(first.subarray(0, 2048))
    .replace(/^\uFEFF/, '')
    .trimStart();
  const part = /^[[{]/.test(head)
    ? bytesPart(name, csvOfJson(name, new TextDecoder('utf-8').decode(await whole(name, text, MOST_JSON))))
    : { name, open: text };
  return { parts: [part], leftOut: [] };
}

/** Goes through the files of an archive: each is read, or told with why it is not. */
async function unpackArchive(
  where: string,
  files: readonly ArchiveFile[],
  budget: Budget,
  depth: number,
): Promise<Unpacked> {
  const parts: Part[] = [];
  const leftOut: LeftOut[] = [];
  const seen: { readonly file: ArchiveFile; readonly name: string; readonly bytes: Uint8Array }[] = [];
  const names = new Map<string, number>();
  for (const file of [...files].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))) {
    // Several files may bear one name; each is read under its own.
    const count = (names.get(file.name) ?? 0) + 1;
    names.set(file.name, count);
    const name = `${where} › ${file.name}${count > 1 ? ` (${count})` : ''}`;
    if (SYSTEM_FILE.test(file.name)) {
      leftOut.push({ name, why: 'A file of the system that packed the archive.', isLog: false });
      continue;
    }
    try {
      const bytes = await file.bytes();
      const twin = seen.find(
        (other) => other.file.crc === file.crc && other.file.size === file.size && equal(other.bytes, bytes),
      );
      if (twin && file.size > 0) {
        leftOut.push({ name, why: `The same as ${twin.name}; it counts once.`, isLog: false });
        continue;
      }
      seen.push({ file, name, bytes });
      const inner = await unpackFile(name, () => once(bytes), budget, depth + 1);
      parts.push(...inner.parts);
      leftOut.push(...inner.leftOut);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      leftOut.push(refused(name, error));
    }
  }
  if (files.length === 0) {
    const mend = 'Bring an archive of .csv, .csv.gz, .xlsx, .txt or .json files.';
    throw new InputError([{ where, found: 'The archive is empty.', mend }]);
  }
  return { parts, leftOut };
}

/** A file within a file that cannot be read, with what was found. */
export function refused(name: string, error: InputError): LeftOut {
  const why = error.problems
    .map((problem) => problemText({ ...problem, where: '' }).replace(/^: /, ''))
    .join(' ');
  return { name, why, isLog: LOG_NAME.test(name) };
}

async function sheetsOf(name: string, bytes: Uint8Array): Promise<Unpacked> {
  // As the reader of archives: fetched with the first workbook.
  const { default: readSheets } = await import('read-excel-file/universal');
  try {
    const sheets = await readSheets(bytes.slice().buffer);
    const nameOf = (sheet: string) => (sheets.length > 1 ? `${name} › ${sheet}` : name);
    return {
      parts: sheets
        .filter(({ data }) => data.length > 1)
        .map(({ sheet, data }) => bytesPart(nameOf(sheet), data.map(csvRow).join('\n'))),
      leftOut: sheets
        .filter(({ data }) => data.length <= 1)
        .map(({ sheet }) => ({ name: nameOf(sheet), why: 'The sheet is empty.', isLog: false })),
    };
  } catch {
    const found = 'The workbook cannot be opened: it is damaged, locked, or of another kind.';
    throw new InputError([{ where: name, found, mend: 'Save the sheet as CSV and bring that.' }]);
  }
}

function equal(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((byte, i) => byte === b[i]);
}

function bytesPart(name: string, text: string): Part {
  const bytes = new TextEncoder().encode(text);
  return { name, open: () => once(bytes) };
}

async function* once(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
}

/** The decompressed bytes; what the reader throws, a cancel for example, comes through as it is. */
async function* gunzipped(where: string, open: Open): AsyncGenerator<Uint8Array> {
  const door: { failed: unknown; packed: number } = { failed: null, packed: 0 };
  const chunks = (async function* () {
    try {
      for await (const chunk of open()) {
        door.packed += chunk.length;
        yield chunk;
      }
    } catch (error) {
      door.failed = error;
      throw error;
    }
  })();
  let total = 0;
  try {
    for await (const chunk of gunzip(chunks)) {
      total += chunk.length;
      if (isBomb(total, door.packed)) {
        const found = `The compressed file unpacks to hundreds of times its size.`;
        throw new InputError([
          { where, found, mend: 'A log does not pack like that; bring it as plain CSV.' },
        ]);
      }
      yield chunk;
    }
  } catch (error) {
    if (door.failed || error instanceof InputError) throw error;
    const found = 'The compressed file is damaged or cut short.';
    throw new InputError([{ where, found, mend: 'Download it again; nothing of it was used.' }]);
  }
}

async function firstBytes(open: Open): Promise<Uint8Array> {
  for await (const chunk of open()) if (chunk.length > 0) return chunk;
  return new Uint8Array(0);
}

async function whole(where: string, open: Open, most: number): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of open()) {
    chunks.push(chunk);
    size += chunk.length;
    if (size > most) {
      const found = `An archive, workbook or JSON file of more than ${most / 1e6} MB cannot be held.`;
      throw new InputError([
        { where, found, mend: 'Bring the log as CSV text, which is read piece by piece.' },
      ]);
    }
  }
  const bytes = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  return bytes;
}
