import type { FoundBook, Restored } from '../protocol.js';
import { booksIn, checksumOf, openBook, readBook, type BookLogs, type OpenedBook } from '@long-tally/core';
import { pictureType } from '../db/attachments.js';
import { db } from '../db/database.js';
import { HOME_TABLES, newHome, removeWithin } from '../db/homes.js';
import { storeSource } from '../db/sources.js';

/** A book with its bytes, which stay in the worker. */
export interface HeldBook {
  readonly found: FoundBook;
  readonly bytes: Uint8Array;
}

/**
 * The books in a file.
 * @throws InputError when it is none
 */
export async function lookIntoBooks(file: File): Promise<HeldBook[]> {
  const found = await booksIn(file.name, new Uint8Array(await file.arrayBuffer()));
  return Promise.all(
    found.map(async ({ name, bytes }) => {
      const book = await openBook(name, bytes, 'salvage');
      const here = book.id === '' ? undefined : await db.homes.get(book.id);
      const told: FoundBook = {
        name,
        homeName: book.system.name,
        holds: {
          logs: book.sources.length,
          notes: book.journal.length,
          readings: book.readings.length,
          trials: book.trials?.length ?? 0,
        },
        replaces: here ? { id: here.id, name: here.system.name } : null,
        lost: book.lost.map(({ where, found: what }) => `${where}: ${what}`),
      };
      return { found: told, bytes };
    }),
  );
}

/**
 * Stores the home of a book.
 * @throws InputError when the book is damaged and is not to be salvaged
 */
export async function restoreBook(
  { found: { name, replaces }, bytes }: HeldBook,
  place: 'new' | 'replace',
  damaged: 'refuse' | 'salvage',
): Promise<Restored> {
  const book = await openBook(name, bytes, damaged);
  const logs = await readBook(book, damaged);
  const homeId = place === 'replace' && replaces ? replaces.id : await freeId(book);
  const noPictures = await db.transaction('rw', HOME_TABLES, async () => {
    // A book of before trials were kept in books takes none of them away.
    if (place === 'replace' && replaces) await removeWithin(replaces.id, book.trials ? 'all' : 'but-trials');
    return storeBook(homeId, book, logs);
  });
  return {
    homeId,
    settings: book.settings,
    problems: [...logs.lost.map(({ where, found }) => `${where}: ${found}`), ...noPictures],
  };
}

/** The book's own mark for its home where that is free, else a random one. */
async function freeId(book: OpenedBook): Promise<string> {
  return book.id !== '' && !(await db.homes.get(book.id)) ? book.id : crypto.randomUUID();
}

/** @returns what of the book is no picture, in words */
async function storeBook(homeId: string, book: OpenedBook, { logs }: BookLogs): Promise<string[]> {
  const home = newHome(book.system, homeId);
  await db.homes.add({ ...home, savedAt: Date.now(), savedRevision: home.revision });
  const files = new Map<string, { file: File; hash: string }>();
  const fileIds = new Map<File, number>();
  for (const [i, { path, fileName, name, mapping, importedAt, removedAt }] of book.sources.entries()) {
    const read = logs[i];
    if (!read) continue;
    const bytes = book.files.get(path)!;
    const known = files.get(path) ?? {
      file: new File([new Uint8Array(bytes)], fileName),
      hash: checksumOf(bytes),
    };
    files.set(path, known);
    const source = { ...known, name, shape: '', mapping, proposal: null, read };
    await storeSource(homeId, source, fileIds, { importedAt, removedAt });
  }
  await db.corrections.bulkAdd(book.corrections.map((one) => ({ homeId, ...one })));
  await db.dismissals.bulkPut(book.dismissals.map((key) => ({ homeId, key })));
  await db.journal.bulkAdd(book.journal.map((note) => ({ homeId, ...note })));
  await db.readings.bulkAdd(book.readings.map((reading) => ({ homeId, ...reading })));
  const noPictures: string[] = [];
  for (const { pictures, ...trial } of book.trials ?? []) {
    const trialId = await db.trials.add({ homeId, ...trial });
    for (const { path, ...of } of pictures) {
      const bytes = new Uint8Array(book.files.get(path)!);
      const type = pictureType(bytes);
      if (type) await db.attachments.add({ homeId, trialId, ...of, picture: new Blob([bytes], { type }) });
      else noPictures.push(`${path}: It is neither a PNG nor a JPEG picture, and is left out.`);
    }
  }
  if (book.appliances.length > 0) await db.appliances.put({ homeId, appliances: book.appliances });
  if (book.offers.length > 0) await db.offers.put({ homeId, offers: book.offers });
  if (book.reportLayout) await db.layouts.put({ homeId, layout: book.reportLayout });
  if (book.scenarios.length > 0) await db.scenarios.put({ homeId, scenarios: book.scenarios });
  return noPictures;
}
