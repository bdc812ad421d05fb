import { expect, expectAccessible, homePath, test } from './fixtures.js';

test('arrays and named loads stand by month beside statements and readings, and a car has its kWh per kilometre', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: /Open Larch Row/ }).press('Enter');
  await expect(page).toHaveURL(/\/days/, { timeout: 60_000 });
  await page.goto(`${homePath(page, 'account')}?from=2023-04-01&to=2024-09-30`);
  const arrays = page.getByRole('region', { name: 'Arrays by month', exact: true });
  await expect(arrays.getByRole('row', { name: /^September 2024/ })).toContainText(/\d\d\.\d %/);
  await arrays.getByRole('radio', { name: 'kWh per kWp' }).click();
  await expect(arrays.getByRole('row', { name: /^all of the range/ })).not.toContainText('%');
  const byMonth = page.getByRole('region', { name: 'Periods of the range' });
  // A month of weekly readings that run over its ends is the statement's all the same; the grid's days are not known.
  await expect(byMonth.getByRole('row', { name: /^July 2024/ })).toContainText(/79\.0.*–.*72\.7 %/);
  await expect(page.getByText(/0\.178 kWh per km/)).toBeVisible();
  await expectAccessible(page);

  await page.goto(homePath(page, 'readings'));
  const form = page.getByRole('form', { name: 'A new reading' });
  await form.getByLabel('Read at').fill('2024-09-30T19:30');
  await form.getByLabel('it shows').fill('31400');
  await form.getByRole('button', { name: 'Write down' }).press('Enter');
  await expect(form.getByRole('alert')).toContainText('which load the other counter belongs to');
  await form.getByLabel('load with a counter of its own').fill('Car');
  await form.getByLabel('its unit').fill('km');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /30 September 2024, 19:30/ })).toContainText('Car 31,400 km');
  await expectAccessible(page);
});
