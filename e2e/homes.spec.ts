import { expect, expectAccessible, openDemo, test } from './fixtures.js';

test('all homes stand side by side, each leads to its own, and a column puts them in order by keyboard', async ({
  page,
}) => {
  await openDemo(page);
  await page.goto('/?choose');
  await page.getByRole('button', { name: /Open Larch Row/ }).click();
  await expect(page).toHaveURL(/\/days/, { timeout: 60_000 });
  await page.goto('/?choose');
  await page.getByRole('link', { name: 'Set all homes side by side' }).press('Enter');
  const table = page.getByRole('region', { name: 'Homes' });
  await expect(table.getByRole('row', { name: /Kauri Bend/ })).toContainText(/1,096 days/, {
    timeout: 60_000,
  });
  await expect(table.getByRole('row', { name: /Larch Row/ })).toContainText(/60\.0/, { timeout: 60_000 });
  const order = () => table.getByRole('rowheader').getByRole('link').allTextContents();
  expect(await order()).toEqual(['Kauri Bend', 'Larch Row']);
  await table.getByRole('button', { name: 'Self-sufficiency, by the meter' }).press('Enter');
  expect(await order()).toEqual(['Larch Row', 'Kauri Bend']);
  await table.getByRole('button', { name: 'Self-sufficiency, by the meter' }).press('Enter');
  expect(await order()).toEqual(['Kauri Bend', 'Larch Row']);
  await expectAccessible(page);
  await table.getByRole('link', { name: 'Larch Row' }).press('Enter');
  await expect(page).toHaveURL(/larch-row\/days/);
});
