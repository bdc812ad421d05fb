import { strFromU8, unzipSync } from 'fflate';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import {
  bringLogs,
  choose,
  expect,
  expectAccessible,
  goWithin,
  openDemo,
  openView,
  rangeInAddress,
  tally,
  test,
  homePath,
} from './fixtures.js';

const folder = mkdtempSync(join(tmpdir(), 'habits-'));

function file(name: string, content: string): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

function csv(days: number): string {
  const rows = Array.from(
    { length: days * 24 },
    (_, h) => `${new Date(Date.UTC(2024, 4, 1) + h * 3_600_000).toISOString()},500,${h % 24 < 12 ? 500 : 0}`,
  );
  return `time,load_w,grid_w\n${rows.join('\n')}\n`;
}

/** What a reader of 1.234,5 and °F is not to meet: a point before anything but the three digits of thousands, and °C. */
const FOREIGN = /\d\.\d(?!\d\d(?!\d))|°C/;

async function smallHome(page: Page, name: string): Promise<void> {
  await page.goto('/new');
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: `Sources of ${name}` })).toBeVisible();
}

const chooser = (page: Page) => page.getByLabel('Drop log files here, or choose them');

test('the theme and the open home are remembered over a reload', async ({ page }) => {
  await smallHome(page, 'Mill Lane');
  await bringLogs(page, file('a.csv', csv(4)));
  await expect(page.getByText('96 rows every 60 min')).toBeVisible();
  await page.getByRole('button', { name: 'Change to the dark theme' }).click();
  await page.goto('/');
  await expect(page).toHaveURL(/\/h\/[\w-]+\/days/);
  await expect(page.locator('html')).toHaveClass('dark');
  await page.getByRole('button', { name: 'Change to the light theme' }).click();
  await page.reload();
  await expect(page.locator('html')).not.toHaveClass('dark');
});

test('what is chosen in the settings holds on every view, and goes into the book', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('g');
  await page.keyboard.press('e');
  await expect(page.getByRole('heading', { level: 1, name: 'Settings' })).toBeVisible();
  await page.getByRole('radio', { name: 'dark' }).click();
  await expect(page.locator('html')).toHaveClass('dark');
  await expectAccessible(page);
  await page.getByRole('radio', { name: '1.234,5' }).click();
  await page.getByRole('radio', { name: '2024-09-14' }).click();
  await page.getByRole('radio', { name: '°C' }).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press(' ');
  await expect(page.getByText(/12\.345,6 kWh on 2024-09-14, at 70,7\s°F/)).toBeVisible();
  await page.getByRole('radio', { name: 'larger', exact: true }).click();
  await choose(page.getByLabel(/^Which self-sufficiency stands first/), /^by supply/);
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(tally(page).locator('[data-figure^="account.selfSufficiency"]').first()).toHaveText(
    /^Self-sufficiency, by supply\d+,\d %/,
  );
  await page.reload();
  await expect(tally(page).locator('[data-figure^="account.selfSufficiency"]').first()).toHaveText(/,\d %/);
  await expect(page.locator('html')).toHaveCSS('zoom', '1.1');
  // What the computation says of the days is written the same way, to the working's last line.
  await page.getByRole('grid').focus();
  await page.keyboard.press('a');
  const findings = tally(page).getByRole('region', { name: 'Worth a look' });
  await expect(findings).toContainText(/\d,\d % of what came in/);
  await expect(findings).not.toContainText(FOREIGN);
  await tally(page).locator('[data-figure="account.solar"]').click();
  const working = page.getByRole('region', { name: /^Working/ });
  await expect(working).toContainText(/±5,5 W zero for \d+\.\d{3} h/);
  // A temperature is typed in the reader's degrees too; what is kept is Celsius.
  await page.goto(homePath(page, 'readings'));
  await page.getByLabel('import counter, kWh').fill('100,5');
  await page.getByLabel('battery, °F').fill('65');
  await page.getByLabel('Read at').fill('2024-05-01 18:00');
  await page.getByRole('button', { name: 'Write down' }).click();
  await expect(page.getByRole('region', { name: 'Readings' }).getByRole('row').nth(1)).toContainText('65');
  const download = page.waitForEvent('download');
  await page.goto(homePath(page, 'system'));
  await page.getByRole('button', { name: /^Save the book/ }).click();
  const members = unzipSync(readFileSync(await (await download).path()));
  expect(JSON.parse(strFromU8(members['settings.json']!))).toMatchObject({
    theme: 'dark',
    numbers: '1.234,5',
    temperature: 'F',
    leadingSchool: 'supply',
  });
});

test('no view writes a number or a temperature in marks that its reader has not chosen', async ({ page }) => {
  test.setTimeout(240_000);
  await openDemo(page);
  await goWithin(page, homePath(page, 'settings'));
  await page.getByRole('radio', { name: '1.234,5' }).click();
  await page.getByRole('radio', { name: '°F' }).click();
  for (const view of [
    ...['summary', 'days', 'account', 'losses', 'wear', 'outages', 'outages/2024-05-21T07:50:00Z', 'trials'],
    ...['money', 'what-if', 'outage-sheet', 'system', 'journal', 'readings', 'report', 'day/2024-06-12'],
  ]) {
    await openView(page, `${homePath(page, view)}?from=2023-04-01&to=2024-06-30`);
    const lines = (await page.locator('body').innerText()).split('\n');
    const isForeign = (line: string) => FOREIGN.test(line) || /\d{4}-\d\d-\d\d/.test(line);
    // The rates of a tariff are numbered: the first of the second is 2.1.
    const wrong = lines.filter((line) => isForeign(line) && !/(?:Bought|Sold|bought|sold) \d\.\d/.test(line));
    expect.soft([view, ...wrong]).toEqual([view]);
  }
});

test('a home that knows little says what is missing instead of zero', { tag: '@smoke' }, async ({ page }) => {
  await smallHome(page, 'Bare');
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('No log yet');
  await page.getByRole('link', { name: 'Bring a log' }).click();
  await bringLogs(page, file('bare.csv', csv(4)));
  await page.getByRole('link', { name: 'See the days' }).click();
  await expect(page.locator('[data-figure="account.selfSufficiency.grid"]')).toContainText('50.0 %');
  // What is not told stands in one line, by name; it opens to the reasons.
  await tally(page)
    .getByRole('button', { name: /figures not available: .*Full cycles, nameplate/ })
    .click();
  const cycles = page.locator('[data-figure="wear.efc.nameplate"]').first();
  await expect(cycles).toContainText('not measured');
  await cycles.click();
  await expect(page.getByRole('region', { name: /Working: Full cycles, nameplate/ })).toContainText(
    'a column battery_w or battery_dc_w would supply it',
  );
  await expect(
    page
      .getByRole('row', { name: /^Thu 2 May/ })
      .getByRole('gridcell')
      .nth(2),
  ).toHaveText('–');
  await expect(tally(page)).toContainText('The system describes no battery');
});

test('two homes stand beside each other; an unknown one is told, with a way back', async ({ page }) => {
  for (const [name, days] of [
    ['North House', 2],
    ['South House', 3],
  ] as const) {
    await smallHome(page, name);
    await bringLogs(page, file(`${name}.csv`, csv(days)));
    await expect(page.getByText(`${days * 24} rows every 60 min`)).toBeVisible();
  }
  await page.getByRole('button', { name: 'South House', exact: true }).click();
  await page.getByRole('menuitem', { name: 'North House' }).click();
  await expect(page).toHaveURL(/\/h\/[\w-]+\/days/);
  await expect(page.getByRole('button', { name: 'North House', exact: true })).toBeVisible();
  // 48 hours of UTC touch three days in Lisbon.
  await expect(tally(page)).toContainText('3 days');
  await page.goto(homePath(page, 'dayz'));
  await expect(page.getByRole('heading', { level: 1, name: 'No such view' })).toBeVisible();
  await page.getByRole('link', { name: 'Go to its days' }).click();
  await expect(tally(page)).toContainText('3 days');
  await page.goto('/h/nowhere/days');
  await expect(page.getByRole('alert')).toContainText('This home is not in this browser');
  await page.getByRole('link', { name: 'Choose another home' }).click();
  await expect(page.getByRole('link', { name: 'South House' })).toBeVisible();
});

test('a tab closed in mid-import leaves the store as it was', async ({ page, context }) => {
  await smallHome(page, 'Mill Lane');
  await bringLogs(page, file('small.csv', csv(2)));
  await expect(page.getByRole('article', { name: 'small.csv' })).toBeVisible();
  // Wide enough that storing it takes longer than closing a tab.
  const line = '2024-05-01T00:00:00Z,500,500,0,0,50,230,20\n';
  const lines = ['time,load_w,grid_w,solar_w,battery_w,soc_pct,grid_v,battery_temp_c\n'];
  for (let i = 0; i < 1_500_000; i++)
    lines.push(
      line.replace(
        '2024-05-01T00:00:00',
        new Date(Date.UTC(2020, 0, 1) + i * 60_000).toISOString().slice(0, 19),
      ),
    );
  await chooser(page).setInputFiles(file('large.csv', lines.join('')));
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  await expect(page.getByText(/Storing large\.csv/)).toBeVisible();
  await page.close();
  const again = await context.newPage();
  await again.goto(homePath(page, 'sources'));
  await expect(again.getByRole('article')).toHaveCount(1);
  await again.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(tally(again).getByRole('heading', { level: 1 })).toHaveText('May 2024');
});

test('a full storage is told in words, and what was stored before stays', async ({
  page,
  context,
  baseURL,
}) => {
  const browser = await context.newCDPSession(page);
  await browser.send('Storage.overrideQuotaForOrigin', { origin: baseURL!, quotaSize: 4_000_000 });
  await smallHome(page, 'Mill Lane');
  await bringLogs(page, file('small.csv', csv(2)));
  await chooser(page).setInputFiles(file('large.csv', csv(9000)));
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  await expect(page.getByText(/^large\.csv: The browser’s storage is full/)).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByRole('article')).toHaveCount(1);
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('May 2024');
});

test('an address with nonsense in it shows the last month; the first link skips to the view', async ({
  page,
}) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/days?from=<b>&to=2024-13-77');
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('February 2025');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Skip to the view' })).toBeFocused();
  await page.goto('/h/kauri-bend/days?from=2024-03-09&to=2024-03-02');
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('2 March 2024 – 9 March 2024');
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect.poll(() => rangeInAddress(page)).toBe('2024-03-09 2024-03-02');
  await page.goto('/no/such/page');
  await expect(page).toHaveURL(/kauri-bend\/days/);
});

test('a text from a file is shown as text, never as markup', { tag: '@smoke' }, async ({ page }) => {
  await smallHome(page, '<img src=x onerror=alert(1)>');
  const nasty = csv(2)
    .trim()
    .split('\n')
    .map((line, i) => `${line},${i === 0 ? '<script>alert(2)</script>' : '"<b onclick=alert(3)>x</b>"'}`)
    .join('\n');
  await bringLogs(page, file('nasty.csv', nasty));
  await expect(
    page.getByText(/Not recognised and left in the file: "<script>alert\(2\)<\/script>"/).first(),
  ).toBeVisible();
  await expect(page.locator('main img, main script')).toHaveCount(0);
});

test('every view fits on paper: charts no wider than it, the roll with every day that is chosen', async ({
  page,
}) => {
  await openDemo(page, ['2024-05-01', '2024-06-30']);
  const rows = page.getByRole('grid', { name: 'Days, newest on top' }).getByRole('row');
  for (const [view, heading] of [
    ['days', ''],
    ['account', 'Account'],
    ['losses', 'Losses'],
    ['wear', 'Wear'],
    ['outages', 'Outages'],
    ['money', 'Money'],
  ] as const) {
    await goWithin(page, `/h/kauri-bend/${view}?from=2024-05-01&to=2024-06-30`);
    if (heading) await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
    await expect(page.locator('main svg').first()).toBeAttached();
    // As a browser prints: it says so, lays the page out for paper, and says when it has done.
    await page.evaluate(() => dispatchEvent(new Event('beforeprint')));
    await page.emulateMedia({ media: 'print' });
    const widest = await page
      .locator('main svg')
      .evaluateAll((all) => Math.max(...all.map((svg) => svg.getBoundingClientRect().width)));
    // A4 is 210 mm wide, less two margins of 14 mm, at 96 px an inch.
    expect(widest).toBeLessThanOrEqual(((210 - 28) / 25.4) * 96);
    // Thirty-one days and thirty, their two months, and the headings.
    if (view === 'days') await expect(rows).toHaveCount(64);
    await page.emulateMedia({ media: 'screen' });
    await page.evaluate(() => dispatchEvent(new Event('afterprint')));
    if (view === 'days') await expect.poll(() => rows.count()).toBeLessThan(40);
  }
});
