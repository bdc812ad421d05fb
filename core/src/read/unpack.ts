import { unzipSync, type UnzipFileInfo } from 'fflate';
import readSheets from 'read-excel-file/universal';
import { InputError } from '../problem.js';
import { asUtf8, encodingOf } from './encoding.js';
import { gunzip } from './gunzip.js';

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

/** Archives and workbooks are held in memory whole; text is not. */
const MOST_PACKED = 400e6;
const MOST_UNPACKED = 2e9;
/** Logs pack to a tenth or a twentieth; what packs to less than this is made to fill a disk. */
const MOST_RATIO = 300;
const RATIO_MATTERS_FROM = 50e6;
const MOST_PARTS = 2000;
const TABLE_NAME = /\.(csv|tsv|txt|log|json|csv\.gz)$/i;

/**
 * The texts in a file: the file itself, plain or gzipped, the files of a zip archive, the sheets of a workbook, the rows
 * of a JSON file as CSV.
 * @throws InputError when it cannot be unpacked, or would unpack to more than can be held
 */
export async function unpack(name: string, open: Open): Promise<Part[]> {
  const first = await firstBytes(open);
  if (first[0] === 0x1f && first[1] === 0x8b) {
    const inner = () => gunzipped(name, open);
    return unpackText(name, inner, await firstBytes(inner));
  }
  if (first[0] === 0x50 && first[1] === 0x4b && first[2] === 3)
    return unpackArchive(name, await whole(name, open));
  return unpackText(name, open, first);
}

async function unpackText(name: string, open: Open, first: Uint8Array): Promise<Part[]> {
  const text = () => asUtf8(open());
  const head = new TextDecoder(encodingOf(first))
    .decode(first.subarray(0, 2048))
    .replace(/^\uFEFF/, '')
    .trimStart();
  if (!/^[[{]/.test(head)) return [{ name, open: text }];
  const csv = csvOfJson(name, new TextDecoder('utf-8').decode(await whole(name, text)));
  return [bytesPart(name, csv)];
}

async function unpackArchive(name: string, bytes: Uint8Array): Promise<Part[]> {
  const refuse = (found: string, mend: string) => new InputError([{ where: name, found, mend }]);
  const names: string[] = [];
  const damaged = refuse(
    'The archive is damaged or cut short.',
    'Download it again; nothing of it was used.',
  );
  let total = 0;
  const isWanted = (file: UnzipFileInfo) => {
    names.push(file.name);
    total += file.originalSize;
    if (total > MOST_UNPACKED || isBomb(total, bytes.length)) {
      throw refuse(
        `The archive would unpack to more than ${Math.round(total / 1e6)} MB.`,
        'A log does not pack like that; bring its files one by one.',
      );
    }
    // A workbook is opened by its own reader, which needs the archive as it is.
    return TABLE_NAME.test(file.name) && !/^(__MACOSX\/|\.)|\/\./.test(file.name);
  };
  let files: Record<string, Uint8Array>;
  try {
    // Not in a worker of its own, which a strict content policy forbids: the reader runs in one already.
    files = unzipSync(bytes, { filter: isWanted });
  } catch (error) {
    throw error instanceof InputError ? error : damaged;
  }
  if (names.includes('xl/workbook.xml')) return sheetsOf(name, bytes);
  const entries = Object.entries(files).sort(([a], [b]) => (a < b ? -1 : 1));
  if (entries.length === 0) {
    const list = names.slice(0, 5).map((file) => `"${file.slice(0, 60)}"`);
    throw refuse(
      `The archive holds no log: ${list.join(', ') || 'it is empty'}.`,
      'Bring an archive of .csv, .csv.gz, .txt or .json files.',
    );
  }
  if (entries.length > MOST_PARTS)
    throw refuse(`The archive holds ${entries.length} files.`, `Bring at most ${MOST_PARTS} at a time.`);
  const parts = await Promise.all(
    entries.map(([file, data]) => unpack(`${name} › ${file}`, () => once(data))),
  );
  return parts.flat();
}

async function sheetsOf(name: string, bytes: Uint8Array): Promise<Part[]> {
  try {
    const sheets = await readSheets(bytes.slice().buffer);
    return sheets
      .filter(({ data }) => data.length > 1)
      .map(({ sheet, data }) =>
        bytesPart(sheets.length > 1 ? `${name} › ${sheet}` : name, data.map(csvRow).join('\n')),
      );
  } catch (error) {
    const found = `The workbook cannot be opened (${(error as Error).message}).`;
    throw new InputError([{ where: name, found, mend: 'Save the sheet as CSV and bring that.' }]);
  }
}

/** Rows of a JSON file as CSV: a list of objects or of lists, at the top or under one key. */
function csvOfJson(where: string, text: string): string {
  const mend = 'Bring a list of rows, each an object with a time and the quantities.';
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new InputError([{ where, found: `This is not JSON: ${(error as Error).message}.`, mend }]);
  }
  const rows = rowsIn(json);
  if (!rows) throw new InputError([{ where, found: 'The JSON holds no list of rows.', mend }]);
  if (rows.every((row) => Array.isArray(row))) return rows.map((row) => csvRow(row as unknown[])).join('\n');
  const objects = rows.filter(
    (row): row is Record<string, unknown> => typeof row === 'object' && row !== null,
  );
  const keys = [...new Set(objects.flatMap((row) => Object.keys(row)))];
  return [csvRow(keys), ...objects.map((row) => csvRow(keys.map((key) => row[key])))].join('\n');
}

function rowsIn(json: unknown): unknown[] | null {
  if (Array.isArray(json))
    return json.length > 0 && json.every((row) => typeof row === 'object') ? json : null;
  if (typeof json !== 'object' || json === null) return null;
  return (
    Object.values(json)
      .map(rowsIn)
      .find((rows) => rows !== null) ?? null
  );
}

function csvRow(cells: readonly unknown[]): string {
  return cells.map(csvCell).join(',');
}

function csvCell(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 19).replace('T', ' ');
  const text = typeof cell === 'string' ? cell : JSON.stringify(cell);
  return /[",\n\r]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

function bytesPart(name: string, text: string): Part {
  const bytes = new TextEncoder().encode(text);
  return { name, open: () => once(bytes) };
}

async function* once(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
}

/** The decompressed bytes; what the door throws, a cancel for example, comes through as it is. */
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
        const found = `The compressed file unpacks to more than ${MOST_RATIO} times its size.`;
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

function isBomb(unpacked: number, packed: number): boolean {
  return unpacked > RATIO_MATTERS_FROM && unpacked > MOST_RATIO * packed;
}

async function firstBytes(open: Open): Promise<Uint8Array> {
  for await (const chunk of open()) if (chunk.length > 0) return chunk;
  return new Uint8Array(0);
}

async function whole(where: string, open: Open): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of open()) {
    chunks.push(chunk);
    size += chunk.length;
    if (size > MOST_PACKED) {
      const found = `An archive, workbook or JSON file of more than ${MOST_PACKED / 1e6} MB cannot be held.`;
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
