import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import type { Interval } from '../core/src/testing/shape.js';
import { bringLogs, expect, expectAccessible, faultTest, homePath, test } from './fixtures.js';
import { folder, list, file, written, log, kilowatts, corpusHome, chooser, figures } from './corpusFiles.js';

test('a canonical log in kilowatts, with all signs turned or with a depth of discharge is told before it is stored, and mended', async ({
  page,
}) => {
  await corpusHome(page);
  await bringLogs(page, log);
  const range = 'days?from=2024-05-03&to=2024-05-14';
  await page.goto(homePath(page, range));
  const sound = await figures(page);
  const cases: readonly (readonly [string, (one: Interval) => Interval, RegExp])[] = [
    [
      'kw.csv',
      (one) => ({
        ...one,
        solar: kilowatts(one.solar),
        load: kilowatts(one.load),
        grid: kilowatts(one.grid),
        battery: kilowatts(one.battery),
      }),
      /It seems that all powers are in kilowatts, not in watts/,
    ],
    [
      'signs.csv',
      (one) => ({ ...one, solar: -one.solar, load: -one.load, grid: -one.grid, battery: -one.battery }),
      /It seems that all powers have their signs the other way round/,
    ],
    ['dod.csv', (one) => ({ ...one, soc: 100 - one.soc }), /holds the depth of discharge/],
  ];
  for (const [name, change, says] of cases) {
    await page.goto(homePath(page, 'sources'));
    await page.getByRole('button', { name: /^take out/ }).click();
    await page.getByRole('button', { name: 'delete for good …' }).click();
    await page.getByRole('button', { name: /^Delete / }).click();
    await expect(page.getByText('No log yet.')).toBeVisible();
    await chooser(page).setInputFiles(file(name, written('canonical', change)));
    await expect(page.getByText(says)).toBeVisible();
    await expect(page.getByRole('button', { name: 'Import 1 log as it is' })).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel(/^Mend it:/).check();
    await page.getByRole('button', { name: 'Import 1 log', exact: true }).click();
    await expect(page.getByText(`${name} is imported.`)).toBeVisible();
    await page.goto(homePath(page, range));
    // A coarser last digit may widen an interval by a hair; the values are those of the sound log.
    const values = (list: readonly (string | null)[]) => list.slice(0, 4).map((text) => text!.split('±')[0]);
    expect([name, values(await figures(page))]).toEqual([name, values(sound)]);
    await page.goto(homePath(page, 'sources'));
    const correction = page.getByRole('button', { name: /^Remove the correction/ });
    await correction.click();
    // Leaving the page before it is written would keep it.
    await expect(correction).toHaveCount(0);
  }
});

test('every member of an archive is told, and a file taken out comes back when it is brought again', async ({
  page,
}) => {
  await corpusHome(page);
  const archive = file(
    'mixed.zip',
    zipSync({
      'a.csv': readFileSync(log),
      'copy.csv': readFileSync(log),
      'photo.jpg': Uint8Array.of(255, 216, 0, 0),
    }),
  );
  await chooser(page).setInputFiles(archive);
  await expect(
    page.getByText('mixed.zip › copy.csv is not read: The same as mixed.zip › a.csv').first(),
  ).toBeVisible();
  await expect(
    page.getByText('mixed.zip › photo.jpg is not read: The file holds binary data').first(),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  await expect(page.getByText('mixed.zip › a.csv is imported.')).toBeVisible();
  await page.getByRole('button', { name: 'take out mixed.zip › a.csv' }).click();
  await expect(page.getByText('Taken out: it counts in no figure.')).toBeVisible();
  // The same contents under another name.
  await chooser(page).setInputFiles(file('renamed.zip', readFileSync(archive)));
  await expect(
    page.getByText('renamed.zip was taken out before; it counts again from here on.'),
  ).toBeVisible();
  await expect(page.getByText('Taken out: it counts in no figure.')).toHaveCount(0);
});

test('two tabs show what the other writes, and never overwrite it', async ({ page, context }) => {
  await corpusHome(page);
  await bringLogs(page, log);
  await page.goto(homePath(page, 'system'));
  const other = await context.newPage();
  await other.goto(page.url());
  await other.getByLabel('Name', { exact: true }).fill('Renamed home');
  await other.getByRole('button', { name: 'Save the system' }).click();
  await expect(other.getByText('Saved. The figures')).toBeVisible();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('System of Renamed home');
  await page.getByLabel('Name', { exact: true }).fill('Mine');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(
    page.getByText(/changed in another tab meanwhile\. What you typed is still here/),
  ).toBeVisible();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Mine');
  await expect(other.getByRole('heading', { level: 1 })).toHaveText('System of Renamed home');
  await other.goto('/?choose');
  await other.getByRole('button', { name: 'remove …' }).click();
  await other.getByRole('button', { name: 'Remove Renamed home' }).click();
  await expect(page.getByText('This home is not in this browser')).toBeVisible();
});

test('a note that cannot be written is told, and what was typed is kept', async ({ page }) => {
  await corpusHome(page);
  await page.goto(homePath(page, 'journal'));
  await page.evaluate(() => {
    IDBObjectStore.prototype.add = () => {
      throw new DOMException('The disk is full.', 'QuotaExceededError');
    };
  });
  await page.getByLabel('From', { exact: true }).fill('2024-05-05T10:00');
  await page.getByLabel('In your words').fill('typed with care');
  await page.getByRole('button', { name: 'Write the note' }).click();
  await expect(page.getByText(/storage is full\. Nothing of this was stored/)).toBeVisible();
  await expect(page.getByLabel('In your words')).toHaveValue('typed with care');
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByText('No note yet.')).toBeVisible();
});

test('an import that is left by another view goes on and is told there', async ({ page }) => {
  await corpusHome(page);
  const rows = list.map((one, i) => `${new Date(one.ms + i).toISOString()},${one.load}`);
  const long = file(
    'long.csv',
    `time,load_w\n${Array.from({ length: 1 }, () => rows.join('\n')).join('\n')}\n`,
  );
  await chooser(page).setInputFiles(long);
  await page.getByRole('link', { name: 'Journal', exact: true }).click();
  const line = page.getByRole('status').filter({ hasText: /Logs are read and wait to be imported|Import:/ });
  await expect(line).toContainText('Logs are read and wait to be imported.');
  await line.getByRole('link', { name: 'See it' }).click();
  await expect(page.getByRole('button', { name: 'Import 1 log' })).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  await expect(page.getByText('long.csv is imported.')).toBeVisible();
});

test('a home whose row is damaged is set aside with its files; the others open', async ({ page }) => {
  await corpusHome(page);
  await bringLogs(page, log);
  await page.goto('/new');
  await page.getByLabel('Name', { exact: true }).fill('Constructor');
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Constructor' })).toBeVisible();
  await page.evaluate(
    () =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('long-tally');
        open.onerror = () => reject(new Error('not opened'));
        open.onsuccess = () => {
          const store = open.result.transaction('homes', 'readwrite').objectStore('homes');
          const all = store.getAll();
          all.onsuccess = () => {
            for (const home of all.result as { system: { name: string } }[])
              if (home.system.name === 'Corpus home') store.put({ ...home, revision: 'many' });
            open.result.close();
            resolve();
          };
        };
      }),
  );
  await page.goto('/?choose');
  const told = page.getByRole('alert').filter({ hasText: 'cannot be opened' });
  await expect(told).toContainText(
    'Corpus home cannot be opened: what is stored of it is damaged (revision)',
  );
  await expectAccessible(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the files of Corpus home' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('canonical.csv');
  await page.getByRole('link', { name: 'Constructor' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'No log yet' })).toBeVisible();
});

test.describe('without its server', () => {
  faultTest(
    'views that are loaded go on; others say what happened in the frame, with a way on',
    async ({ page, baseURL }) => {
      await page.goto('/new');
      await page.getByLabel('Name', { exact: true }).fill('Mill Lane');
      await page.getByRole('button', { name: 'Save, then bring a log' }).click();
      await expect(page.getByRole('heading', { level: 1, name: 'Sources of Mill Lane' })).toBeVisible();
      await bringLogs(page, log);
      let isDown = true;
      await page.route(`${baseURL!}/**`, (route) => (isDown ? route.abort() : route.continue()));
      await page.getByRole('link', { name: 'Journal', exact: true }).click();
      await expect(
        page.getByRole('heading', { level: 1, name: 'This view could not be loaded' }),
      ).toBeVisible();
      await expect(page.getByRole('navigation', { name: 'Views' })).toBeVisible();
      await page.getByRole('link', { name: 'Sources', exact: true }).click();
      await expect(page.getByRole('heading', { level: 1, name: 'Sources of Mill Lane' })).toBeVisible();
      isDown = false;
      await page.getByRole('link', { name: 'Journal', exact: true }).click();
      // A browser may remember that a file could not be had; then the page is loaded anew.
      const again = page.getByRole('button', { name: 'Load the page anew' });
      const journal = page.getByRole('heading', { level: 1, name: 'Journal of Mill Lane' });
      await expect(again.or(journal)).toBeVisible();
      if (await again.isVisible()) await again.click();
      await expect(journal).toBeVisible();
    },
  );
});

test('a newer build is offered and never forced', async ({ page }) => {
  await corpusHome(page);
  await page.route('**/version.json', (route) =>
    route.fulfill({ json: { app: 'long-tally', build: 'newer' } }),
  );
  await page.evaluate(() => window.dispatchEvent(new Event('focus')));
  await expect(page.getByText('A newer version of Long Tally is there.')).toBeVisible();
  await page.getByRole('button', { name: 'later' }).click();
  await expect(page.getByText('A newer version of Long Tally is there.')).toHaveCount(0);
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Corpus home' })).toBeVisible();
});

faultTest('a browser that keeps nothing is told so', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(window, 'indexedDB', {
      value: {
        open: () => {
          throw new DOMException('denied', 'SecurityError');
        },
        cmp: () => 0,
      },
    });
    Object.defineProperty(window, 'localStorage', {
      get: () => {
        throw new DOMException('denied', 'SecurityError');
      },
    });
  });
  await page.goto('/');
  await expect(
    page.getByRole('heading', { level: 1, name: 'This browser keeps nothing for Long Tally' }),
  ).toBeVisible();
  await expectAccessible(page);
});

faultTest('a worker that does not load is told within ten seconds, with a retry', async ({ page }) => {
  await corpusHome(page);
  await page.route(/assets\/homeWorker.*\.js/, (route) => route.abort());
  await page.reload();
  const told = page.getByRole('alert').filter({ hasText: 'The part of the page that computes' });
  await expect(told).toBeVisible({ timeout: 12_000 });
  await page.unroute(/assets\/homeWorker.*\.js/);
  await told.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Corpus home' })).toBeVisible();
});

test('journal, readings and a mapping come from files of their own', async ({ page }) => {
  await corpusHome(page);
  await page.getByRole('link', { name: 'Journal', exact: true }).click();
  const notes = [
    { from: '2024-05-05T10:00:00Z', to: '2024-05-05T12:00:00Z', kind: 'test', text: 'switch off' },
    { from: '2024-05-06T10:00:00Z', to: '2024-05-06T12:00:00Z', kind: 'fault', text: 'fan' },
  ];
  const journal = page.getByLabel('Add the notes of a journal file (.json):');
  await journal.setInputFiles(file('j.json', JSON.stringify({ schema: 'long-tally/journal@1', notes })));
  await expect(page.getByText('2 notes of 2 written')).toBeVisible();
  await journal.setInputFiles(join(folder, 'j.json'));
  await expect(page.getByText('0 notes of 2 written; the others are here already.')).toBeVisible();
  await journal.setInputFiles(file('bad.json', '{"schema":"long-tally/journal@1","notes":[{}]}'));
  await expect(page.getByRole('alert').filter({ hasText: 'bad.json, key notes[0].from' })).toBeVisible();
  await expectAccessible(page);

  await page.goto(homePath(page, 'readings'));
  const readings = page.getByLabel('Add the readings of a file (.csv):');
  await readings.setInputFiles(
    file('r.csv', 'time,import_kwh\n2024-05-01T00:00:00Z,100\n2024-05-20T00:00:00Z,161.5\n'),
  );
  await expect(page.getByText('2 readings of 2 written')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the readings' }).click(),
  ]);
  await download.saveAs(join(folder, 'saved.csv'));
  expect(readFileSync(join(folder, 'saved.csv'), 'utf8')).toContain('2024-05-20T00:00:00Z,,,161.5,,,,');

  await page.goto(homePath(page, 'sources'));
  await chooser(page).setInputFiles(file('ex.csv', written('import and export exchanged')));
  const review = page.getByRole('region', { name: 'How the files are read' });
  await expect(review).toContainText('2 questions to answer first.');
  const mapping = {
    schema: 'long-tally/mapping@1',
    table: { separator: ',', decimal: '.', headerLine: 1, skipLines: 0 },
    time: { columns: ['Time'], format: 'ymd', zone: 'Europe/Lisbon', marks: 'start' },
    columns: [{ column: 'Solar kW', quantity: 'solar', unit: 'kW', sign: 1, kind: 'power' }],
  };
  await review
    .getByLabel('Read it through a mapping file (.json):')
    .setInputFiles(file('map.json', JSON.stringify(mapping)));
  await review.getByRole('button', { name: 'Read 1 log this way' }).click();
  await expect(page.getByText(/ex\.csv: 1,152 rows over 12\.0 days, .*; solar\./)).toBeVisible();
  await expectAccessible(page);
});
