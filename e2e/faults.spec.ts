import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { SHAPES } from '../core/src/testing/corpus.js';
import { CORPUS_HOME, series } from '../core/src/testing/shape.js';
import { bringLogs, expect, homePath, tally, test } from './fixtures.js';

// Faults that are made on purpose: whatever fails, at whatever moment, nothing that was stored is lost.
const root = fileURLToPath(new URL('..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'faults-'));

function file(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

const list = series(Date.UTC(2024, 4, 3) - 3_600_000, 12, 15);
const kilowatts = SHAPES.find((shape) => shape.name === 'canonical')!.write(
  list.map((one) => ({
    ...one,
    solar: one.solar / 1000,
    load: one.load / 1000,
    grid: one.grid / 1000,
    battery: one.battery / 1000,
  })),
);

async function corpusHome(page: Page): Promise<void> {
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(file('home.json', JSON.stringify(CORPUS_HOME)));
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Corpus home' })).toBeVisible();
}

/** Lets every write to the store fail from here on, as a full disk does; a reload makes it whole again. */
async function breakStore(page: Page): Promise<void> {
  await page.evaluate(() => {
    for (const name of ['add', 'put', 'delete', 'clear'] as const)
      IDBObjectStore.prototype[name] = () => {
        throw new DOMException('The disk is full.', 'QuotaExceededError');
      };
  });
}

/** Everything that is stored, but for files, as text. */
function stored(page: Page): Promise<string> {
  return page.evaluate(
    () =>
      new Promise<string>((resolve, reject) => {
        const open = indexedDB.open('long-tally');
        open.onerror = () => reject(new Error('It cannot be opened.'));
        open.onsuccess = () => {
          const database = open.result;
          const names = [...database.objectStoreNames].filter((name) => name !== 'files');
          const transaction = database.transaction(names, 'readonly');
          const rows = new Map<string, unknown>();
          for (const name of names) {
            const all = transaction.objectStore(name).getAll();
            all.onsuccess = () =>
              rows.set(
                name,
                JSON.stringify(all.result, (_key, value: unknown) =>
                  value instanceof Float64Array ? value.join() : value,
                ),
              );
          }
          transaction.oncomplete = () => {
            database.close();
            resolve(JSON.stringify([...rows]));
          };
        };
      }),
  );
}

test('every write of the interface that fails is told, and leaves everything as it was', async ({ page }) => {
  await corpusHome(page);
  await bringLogs(page, file('kw.csv', kilowatts));
  await page.goto(homePath(page, 'journal'));
  await page.getByLabel('From', { exact: true }).fill('2024-05-05T10:00');
  await page.getByLabel('In your words').fill('first');
  await page.getByRole('button', { name: 'Write the note' }).click();
  await expect(page.getByText('first')).toBeVisible();
  await page.goto(homePath(page, 'readings'));
  await page.getByLabel('Read at').fill('2024-04-01T08:00');
  await page.getByLabel('import counter').fill('100');
  await page.getByRole('button', { name: 'Write down' }).click();
  await expect(page.getByRole('button', { name: /^Strike out the reading/ })).toBeVisible();
  const before = await stored(page);

  const writes: readonly (readonly [name: string, view: string, write: () => Promise<unknown>])[] = [
    [
      'a note struck out',
      'journal',
      () => page.getByRole('button', { name: /^Strike out the note/ }).click(),
    ],
    [
      'a reading',
      'readings',
      async () => {
        await page.getByLabel('Read at').fill('2024-04-20T08:00');
        await page.getByLabel('import counter').fill('160');
        await page.getByRole('button', { name: 'Write down' }).click();
        await expect(page.getByLabel('import counter')).toHaveValue('160');
      },
    ],
    [
      'a reading struck out',
      'readings',
      () => page.getByRole('button', { name: /^Strike out the reading/ }).click(),
    ],
    [
      'a correction',
      'sources',
      () =>
        page
          .getByRole('button', { name: /^Apply:/ })
          .first()
          .click(),
    ],
    [
      'a dismissal',
      'sources',
      () =>
        page
          .getByRole('button', { name: /^Dismiss:/ })
          .first()
          .click(),
    ],
    ['a source taken out', 'sources', () => page.getByRole('button', { name: 'take out kw.csv' }).click()],
    [
      'the system',
      'system',
      async () => {
        await page.getByLabel('Name', { exact: true }).fill('Typed');
        await page.getByRole('button', { name: 'Save the system' }).click();
        await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Typed');
      },
    ],
    [
      'the home deleted',
      'system',
      async () => {
        await page.getByRole('button', { name: 'delete this home …' }).click();
        await page.getByRole('button', { name: 'Delete Corpus home' }).click();
      },
    ],
  ];
  const address = (view: string) => homePath(page, view);
  for (const [name, view, write] of writes) {
    await page.goto(address(view));
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await breakStore(page);
    await write();
    await expect(page.getByText(/browser’s storage is full\. Nothing of this was stored/)).toBeVisible();
    expect([name, (await stored(page)) === before]).toEqual([name, true]);
  }
});

test('a book opened in a tab that is closed meanwhile leaves a whole home', async ({ page, context }) => {
  await corpusHome(page);
  const rows = Array.from(
    { length: 200_000 },
    (_, i) =>
      `${new Date(Date.UTC(2024, 0, 1) + i * 60_000).toISOString()},${300 + ((i * 37) % 900)},${300 + ((i * 37) % 900)}`,
  );
  await bringLogs(page, file('long.csv', `time,load_w,grid_w\n${rows.join('\n')}\n`));
  await page.goto(homePath(page, 'system'));
  const home = new URL(page.url()).pathname;
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the book of this home' }).click(),
  ]);
  const book = join(folder, 'book.zip');
  await download.saveAs(book);
  await page.goto('/?choose');
  await page.getByLabel('Open a book (.zip) that was saved before:').setInputFiles(book);
  await page.getByRole('button', { name: 'Replace Corpus home by it' }).click();
  await page.close();
  const again = await context.newPage();
  await again.goto(home.replace('/system', '/days'));
  await expect(tally(again).getByRole('heading', { level: 1 })).toHaveText('May 2024');
  await again.goto(home.replace('/system', '/sources'));
  await expect(again.getByRole('article', { name: 'long.csv' })).toContainText('200,000 rows');
});

test('a book for which the browser has no room is refused in words, and what was stored stays', async ({
  page,
  context,
  baseURL,
}) => {
  const rows = Array.from(
    { length: 216_000 },
    (_, i) =>
      `${new Date(Date.UTC(2000, 0, 1) + i * 3_600_000).toISOString()},${(i * 7919) % 4001},${(i * 104_729) % 3989}`,
  );
  const log = file('decades.csv', `time,load_w,grid_w\n${rows.join('\n')}\n`);
  const system = file('large.json', JSON.stringify({ ...CORPUS_HOME, name: 'Large home' }));
  const book = join(folder, 'large.zip');
  execFileSync(process.execPath, ['cli/tally.mjs', 'book', '--system', system, '--log', log, '--out', book], {
    cwd: root,
  });
  const browser = await context.newCDPSession(page);
  await browser.send('Storage.overrideQuotaForOrigin', { origin: baseURL!, quotaSize: 2_000_000 });
  await corpusHome(page);
  await bringLogs(page, file('kw.csv', kilowatts));
  const before = await stored(page);
  await page.goto('/?choose');
  await page.getByLabel('Open a book (.zip) that was saved before:').setInputFiles(book);
  await page.getByRole('button', { name: 'Open it', exact: true }).click();
  await expect(page.getByText(/browser’s storage is full/)).toBeVisible();
  expect((await stored(page)) === before).toBe(true);
  await page.goto('/?choose');
  await expect(page.getByRole('link', { name: 'Corpus home', exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Large home', exact: true })).toHaveCount(0);
});

test('an upgrade of the store that is cut off leaves the version before, and the next visit does it whole', async ({
  page,
  context,
}) => {
  // Nothing of the application runs at this address, so the store can be made as an older version left it.
  const quiet = '/version.json';
  await page.goto(quiet);
  await page.evaluate(storeOfVersion2, CORPUS_HOME);
  const old = await version(page);
  expect(old).toMatchObject({ version: 20, mapping: 1, hashes: 0 });
  await page.close();

  const cut = await context.newPage();
  let begin = () => {};
  const begun = new Promise<void>((resolve) => (begin = resolve));
  await cut.exposeFunction('upgradeBegun', () => begin());
  await cut.addInitScript(() => {
    const open = indexedDB.open.bind(indexedDB);
    IDBFactory.prototype.open = (...args) => {
      const request = open(...args);
      request.addEventListener('upgradeneeded', () =>
        (window as unknown as { upgradeBegun: () => void }).upgradeBegun(),
      );
      return request;
    };
  });
  await cut.goto('/', { waitUntil: 'commit' });
  await begun;
  await cut.close();
  const look = await context.newPage();
  await look.goto(quiet);
  expect(await version(look)).toEqual(old);

  await look.goto('/h/old/journal');
  await expect(look.getByText('kept through the upgrade')).toBeVisible();
  await look.goto(quiet);
  expect(await version(look)).toEqual({ version: 70, mapping: 0, hashes: 20_000, homes: old.homes });
});

/** Makes the store as version 2 of the application left it, large enough that its upgrade takes a while. */
async function storeOfVersion2(system: unknown): Promise<void> {
  await new Promise((resolve) => {
    indexedDB.deleteDatabase('long-tally').onsuccess = resolve;
  });
  await new Promise<void>((resolve, reject) => {
    const open = indexedDB.open('long-tally', 20);
    open.onupgradeneeded = () => {
      const make = (name: string, options: IDBObjectStoreParameters, ...indices: string[]) => {
        const store = open.result.createObjectStore(name, options);
        for (const index of indices) store.createIndex(index, index);
        return store;
      };
      const paired = (name: string) => make(name, { keyPath: ['homeId', 'key'] }, 'homeId');
      const numbered = (name: string) => make(name, { keyPath: 'id', autoIncrement: true }, 'homeId');
      make('homes', { keyPath: 'id' }).add({ id: 'old', system, revision: 3, addedAt: 0 });
      make('files', { keyPath: 'sourceId' });
      const chunks = make('chunks', { keyPath: ['sourceId', 'quantity', 'month'] }, 'sourceId');
      chunks.createIndex('[sourceId+quantity+month]', ['sourceId', 'quantity', 'month']);
      make('mappings', { keyPath: 'shape' }).add({ shape: 'a', mapping: {}, usedAt: 0 });
      paired('dismissals');
      numbered('corrections');
      numbered('readings');
      const text = 'kept through the upgrade';
      numbered('journal').add({ homeId: 'old', fromMs: 0, toMs: 1, kind: 'other', text, leaveOut: false });
      const sources = numbered('sources');
      for (let id = 1; id <= 20_000; id++)
        sources.add({
          id,
          homeId: 'another',
          name: `log ${id}`,
          fileName: `log ${id}`,
          bytes: 1,
          fileOf: id,
          importedAt: 0,
          removedAt: 1,
          mapping: null,
          rows: 1,
          startMs: 0,
          stepMs: 60_000,
          count: 1,
          columns: [],
          lumps: [],
          findings: [],
        });
    };
    open.onerror = () => reject(new Error('The old store cannot be made.'));
    open.onsuccess = () => {
      open.result.close();
      resolve();
    };
  });
}

/** What tells the version of a store: its number, its shared mappings, sources that know of a hash; and its homes. */
function version(page: Page) {
  return page.evaluate(
    () =>
      new Promise<{ version: number; mapping: number; hashes: number; homes: readonly unknown[] }>(
        (resolve, reject) => {
          const open = indexedDB.open('long-tally');
          open.onerror = () => reject(new Error('It cannot be opened.'));
          open.onsuccess = () => {
            const database = open.result;
            const transaction = database.transaction([...database.objectStoreNames], 'readonly');
            const homes = transaction.objectStore('homes').getAllKeys();
            const sources = transaction.objectStore('sources').getAll();
            transaction.oncomplete = () => {
              resolve({
                version: database.version,
                mapping: Number(database.objectStoreNames.contains('mappings')),
                hashes: (sources.result as object[]).filter((source) => 'hash' in source).length,
                homes: homes.result,
              });
              database.close();
            };
          };
        },
      ),
  );
}
