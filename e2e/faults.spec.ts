import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { CORPUS_HOME, series, SHAPES } from '../core/src/testing/corpus.js';
import { bringLogs, expect, homePath, tally, test } from './fixtures.js';

// Faults that are made on purpose: whatever fails, at whatever moment, nothing that was stored is lost.
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
