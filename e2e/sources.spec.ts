import { appendFileSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { strToU8, zipSync } from 'fflate';
import { SHAPES } from '../core/src/testing/corpus.js';
import { CORPUS_HOME, series } from '../core/src/testing/shape.js';
import { bringLogs, choose, dayRow, expect, expectAccessible, homePath, tally, test } from './fixtures.js';

const folder = mkdtempSync(join(tmpdir(), 'sources-'));

/** A file of the corpus of invented logs, by the name of its shape. */
function corpusFile(name: string, as?: string): string {
  const shape = SHAPES.find((one) => one.name === name)!;
  const list = series(Date.UTC(2024, 4, 3) - 3_600_000, shape.days, shape.stepMinutes);
  const path = join(folder, as ?? `${name.replaceAll(' ', '-')}-${shape.file}`);
  writeFileSync(path, shape.write(list));
  return path;
}

async function corpusHome(page: Page): Promise<void> {
  const system = join(folder, 'home.json');
  writeFileSync(system, JSON.stringify(CORPUS_HOME));
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Corpus home' })).toBeVisible();
}

const chooser = (page: Page) => page.getByLabel('Drop log files here, or choose them');

test(
  'a log with words and commas of its own is recognised, each column with its evidence, and gives its figures',
  { tag: '@smoke' },
  async ({ page }) => {
    await corpusHome(page);
    await chooser(page).setInputFiles(corpusFile('German words'));
    const review = page.getByRole('region', { name: 'How the files are read' });
    await expect(review).toContainText('cells between semicolons, decimal comma; line 1 names the columns');
    await expect(review.getByLabel('Netzeinspeisung [kW] is taken for')).toHaveText('export');
    await expect(review.getByRole('row', { name: /^Ladezustand/ })).toContainText(
      'Its name "Ladezustand [%]"',
    );
    await expect(page.getByRole('region', { name: 'What will be imported' })).toContainText(
      '3,456 rows over 12.0 days, 3 May 2024 to 14 May 2024',
    );
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Import 1 log' }).click();
    await page.getByRole('link', { name: 'Days', exact: true }).click();
    await page.getByRole('grid').focus();
    await page.keyboard.press('a');
    await expect(tally(page)).toContainText('179.3');
  },
);

test('what the data leave open is asked before anything is read; the answer is kept for the next file of the shape', async ({
  page,
}) => {
  await corpusHome(page);
  await chooser(page).setInputFiles(corpusFile('import and export exchanged', 'may.csv'));
  const review = page.getByRole('region', { name: 'How the files are read' });
  await expect(review).toContainText('2 questions to answer first.');
  const readIt = review.getByRole('button', { name: 'Read 1 log this way' });
  await expect(readIt).toBeDisabled();
  await expectAccessible(page);
  // By keyboard: the answers are buttons in the order of the page.
  await review.getByRole('button', { name: 'It is import, power, in kW' }).focus();
  await page.keyboard.press('Enter');
  await expect(review).toContainText('1 question to answer first.');
  await review.getByRole('button', { name: 'It is export, power, in kW' }).click();
  await readIt.click();
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  await expect(page.getByText('may.csv is imported.')).toBeVisible();

  // Another file by its contents; the same again would be known.
  const june = corpusFile('import and export exchanged', 'june.csv');
  appendFileSync(june, '\n');
  await chooser(page).setInputFiles(june);
  await expect(review).toContainText('Read as the last file of this shape was.');
  await expect(page.getByText('It repeats what may.csv gives')).toBeVisible();
});

test('a reading can be changed before the import, and the file is read again', async ({ page }) => {
  await corpusHome(page);
  await chooser(page).setInputFiles(corpusFile('kilowatts'));
  await expect(page.getByRole('button', { name: 'Import 1 log' })).toBeVisible();
  await choose(page.getByLabel('Battery (kW) is taken for'), 'nothing: it stays in the file');
  await expect(page.getByRole('button', { name: 'Import 1 log' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Read 1 log this way' }).click();
  await expect(page.getByRole('region', { name: 'What will be imported' })).not.toContainText('battery');
});

test('an archive holds several logs; one is taken out, restored, and deleted for good', async ({ page }) => {
  await corpusHome(page);
  await bringLogs(page, corpusFile('a zip of two halves'));
  const second = page.getByRole('article', { name: /› b\.csv$/ });
  await expect(page.getByRole('article')).toHaveCount(2);
  await second.getByRole('button', { name: /take out/ }).click();
  await expect(second).toContainText('Taken out: it counts in no figure.');
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Wed 8 May/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Sun 12 May/ })).toHaveCount(0);
  await page.getByRole('link', { name: 'Sources' }).click();
  await second.getByRole('button', { name: /Restore/ }).click();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Sun 12 May/ })).toBeVisible();
  await page.getByRole('link', { name: 'Sources' }).click();
  await second.getByRole('button', { name: /take out/ }).click();
  await second.getByRole('button', { name: /delete for good/ }).click();
  await second.getByRole('button', { name: /^Delete / }).click();
  await expect(page.getByRole('article')).toHaveCount(1);
});

test('a workbook is read as its rows stand, in the worker and under the content policy', async ({ page }) => {
  await corpusHome(page);
  const list = series(Date.UTC(2024, 4, 3) - 3_600_000, 2, 30);
  const cell = (value: string | number) =>
    typeof value === 'number' ? `<c><v>${value}</v></c>` : `<c t="inlineStr"><is><t>${value}</t></is></c>`;
  const row = (cells: readonly (string | number)[], i: number) =>
    `<row r="${i + 1}">${cells.map((value, c) => cell(value).replace('<c', `<c r="${'ABCDEF'.charAt(c)}${i + 1}"`)).join('')}</row>`;
  const rows = [
    row(['Time', 'PV W', 'Load W', 'Grid W', 'Battery W', 'SOC %'], 0),
    ...list.map(({ ms, solar, load, grid, battery, soc }, i) =>
      row([new Date(ms + 3_600_000).toISOString().slice(0, 19), solar, load, grid, battery, soc], i + 1),
    ),
  ].join('');
  const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const packages = 'http://schemas.openxmlformats.org/package/2006';
  const xml = (text: string) => strToU8(`<?xml version="1.0" encoding="UTF-8"?>${text}`);
  const path = join(folder, 'may.xlsx');
  writeFileSync(
    path,
    zipSync({
      '[Content_Types].xml': xml(`<Types xmlns="${packages}/content-types"/>`),
      'xl/workbook.xml': xml(
        `<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="May" sheetId="1" r:id="rId1"/></sheets></workbook>`,
      ),
      'xl/_rels/workbook.xml.rels': xml(
        `<Relationships xmlns="${packages}/relationships"><Relationship Id="rId1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
      ),
      'xl/worksheets/sheet1.xml': xml(
        `<worksheet xmlns="${main}"><sheetData>${rows}</sheetData></worksheet>`,
      ),
    }),
  );
  await chooser(page).setInputFiles(path);
  await expect(page.getByRole('region', { name: 'What will be imported' })).toContainText(
    'may.xlsx: 96 rows over 2.0 days',
  );
});

test('a turned sign is found with what would mend it; the correction lies over the log and is taken away again', async ({
  page,
}) => {
  await corpusHome(page);
  const list = series(Date.UTC(2024, 4, 3) - 3_600_000, 12, 5);
  const path = join(folder, 'turned.csv');
  const rows = list.map(
    ({ ms, solar, load, grid, battery, soc }) =>
      `${new Date(ms).toISOString()},${solar},${load},${-grid},${battery},${soc}`,
  );
  writeFileSync(path, `time,solar_w,load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`);
  await bringLogs(page, path);
  await expect(page.getByText(/It seems that grid has its sign the other way round/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Apply: The grid power .* has its sign reversed/ }).click();
  await expect(page.getByText('Nothing that could be mended was found.')).toBeVisible();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await page.getByRole('grid').focus();
  await page.keyboard.press('a');
  // 22.1 kWh were bought; without the correction they would be exported.
  await expect(page.locator('[data-figure="account.selfSufficiency.grid"]').first()).toContainText('85.0 %');
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('button', { name: /^Remove the correction/ }).click();
  await expect(page.getByText(/It seems that grid has its sign the other way round/)).toBeVisible();
  await page.getByRole('button', { name: /^Dismiss/ }).click();
  await expect(page.getByText('1 dismissed.')).toBeVisible();
  await page.reload();
  await expect(page.getByText('1 dismissed.')).toBeVisible();
});

test('a day is explained in two keystrokes; a stretch left out counts in no figure; notes are struck out', async ({
  page,
}) => {
  await corpusHome(page);
  await bringLogs(page, corpusFile('ISO with Z'));
  await page.goto(homePath(page, 'days?from=2024-05-06&to=2024-05-06'));
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('Monday, 6 May 2024');
  await page.keyboard.press('n');
  await expect(page.getByRole('dialog', { name: 'Note on 6 May 2024' })).toBeVisible();
  await page.keyboard.press('g');
  await expect(page.getByRole('row', { name: /^Mon 6 May/ })).toContainText('grid-charged on purpose');

  await page.keyboard.press('n');
  await page.getByLabel('Leave these days out of every figure').check();
  await page.getByLabel(/In your words/).fill('meter exchanged');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /^Mon 6 May/ })).toContainText(
    'meter exchanged (left out of analysis)',
  );
  await expect(tally(page)).toContainText('coverage 0.0 %');

  await page.keyboard.press('g');
  await page.keyboard.press('j');
  await expect(page.getByRole('listitem').filter({ hasText: 'meter exchanged' })).toContainText(
    'Left out of every figure.',
  );
  await expectAccessible(page);
  await page.getByLabel('From').fill('2024-05-09T18:00');
  await page.getByLabel('Lasts, h').fill('3,5');
  await choose(page.getByLabel('About'), 'fault');
  await page.getByLabel('In your words').fill('inverter tripped');
  await page.getByRole('button', { name: 'Write the note' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'inverter tripped' })).toContainText(
    'from 18:00, 3 h 30',
  );
  await page.getByRole('button', { name: /^Change the note of 9 May 2024/ }).click();
  const change = page.getByRole('form', { name: 'A note changed' });
  await change.getByLabel('Lasts, h').fill('2');
  await change.getByLabel('In your words').fill('inverter tripped, kettle and oven');
  await change.getByRole('button', { name: 'Write the change' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'kettle and oven' })).toContainText(
    'from 18:00, 2 h 00',
  );
  // What is struck out can be taken back until the next change.
  const strike = page.getByRole('button', { name: /^Strike out the note of 6 May 2024: other/ });
  await strike.press('Enter');
  await expect(strike).toBeHidden();
  const undo = page.getByRole('status').filter({ hasText: 'A note is struck out.' });
  await undo.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(undo).toBeHidden();
  await strike.click();
  await expect(undo).toBeVisible();
  const changes = page.getByRole('region', { name: 'Changes' }).getByRole('listitem');
  await expect(changes.first()).toContainText('A note is struck out.');
  await expect(changes.nth(1)).toContainText('Undone: A note is struck out.');
  await expect(changes.last()).toContainText('is imported.');
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Thu 9 May/ })).toContainText('inverter tripped, kettle');
  await expect(page.getByRole('row', { name: /^Mon 6 May/ })).not.toContainText('left out');
});

test('where one source fills a gap of another, the day says so in its margin, its chart and its read-out', async ({
  page,
}) => {
  const hours = (name: string, row: (hour: number) => string) => {
    const path = join(folder, name);
    const lines = Array.from(
      { length: 72 },
      (_, h) => `${new Date(Date.UTC(2024, 4, 3, h)).toISOString()},${row(h)}`,
    );
    writeFileSync(path, `time,load_w,grid_w\n${lines.join('\n')}\n`);
    return path;
  };
  await corpusHome(page);
  await bringLogs(page, [
    hours('a.csv', (h) => (h >= 30 && h < 34 ? ',300' : `400,300`)),
    hours('b.csv', (h) => `${410 + (h % 5)},300`),
  ]);
  await page.getByRole('button', { name: /Let a\.csv lead load/ }).click();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(dayRow(page, '2024-05-04')).toContainText('load from b.csv 4 h 00');
  await page.goto(new URL(page.url()).pathname.replace('/days', '/day/2024-05-04'));
  await expect(page.locator('main svg text', { hasText: 'load from b.csv' })).toBeVisible();
  await page.getByRole('slider', { name: 'Time of day read out' }).focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('row', { name: /load .*from b\.csv/ })).toBeVisible();
  await expectAccessible(page);
});

test('the third door: counters typed in give totals between them, and what needs a log says so', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Describe a home and type in readings' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Meter House');
  await page.getByRole('button', { name: 'Save, then type in readings' }).click();
  await expect(
    page.getByRole('heading', { level: 1, name: 'Counter readings of Meter House' }),
  ).toBeVisible();
  const write = async (at: string, bought: string, sold: string) => {
    await page.getByLabel('Read at').fill(at);
    await page.getByLabel('import counter, kWh').fill(bought);
    await page.getByLabel('export counter, kWh').fill(sold);
    await page.getByRole('button', { name: 'Write down' }).click();
  };
  await write('2024-05-01T08:00', 'many', '');
  await expect(page.getByRole('alert')).toContainText('"many" is not a reading of the import counter');
  await write('2024-05-01T08:00', '1200,5', '400');
  await write('2024-05-21T19:30', '1261.5', '455');
  // As typed, with the mean power since the reading before: 61 kWh in 20 days and 11 h 30.
  await expect(page.getByRole('row', { name: /21 May 2024, 19:30/ })).toContainText(
    '1,261.5+61.0 kWh, 124 W',
  );
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Correct the reading of 21 May 2024, 19:30' }).click();
  const correction = page.getByRole('form', { name: 'A reading corrected' });
  await expect(correction.getByLabel('export counter, kWh')).toHaveValue('455');
  await correction.getByLabel('export counter, kWh').fill('455.25');
  await correction.getByLabel('state of charge, %').fill('140');
  await correction.getByRole('button', { name: 'Write the correction' }).click();
  await expect(page.getByRole('alert')).toContainText('"140" is not a state of charge');
  await correction.getByLabel('state of charge, %').fill('64');
  await correction.getByRole('button', { name: 'Write the correction' }).click();
  await expect(page.getByRole('row', { name: /21 May 2024, 19:30/ })).toContainText('455.25');
  await expect(page.getByRole('row', { name: /21 May 2024, 19:30/ })).toContainText('64');
  await page.getByRole('link', { name: 'See the days' }).click();
  await page.getByRole('grid').focus();
  await page.keyboard.press('a');
  await expect(tally(page)).toContainText('61.0');
  await expect(page.locator('[data-figure="wear.efc.nameplate"]').first()).toContainText('not measured');
});

test('the log of all sources is saved in the canonical shape and reads back to the same figures', async ({
  page,
}) => {
  await corpusHome(page);
  await bringLogs(page, corpusFile('German words'));
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the log of all sources' }).click(),
  ]);
  const path = join(folder, 'corpus-home.csv');
  await download.saveAs(path);
  expect(readFileSync(path, 'utf8').split('\n')[0]).toBe('time,soc_pct,solar_w,load_w,grid_w,battery_w');
  const share = page.locator('[data-figure="account.selfSufficiency.grid"]').first();
  await page.goto(homePath(page, 'days?from=2024-05-03&to=2024-05-14'));
  const before = await share.textContent();
  await page.goto(homePath(page, 'sources'));
  await page.getByRole('button', { name: /take out/ }).click();
  await bringLogs(page, path);
  await page.goto(homePath(page, 'days?from=2024-05-03&to=2024-05-14'));
  await expect(share).toHaveText(before!);
});
