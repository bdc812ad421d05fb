import { expect, expectAccessible, openDemo, test } from './fixtures.js';

/** The fact of the trade: 6 × 13.5 kWh would be 81 kWh; the demo's three modules of 5.12 kWh at 90 % hold 13.8. */
async function reading(page: import('@playwright/test').Page, values: Readonly<Record<string, string>>) {
  const form = page.getByRole('form', { name: 'A new reading' });
  for (const [label, value] of Object.entries(values))
    await form.getByLabel(label, { exact: true }).fill(value);
  await form.getByRole('button', { name: 'Write down' }).click();
}

test('a drawdown is run from its cautions to its record; it survives a reload, and a wrong reading is struck out', async ({
  page,
}) => {
  await openDemo(page);
  await page.keyboard.press('g');
  await page.keyboard.press('t');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Trials of');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Begin: Drawdown' }).click();
  await expect(page.getByRole('region', { name: 'Before you begin' })).toContainText(
    'never feed back into the grid',
  );
  await reading(page, { 'Read at': '2025-03-10T20:00', 'charge, %': '120' });
  await expect(page.getByRole('alert')).toContainText(
    'cannot be the charge, %: write a number from 0 to 100',
  );
  await reading(page, {
    'charge, %': '100',
    'discharge counter, kWh': '760.1',
    'charge counter, kWh': '812.4',
  });
  await expect(page.getByRole('region', { name: 'While it runs' })).toContainText('Add load in steps');
  await reading(page, {
    'Read at': '2025-03-11T03:00',
    'charge, %': '50',
    'discharge counter, kWh': '700',
    'charge counter, kWh': '812.4',
  });
  await expect(page.getByRole('region', { name: 'Result' })).toContainText('falls at');
  await page.reload();
  const readings = page.getByRole('region', { name: 'Readings' });
  await readings.getByRole('button', { name: 'Strike out' }).last().click();
  await reading(page, {
    'Read at': '2025-03-11T04:00',
    'charge, %': '40',
    'discharge counter, kWh': '768.0',
    'charge counter, kWh': '812.4',
  });
  const result = page.getByRole('region', { name: 'Result' });
  // 13.824 kWh × 60 % are 8.29 kWh, of which 7.9 came.
  await expect(result).toContainText('95.2 %');
  await expect(result).toContainText('all 3 units deliver');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'End the trial' }).click();
  await expect(page.getByRole('list', { name: 'Afterwards' })).toContainText('Recharge the same day');
  await page.getByRole('button', { name: 'Write it into the journal as a test' }).click();
  await page.getByRole('link', { name: 'All trials' }).click();
  await expect(page.getByRole('region', { name: 'Trials', exact: true })).toContainText(
    'all 3 units deliver',
  );
});

test('on a phone a checkpoint is typed without sideways scrolling; the log’s own stretches become records', async ({
  page,
}) => {
  await openDemo(page);
  await page.setViewportSize({ width: 390, height: 780 });
  await page.goto('/h/kauri-bend/trials');
  await page.getByRole('button', { name: 'Begin: Off-grid run' }).click();
  await reading(page, { 'charge, %': '90' });
  const { scrollWidth, clientWidth } = await page
    .locator('#view')
    .evaluate(({ scrollWidth, clientWidth }) => ({ scrollWidth, clientWidth }));
  expect(scrollWidth).toBeLessThanOrEqual(clientWidth);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole('link', { name: 'All trials' }).click();
  const log = page.getByRole('region', { name: 'From the log' });
  await log.getByRole('button', { name: 'Keep' }).first().click();
  await expect(page.getByRole('region', { name: 'Trials', exact: true }).getByRole('row')).toHaveCount(3);
});
