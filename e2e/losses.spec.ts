import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  bringLogs,
  choose,
  expect,
  expectAccessible,
  goWithin,
  homePath,
  openDemo,
  rangeInAddress,
  test,
} from './fixtures.js';

const YEAR = ['2024-01-01', '2024-12-31'] as const;

test('the account shows both sides, the flows, the periods beside the year before, and why days touched the grid', async ({
  page,
}) => {
  await openDemo(page, YEAR);
  await page.keyboard.press('g');
  await page.keyboard.press('a');
  await expect(page.getByRole('heading', { level: 1, name: 'Account' })).toBeVisible();
  expect(rangeInAddress(page)).toBe(YEAR.join(' '));
  const [left, right] = await page
    .getByRole('group', { name: 'Account of the selection' })
    .locator('div.font-semibold')
    .allInnerTexts();
  expect(left).toBe(right);
  await expect(page.getByRole('complementary')).toContainText(
    'of what the battery gave the home had come from the grid',
  );

  const periods = page.getByRole('region', { name: 'By period' }).getByRole('row');
  await expect(periods).toHaveCount(2 + 12);
  const june = page.getByRole('row', { name: /^June 2024/ });
  const before = page.getByRole('row', { name: /^June 2023/ });
  const load = (await june.getByRole('cell').nth(7).innerText()).trim();
  await page.keyboard.press('[');
  await expect(before.getByRole('cell').nth(1)).toHaveText(load);
  await page.keyboard.press(']');
  await page.getByRole('radio', { name: 'year', exact: true }).click();
  await expect(periods).toHaveCount(2 + 1);
  // A year by the day is shown by parts.
  await page.getByRole('radio', { name: 'day', exact: true }).click();
  await expect(periods).toHaveCount(2 + 62);
  const byPeriod = page.getByRole('region', { name: 'By period' });
  await expect(byPeriod).toContainText('62 of 366 days.');
  await byPeriod.getByRole('button', { name: 'Show 62 more' }).press('Enter');
  await expect(periods).toHaveCount(2 + 124);

  // Above the most there is no day, below the least there are all, and above the mean some.
  const spread = page.getByRole('region', { name: 'Least, mean and most of a day' });
  const kWh = (await spread.getByRole('row', { name: /^load/ }).getByRole('cell').allInnerTexts()).map(
    Number,
  );
  const [mean, least, , most] = kWh as [number, number, number, number];
  expect(least).toBeLessThan(mean);
  expect(most).toBeGreaterThan(mean);
  await choose(spread.getByLabel('Days with'), 'load');
  const counted = async (level: number) => {
    await spread.getByRole('textbox').fill(String(level));
    return (await spread.getByRole('status').innerText()).match(/\d+/g)!.map(Number) as [number, number];
  };
  const [none] = await counted(most + 0.1);
  const [above, known] = await counted(mean);
  expect(none).toBe(0);
  expect(above).toBeGreaterThan(0);
  expect(above).toBeLessThan(known);
  expect((await counted(least - 0.1))[0]).toBe(known);
  await spread.getByRole('textbox').fill('many');
  await expect(spread.getByRole('status')).toHaveText('“many” is not a number of kWh.');

  const list = page.getByRole('region', { name: 'Days that touched the grid' });
  const all = await list.getByRole('listitem').count();
  await choose(list.getByLabel('cause'), /^outage/);
  await expect(list.getByRole('listitem').first()).toContainText('outage');
  expect(await list.getByRole('listitem').count()).toBeLessThan(all);
  await expectAccessible(page);

  // A portal's figure is traced; what is no per cent is told.
  const stated = page.getByRole('region', { name: 'What somebody else states' });
  await stated.getByRole('textbox').fill('93.5');
  await expect(stated).toContainText('by supply: solar and battery to load ÷ load, this range');
  await stated.getByRole('textbox').fill('lots');
  await expect(stated).toContainText('“lots” is not a percentage');
  await stated.getByRole('textbox').fill('');
  await expectAccessible(page);

  await page.getByRole('button', { name: /^S solar gave store/ }).focus();
  await page.keyboard.press('w');
  await expect(page.getByRole('region', { name: 'Working: Solar to store' })).toContainText(
    'interval by interval',
  );
  await list.getByRole('link').first().click();
  await expect(page.getByRole('slider', { name: 'Time of day read out' })).toBeVisible();
});

test('a chart is saved as a picture with its title and range, a figure is copied with its interval', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openDemo(page, YEAR);
  await page.keyboard.press('g');
  await page.keyboard.press('l');
  const fileOf = async (kind: string) => {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: `Save “Round trip by month” as ${kind}` }).press('Enter');
    const file = await download;
    return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
  };
  const svg = await fileOf('SVG');
  expect(svg.name).toBe('kauri-bend-round-trip-by-month.svg');
  const text = svg.bytes.toString();
  expect(text).toContain('Round trip by month');
  expect(text).toContain('Kauri Bend, 1 January 2024 to 31 December 2024.');
  // What it looks like goes along: nothing in it asks for a style sheet of the page.
  expect(text).not.toMatch(/var\(|class=/);
  const png = await fileOf('PNG');
  expect(png.name).toBe('kauri-bend-round-trip-by-month.png');
  expect([...png.bytes.subarray(1, 4)]).toEqual([...Buffer.from('PNG')]);
  expect(png.bytes.length).toBeGreaterThan(5000);
  await page.getByRole('button', { name: /^Round trip, full to full/ }).press('Enter');
  const working = page.getByRole('region', { name: 'Working: Round trip, full to full' });
  await working.getByRole('button', { name: 'copy' }).press('Enter');
  await expect(working.getByRole('button', { name: 'copied' })).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toMatch(
    /^Kauri Bend, Round trip, full to full: \d\d\.\d % \(\d\d\.\d – \d\d\.\d\)$/,
  );
});

test('every chart of every view is saved as a picture, and shown as a table', async ({ page }) => {
  await openDemo(page, YEAR);
  for (const [view, heading, least] of [
    ['account', 'Account', 1],
    ['losses', 'Losses', 3],
    ['wear', 'Wear', 3],
    ['outages', 'Outages', 1],
    ['money', 'Money', 1],
    ['day/2024-06-12', 'Wednesday, 12 June 2024', 1],
  ] as const) {
    await goWithin(page, `/h/kauri-bend/${view}?from=${YEAR[0]}&to=${YEAR[1]}`);
    await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
    const saving = page.getByRole('button', { name: /^Save “.+” as SVG$/ });
    await expect.poll(() => saving.count()).toBeGreaterThanOrEqual(least);
    await expect(page.getByRole('status').filter({ hasText: '…' })).toHaveCount(0);
    for (const button of await saving.all()) {
      const title = /“(.+)”/.exec((await button.getAttribute('aria-label'))!)![1]!;
      const download = page.waitForEvent('download');
      await button.press('Enter');
      const text = readFileSync(await (await download).path()).toString();
      expect(text).toContain(`>${title}</text>`);
      expect(text).toMatch(/Kauri Bend, [^.]*2024\./);
      await page.getByRole('button', { name: `Show “${title}” as a table` }).press('Enter');
      const table = page.getByRole('region', { name: `${title}, as a table` });
      await expect(table.getByRole('row').nth(1).getByRole('cell').first()).toHaveText(/\S/);
    }
    await expectAccessible(page);
  }
});

test('the losses are parted, the idle draw with its step is found, and every part leads to its working', async ({
  page,
}) => {
  await openDemo(page, YEAR);
  await page.keyboard.press('g');
  await page.keyboard.press('l');
  await expect(page.getByRole('heading', { level: 1, name: 'Losses' })).toBeVisible();
  // The truth of the simulation: 22 W from the cells until the firmware of 14 May, 41 W after it, seen through a charger of 95.8 %.
  await expect(page.getByRole('region', { name: 'Loss of each window' })).toContainText(
    /from 1[34] May 2024: foot 4[23] W/,
  );
  await expect(page.getByRole('region', { name: 'Worth a look' })).toContainText(
    /rose from 2\d to 4\d W about 1[3-5] May 2024/,
  );
  await expect(page.getByRole('img', { name: /^Round trip by month: 1[23] months/ })).toBeVisible();
  await page
    .getByRole('button', { name: /^conversion/ })
    .first()
    .focus();
  await page.keyboard.press('w');
  await expect(page.getByRole('region', { name: 'Working: Lost to conversion' })).toContainText(
    'discharge in the account',
  );
  await page.keyboard.press('Escape');
  await expect(page.getByRole('region', { name: /^Working/ })).toHaveCount(0);
  await expectAccessible(page);
  const run = page.getByRole('region', { name: 'A short run' });
  await run.getByRole('button', { name: 'Where did it go?' }).click();
  await expect(run.getByRole('alert').first()).toContainText('Write hours from 0.5 to 240.');
  for (const [label, text] of [
    ['It lasted, h', '24'],
    ['Charge at its start, %', '100'],
    ['Charge at its end, %', '20'],
    ['Into the battery, kWh', '0'],
    ['Out of the battery, kWh', '9,3'],
  ] as const)
    await run.getByLabel(label).fill(text);
  await run.getByLabel('Out of the battery, kWh').press('Enter');
  await expect(run).toContainText('Nothing is left that needs another cause');
  await expectAccessible(page);
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('m');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-12-01 2024-12-31');
  await expect(page.getByText('December 2024 ·')).toBeVisible();
});

test('the hut’s inverters are seen to idle, with what to do; a home without a battery is told what is missing', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Open Koča pod Skalo' }).click();
  await expect(page).toHaveURL(/\/days/, { timeout: 60_000 });
  await page.goto('/h/koca-pod-skalo/losses?from=2023-01-01&to=2023-12-31');
  // The truth of the simulation: 196 W.
  await expect(
    page.getByRole('img', { name: /^Tare line over [\d,]+ half hours: idle draw 19[4-8] W/ }),
  ).toBeVisible();
  await expect(page.getByRole('region', { name: 'Worth a look' })).toContainText(
    'With 2 units, see in their manual',
  );
  await expect(page.getByRole('region', { name: 'Idle draw and efficiency' })).toContainText('300 – 600 W');

  const folder = mkdtempSync(join(tmpdir(), 'losses-'));
  const lines = Array.from(
    { length: 240 },
    (_, h) =>
      `${new Date(Date.UTC(2024, 4, 1, h)).toISOString()},${400 + (h % 24) * 10},${350 + (h % 24) * 10}`,
  );
  writeFileSync(join(folder, 'plain.csv'), `time,load_w,grid_w\n${lines.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel('Name', { exact: true }).fill('Plain House');
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Plain House' })).toBeVisible();
  await page.goto(homePath(page, 'losses'));
  await expect(page.getByRole('heading', { level: 1, name: 'No log yet' })).toBeVisible();
  await page.getByRole('link', { name: 'Bring a log' }).click();
  await bringLogs(page, join(folder, 'plain.csv'));
  await page.goto(homePath(page, 'losses'));
  await expect(page.locator('main')).toContainText('The log has no battery power');
  await expectAccessible(page);
  await page.goto(homePath(page, 'account'));
  await expect(page.locator('main')).toContainText(
    'The log has no solar power and no battery power; columns solar_w and battery_w or battery_dc_w would supply them.',
  );
  await expectAccessible(page);
});
