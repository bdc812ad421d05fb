import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { bringLogs, expect, expectAccessible, openDemo, rangeInAddress, test } from './fixtures.js';

const ALL = ['2022-03-01', '2025-02-28'] as const;

test('the wear is judged in words, capacity and warranty are drawn, every figure leads to its working', async ({
  page,
}) => {
  await openDemo(page, ALL);
  await page.keyboard.press('g');
  await page.keyboard.press('w');
  await expect(page.getByRole('heading', { level: 1, name: 'Wear' })).toBeVisible();
  expect(rangeInAddress(page)).toBe(ALL.join(' '));
  // The demo home fades by 2.5 % a year (its truth); the interval in the verdict holds it.
  const verdict = page.getByRole('region', { name: 'Verdict' });
  await expect(verdict).toContainText('The battery holds 9');
  const [, low, high] = (/\(([\d.]+) % to ([\d.]+) %\)/.exec(await verdict.innerText()) ?? []).map(Number);
  expect(low!).toBeLessThanOrEqual(2.5);
  expect(high!).toBeGreaterThanOrEqual(2.5);
  await expect(verdict).toContainText('One drawdown from full to the cut-off in warm weather would');
  await expect(page.getByRole('img', { name: /^Capacity from \d[\d,]+ runs, now 12\.\d kWh/ })).toBeVisible();
  await expect(
    page.getByRole('img', { name: /^Warranty: years 14 % used|^Warranty: years 15 % used/ }),
  ).toBeVisible();
  await expect(page.getByRole('img', { name: /^Cycles by depth: 0 to 10 %/ })).toBeVisible();
  const counters = page.getByRole('region', { name: 'Counters of use' });
  await expect(counters.getByRole('row', { name: /^Throughput 7,\d{3} kWh 2,\d{3} 6\.\d\d$/ })).toBeVisible();
  await expectAccessible(page);

  // Beside it the other references, and what charges say.
  await page.getByRole('button', { name: /^Health, nameplate/ }).click();
  await expect(page.getByRole('region', { name: 'Working: Health, nameplate' })).toContainText(
    'less the conversion on its way out',
  );
  await expect(page.getByRole('button', { name: /^Capacity, from charges 12\.\d kWh/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^SOC at cut-off 10\.0 %/ })).toBeVisible();

  // By key: the working of the focused figure, and another range.
  await page.getByRole('button', { name: /^Fade, year on year/ }).focus();
  await page.keyboard.press('w');
  const working = page.getByRole('region', { name: 'Working: Fade, year on year' });
  await expect(working).toContainText('slopes between months one year apart');
  await expect(working).toContainText('the monitor’s own');
  await page.keyboard.press('Escape');
  await page.keyboard.press('m');
  await expect(verdict).toContainText('A rate needs 20 estimates over half a year');
  await expect.poll(() => rangeInAddress(page)).toBe('2025-02-01 2025-02-28');
  await expectAccessible(page);
});

test('the cycle-life curve can be replaced by a data sheet’s, and the evidence saved as tables', async ({
  page,
}) => {
  await openDemo(page, ['2024-01-01', '2024-12-31']);
  await page.goto('/h/kauri-bend/wear?from=2024-01-01&to=2024-12-31');
  const life = page.getByRole('region', { name: 'Cycle life' });
  await expect(life).toContainText('An assumption, not from a data sheet');
  const damage = page.getByRole('button', { name: /^Cycle life used \(Miner\)/ });
  const before = await damage.innerText();
  const last = life.getByLabel('Cycles, point 5');
  await last.fill('none');
  await life.getByRole('button', { name: 'Use this curve' }).click();
  await expect(life.getByRole('alert')).toContainText('Write cycles from 1 to');
  await expectAccessible(page);
  await last.fill('8000');
  await life.getByLabel('Cycles, point 4').fill('11000');
  await page.keyboard.press('Enter');
  await expect(life).toContainText('As described for the latest configuration.');
  await expect(damage).not.toHaveText(before);
  await page.reload();
  await expect(life.getByLabel('Cycles, point 5')).toHaveValue('8000');
  await life.getByRole('button', { name: 'Back to the assumption' }).click();
  await expect(life).toContainText('An assumption, not from a data sheet');

  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the evidence' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe('kauri-bend-wear-2024-01-01-2024-12-31.zip');
  const tables = unzipSync(new Uint8Array(readFileSync(await file.path())));
  expect(Object.keys(tables)).toEqual(['cycles.csv', 'capacity.csv', 'working.csv']);
  expect(strFromU8(tables['capacity.csv']!).split('\n').length).toBeGreaterThan(200);
  expect(strFromU8(tables['working.csv']!)).toContain('wear.efc.nameplate,÷ nameplate capacity');
});

test('a cold battery is warned of; a log of a few days says what is missing', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Open Koča pod Skalo' }).click();
  await expect(page).toHaveURL(/\/days/, { timeout: 60_000 });
  await page.goto('/h/koca-pod-skalo/wear?from=2023-10-01&to=2024-09-30');
  const aside = page.getByRole('complementary', { name: 'Figures of the wear' });
  await expect(aside).toContainText('were charged while the battery was below 0 °C');
  await expect(aside).toContainText('on the monitor’s own scale');
  await expect(page.getByRole('region', { name: 'Temperatures' })).toContainText('below 0 °C');
  await expectAccessible(page);

  const folder = mkdtempSync(join(tmpdir(), 'wear-'));
  const system = join(folder, 'home.json');
  writeFileSync(
    system,
    JSON.stringify({ schema: 'long-tally/system@1', name: 'Bare', timeZone: 'Europe/Lisbon' }),
  );
  const rows = Array.from(
    { length: 72 },
    (_, h) => `${new Date(Date.UTC(2024, 5, 1, h)).toISOString()},${300 + h},200`,
  );
  const log = join(folder, 'bare.csv');
  writeFileSync(log, `time,load_w,grid_w\n${rows.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Bare' })).toBeVisible();
  await bringLogs(page, log);
  await page.getByRole('link', { name: 'Wear', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText(
    'The capacity cannot be estimated',
  );
  await expect(page.getByRole('region', { name: 'Warranty' })).toContainText('No warranty is described.');
  await expect(page.getByRole('region', { name: 'Charge rates' })).toContainText('need the battery’s power');
  await expectAccessible(page);
});
