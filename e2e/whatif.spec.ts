import { expect, expectAccessible, openDemo, test } from './fixtures.js';

test('a change is set against the modelled base with its interval, and the modules have their knee', async ({
  page,
}) => {
  await openDemo(page, ['2024-01-01', '2024-12-31']);
  await page.keyboard.press('g');
  await page.keyboard.press('i');
  await expect(page.getByRole('heading', { name: 'What-if', level: 1 })).toBeVisible();
  const table = page.getByRole('region', { name: 'Differences of scenarios' });
  const supply = table.getByRole('row', { name: /^Self-sufficiency, by supply/ });
  await expect(supply).toContainText(/\+\d+\.\d/, { timeout: 60_000 });
  await expect(page.getByText(/self-sufficiency lies \d+\.\d points/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'How many modules' })).toContainText('as it is');
  await page.getByLabel('no battery').check();
  await expect(table.getByRole('columnheader', { name: 'no battery' })).toBeVisible({ timeout: 60_000 });
  await expect(supply).toContainText(/−\d+\.\d/);
  await page.getByLabel(/Add a scenario file/).setInputFiles({
    name: 'bad.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"schema":"long-tally/scenario@1","change":{"batery":{}}}'),
  });
  await expect(page.getByText(/batery/)).toBeVisible();
  await expectAccessible(page);
});
