import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { Page } from '@playwright/test';
import { bringLogs, expect, expectAccessible, homePath, test } from './fixtures.js';
import { folder, file, log, zip, corpusHome, figures } from './corpusFiles.js';

async function savedBook(page: Page, path: string): Promise<string> {
  await page.goto(homePath(page, 'system'));
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the book of this home' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Corpus-home.book.zip');
  await download.saveAs(path);
  return path;
}

test('a home is saved as a book, deleted, and opened again with the same figures to the last digit', async ({
  page,
}) => {
  await corpusHome(page);
  await bringLogs(page, [log, zip]);
  await page.goto(homePath(page, 'journal'));
  await page.getByLabel('From', { exact: true }).fill('2024-05-05T10:00');
  await page.getByLabel('In your words').fill('inverter changed');
  await page.getByRole('button', { name: 'Write the note' }).click();
  await expect(page.getByText('inverter changed')).toBeVisible();
  const range = 'days?from=2024-05-03&to=2024-05-14';
  await page.goto(homePath(page, range));
  const before = await figures(page);
  const book = await savedBook(page, join(folder, 'book.zip'));
  await expect(page.getByText(/The book was saved on .*, and nothing has changed since\./)).toBeVisible();
  await expectAccessible(page);
  const members = unzipSync(readFileSync(book));
  expect(Buffer.compare(members['sources/001 canonical.csv']!, readFileSync(log))).toBe(0);
  expect(strFromU8(members['MANIFEST.sha256']!)).toMatch(/^[0-9a-f]{64} {2}system\.json$/m);

  await page.getByRole('button', { name: 'delete this home …' }).click();
  await expect(
    page.getByText(/deletes Corpus home with 3 logs and their files, 1 note, 0 readings/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Delete Corpus home' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('The audit book');
  expect(await page.evaluate(async () => (await indexedDB.databases()).length)).toBe(1);
  await expect(page.getByRole('link', { name: 'Corpus home', exact: true })).toHaveCount(0);

  const chosen = page.getByLabel('Open a book (.zip) that was saved before:');
  await chosen.setInputFiles(book);
  await expect(page.getByText('Corpus home: 3 logs, 1 note, 0 readings, 0 trials.')).toBeVisible();
  await expectAccessible(page);
  // By keyboard, as everything is.
  await page.getByRole('button', { name: 'Open it', exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'See Corpus home' }).click();
  await expect(page).toHaveURL(/\/h\//);
  await page.goto(homePath(page, range));
  expect(await figures(page)).toEqual(before);

  // The same book once more: it is asked before anything that is here is replaced.
  await page.goto('/?choose');
  await chosen.setInputFiles(book);
  await expect(
    page.getByText(/Corpus home of this book is here already\. Replacing it deletes/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Open it beside the one that is here' }).click();
  await expect(page.getByRole('link', { name: 'Corpus home', exact: true })).toHaveCount(2);
  const [all] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save all homes as one file' }).click(),
  ]);
  await all.saveAs(join(folder, 'all.zip'));
  await page.getByRole('button', { name: 'delete everything …' }).click();
  await expect(page.getByText('This deletes 2 homes with every log')).toBeVisible();
  await page.getByRole('button', { name: 'Delete everything' }).click();
  await expect(page.getByRole('link', { name: 'Corpus home', exact: true })).toHaveCount(0);
  await chosen.setInputFiles(join(folder, 'all.zip'));
  await expect(page.getByText('Corpus home: 3 logs')).toHaveCount(2);
});

test('a damaged book is refused by its member, and what is whole of it can be opened', async ({ page }) => {
  await corpusHome(page);
  await bringLogs(page, log);
  const book = await savedBook(page, join(folder, 'whole.zip'));
  const members = unzipSync(readFileSync(book));
  const damaged = file('damaged.zip', zipSync({ ...members, 'journal.json': strToU8('{}') }));
  await page.goto('/?choose');
  const chosen = page.getByLabel('Open a book (.zip) that was saved before:');
  await chosen.setInputFiles(damaged);
  await expect(
    page.getByText(/journal\.json: This member is not what it was when the book was saved/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Open what is whole of it beside the one that is here' }).click();
  await expect(page.getByText('Corpus home is opened.')).toBeVisible();
  await chosen.setInputFiles(log);
  await expect(page.getByText(/canonical\.csv: This is no book/)).toBeVisible();
});

test('the book is kept up to date in a folder that is chosen, and a quiet line says what a saved book lacks', async ({
  page,
}) => {
  // The browser's own private folder stands in for one of the machine: the same interface, without its dialogue.
  await page.addInitScript(() => {
    Object.assign(window, { showDirectoryPicker: () => navigator.storage.getDirectory() });
  });
  const filesThere = () =>
    page.evaluate(async () => {
      const found: { name: string; size: number; changed: number }[] = [];
      const folder = await navigator.storage.getDirectory();
      for await (const entry of (
        folder as unknown as { values: () => AsyncIterable<FileSystemFileHandle> }
      ).values()) {
        const file = await entry.getFile();
        found.push({ name: file.name, size: file.size, changed: file.lastModified });
      }
      return found;
    });
  await corpusHome(page);
  await page.goto(homePath(page, 'system'));
  await page.getByRole('button', { name: 'Keep the book up to date in a folder …' }).click();
  await expect(page.getByText('The book is kept up to date in the folder')).toBeVisible();
  await expect
    .poll(async () => (await filesThere()).map(({ name }) => name))
    .toEqual([expect.stringMatching(/\.zip$/)]);
  const [first] = await filesThere();
  await page.getByLabel('Name', { exact: true }).fill('Corpus home, renamed');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect
    .poll(
      async () => (await filesThere()).some(({ changed, size }) => changed > first!.changed && size > 1000),
      {
        timeout: 60_000,
      },
    )
    .toBe(true);
  await page.getByRole('button', { name: 'stop keeping it there' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Corpus home again');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByRole('link', { name: /change.* not in the saved book/ })).toBeVisible();
  await expectAccessible(page);
});
