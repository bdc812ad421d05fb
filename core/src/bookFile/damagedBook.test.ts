import { createHash } from 'node:crypto';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, test } from '@jest/globals';
import { InputError } from '../model/problem.js';
import { tryMany } from '../testing/fuzzing.js';
import { longTest } from '../testing/long.js';
import { saved } from '../testing/savedBook.js';
import { tryBook } from '../testing/spoiltBooks.js';
import { booksIn, logsOfBook, openBook, readBook } from './openBook.js';

const problemsOf = async (promise: Promise<unknown>) => {
  try {
    await promise;
  } catch (error) {
    if (error instanceof InputError) return error.message;
    throw error;
  }
  throw new Error('It was opened.');
};

describe('a book that is not whole', () => {
  longTest('damaged in any one member is refused by its name, and salvaged without it', async () => {
    const { bytes } = await saved();
    const members = unzipSync(bytes);
    for (const name of Object.keys(members)) {
      if (name === 'MANIFEST.sha256') continue;
      const { [name]: own, ...others } = members;
      const missing = zipSync(others, { level: 1 });
      expect([name, await problemsOf(openBook('b.zip', missing))]).toEqual([
        name,
        expect.stringContaining(`b.zip › ${name}: This member is missing.`),
      ]);
      const longer = new Uint8Array(own!.length + 1);
      longer.set(own!);
      const altered = zipSync({ ...members, [name]: longer }, { level: 1 });
      expect(await problemsOf(openBook('b.zip', altered))).toContain(
        `b.zip › ${name}: This member is not what it was when the book was saved.`,
      );
      if (name === 'system.json') continue;
      const whole = await openBook('b.zip', altered, 'salvage');
      expect(whole.lost).toHaveLength(1);
      expect(whole.sources.length).toBeGreaterThanOrEqual(name === 'sources.json' ? 0 : 3);
    }
    const lost = await openBook(
      'b.zip',
      zipSync({ ...members, 'sources/001 Erzeugung März_1.csv': strToU8('x') }),
      'salvage',
    );
    const [first] = logsOfBook(lost, await readBook(lost, 'salvage'));
    expect(first!.findings[0]!.message).toMatch(
      /sources\/001 Erzeugung März_1\.csv is not read: This member is not what/,
    );
  });

  longTest(
    'spoilt in any way is refused in words or is the same, and what is saved of it is what it was',
    async () => {
      const { counts, bad } = await tryMany(20261126, 150, tryBook);
      expect(bad).toEqual([]);
      expect(counts.refused).toBeGreaterThan(120);
    },
  );

  test('of a later version is refused by its version, salvaged or not', async () => {
    const members = unzipSync((await saved()).bytes);
    const later = strToU8(strFromU8(members['datapackage.json']!).replace('book@1', 'book@2'));
    const manifest = strFromU8(members['MANIFEST.sha256']!).replace(
      /^\w+( {2}datapackage\.json)$/m,
      `${createHash('sha256').update(later).digest('hex')}$1`,
    );
    const bytes = zipSync({ ...members, 'datapackage.json': later, 'MANIFEST.sha256': strToU8(manifest) });
    for (const damaged of ['refuse', 'salvage'] as const)
      expect(await problemsOf(openBook('b.zip', bytes, damaged))).toMatch(
        /b\.zip: This book is of another version of Long Tally \(long-tally\/book@2\)/,
      );
  });

  test('that is none is refused in words, and several in one file are found', async () => {
    const { bytes } = await saved();
    expect(await problemsOf(booksIn('a.csv', strToU8('time,load_w\n')))).toMatch(/a\.csv: This is no book/);
    expect(await problemsOf(booksIn('a.zip', zipSync({ 'a.csv': strToU8('x') })))).toMatch(/holds no book/);
    expect(await problemsOf(openBook('a.zip', bytes.slice(0, 5000)))).toMatch(/damaged or cut short/);
    const all = await booksIn(
      'all.zip',
      zipSync({ 'one.zip': bytes, 'two.zip': bytes, 'photo.jpg': strToU8('x') }),
    );
    expect(all.map(({ name }) => name)).toEqual(['all.zip › one.zip', 'all.zip › two.zip']);
    expect((await openBook(all[1]!.name, all[1]!.bytes)).id).toBe('home-1');
    const out = zipSync({
      ...unzipSync(bytes),
      'sources.json': strToU8('{"schema":"long-tally/sources@1","sources":[{"path":"../x"}]}'),
    });
    expect(await problemsOf(openBook('b.zip', out))).toMatch(/sources\.json: This member is not what/);
  });
});
