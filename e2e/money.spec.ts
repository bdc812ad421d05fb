import { expect, expectAccessible, openDemo, test } from './fixtures.js';

test('the bills of the demo home are drawn up, the saving adds up, and every figure leads to its working', async ({
  page,
}) => {
  await openDemo(page);
  await page.keyboard.press('g');
  await page.keyboard.press('m');
  await expect(page.getByRole('heading', { name: 'Money', level: 1 })).toBeVisible();
  await expect(page.getByText('the whole history')).toBeVisible();
  const ladder = page.getByRole('region', { name: 'What saved what' });
  const amounts = (await ladder.locator('td:nth-child(2)').allTextContents()).map((text) =>
    Number(text.replaceAll(',', '').replace('− ', '-').replace('+ ', '').replace('−', '-')),
  );
  const [without, ...steps] = amounts;
  const bill = steps.pop()!;
  expect(without).toBeGreaterThan(1000);
  expect(Math.abs(without! + steps.reduce((sum, one) => sum + one, 0) - bill)).toBeLessThan(0.05);
  await expect(page.getByRole('region', { name: 'Bills', exact: true }).getByRole('row')).toHaveCount(37);
  await page.locator('[data-figure="money.payback"]').click();
  await expect(page.getByRole('heading', { name: /^Working: Payback/ })).toBeVisible();
  await expectAccessible(page);
});
