import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bringLogs, expect, expectAccessible, openDemo, rangeInAddress, test } from './fixtures.js';

const ALL = ['2022-03-01', '2025-02-28'] as const;
/** What the generator of the demo home says really happened. */
const truth = JSON.parse(
  readFileSync(new URL('../demo/homes/kauri-bend/truth.json', import.meta.url), 'utf8'),
) as { outages: { from: string; minutes: number }[] };

test('every outage of the demo home is in the ledger, and every hour is replayed as the beginning of one', async ({
  page,
}) => {
  await openDemo(page, ALL);
  await page.keyboard.press('g');
  await page.keyboard.press('u');
  await expect(page.getByRole('heading', { level: 1, name: 'Outages' })).toBeVisible();
  expect(rangeInAddress(page)).toBe(ALL.join(' '));
  const ledger = page.getByRole('region', { name: 'Outages of the range' });
  await expect(ledger.getByRole('row')).toHaveCount(1 + truth.outages.length);
  await expect(ledger).toContainText('voltage, solar held back');
  const curve = page.getByRole('img', { name: /^Share of starts that last: 12 h 8\d %, 24 h 7\d %/ });
  await expect(curve).toBeVisible();
  await expect(page.getByRole('region', { name: 'Reserve by month' })).toContainText(
    'The reserve set is 10 %',
  );
  await expectAccessible(page);

  // A runtime for what stays on, by key.
  const runtime = page.getByRole('region', { name: 'Runtime' });
  await runtime.getByLabel('Charge now, %').fill('100');
  await page.keyboard.press('Tab');
  await page.keyboard.type('1000');
  await expect(runtime).toContainText(/1[01] h \d\d without sun/);
  await runtime.getByLabel('What stays on, W').fill('a lot');
  await expect(runtime).toContainText('Write a charge from 0 to 100 %');
  await expectAccessible(page);

  await page.getByRole('button', { name: /^Reserve for 12 h/ }).focus();
  await page.keyboard.press('w');
  await expect(page.getByRole('region', { name: 'Working: Reserve for 12 h' })).toContainText(
    'With the sun that there was.',
  );
  await ledger.getByRole('link').first().click();
  await expect(page.getByRole('slider', { name: 'Time of day read out' })).toBeVisible();
});

test('a test written into the journal makes a planned run of an outage, and the journal is saved as a file', async ({
  page,
}) => {
  await openDemo(page, ALL);
  const [first] = truth.outages;
  const local = new Date(Date.parse(first!.from) - 3_600_000).toLocaleString('sv-SE', {
    timeZone: 'Pacific/Auckland',
  });
  await page.goto('/h/kauri-bend/journal');
  await page.getByLabel('From', { exact: true }).fill(local.replace(' ', 'T').slice(0, 16));
  await page.getByLabel('Lasts, h').fill(String(Math.ceil(first!.minutes / 60) + 2));
  await page.getByLabel('About').selectOption('test');
  await page.getByLabel('In your words').fill('island run with the installer');
  await page.getByRole('button', { name: 'Write the note' }).click();
  await expect(page.getByText('island run with the installer')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the journal' }).click();
  const file = readFileSync(await (await download).path(), 'utf8');
  expect(JSON.parse(file)).toMatchObject({
    schema: 'long-tally/journal@1',
    notes: [{ kind: 'test', text: 'island run with the installer', leaveOut: false }],
  });
  await expectAccessible(page);
  await page.goto(`/h/kauri-bend/outages?from=${ALL[0]}&to=${ALL[1]}`);
  await expect(page.getByRole('region', { name: 'Outages of the range' })).toContainText(
    'planned, by the journal',
  );
  await expect(
    page.getByRole('button', { name: new RegExp(`^Outages ${truth.outages.length - 1}\\b`) }),
  ).toBeVisible();
});

test('a home without a battery or a sign of its grid is told what is missing', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'outages-'));
  const system = join(folder, 'home.json');
  writeFileSync(
    system,
    JSON.stringify({ schema: 'long-tally/system@1', name: 'Bare', timeZone: 'Europe/Lisbon' }),
  );
  const rows = Array.from(
    { length: 48 },
    (_, h) => `${new Date(Date.UTC(2024, 5, 1, h)).toISOString()},${300 + h}`,
  );
  const log = join(folder, 'bare.csv');
  writeFileSync(log, `time,load_w\n${rows.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Bare' })).toBeVisible();
  await bringLogs(page, log);
  await page.getByRole('link', { name: 'Outages', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Ledger of outages' })).toContainText(
    'grid_up, grid_v or grid_hz',
  );
  await expect(page.getByRole('region', { name: 'Survival' })).toContainText('capacity is not described');
  await expectAccessible(page);
});
