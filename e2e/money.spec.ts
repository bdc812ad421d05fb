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

test('a stated bill is taken apart, offers are compared at the home’s own use, and two winters by their weather', async ({
  page,
}) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/money?from=2024-05-01&to=2024-08-31');
  const like = page.getByRole('region', { name: 'Like with like' });
  await expect(like.getByRole('row', { name: /the same days of the year before/ })).toContainText('122');
  await expect(like.getByRole('img', { name: /heating degree days/ })).toBeVisible();
  const bill = page.getByRole('region', { name: 'A bill somebody states' });
  await bill.getByLabel('Amount of the bill').fill('9,3x');
  await expect(bill).toContainText('is no number');
  await bill.getByLabel('Amount of the bill').fill('9.31');
  await bill.getByLabel('Energy on it, kWh').fill('18.51');
  await bill.getByLabel('Price of a kWh on it').fill('0.1853');
  await bill.getByLabel('Days it covers').fill('30');
  // 3.43 is energy, 5.88 over 30 days is 0.196 a day: common practice, no published source.
  await expect(bill).toContainText('3.43 NZD of it is energy');
  await expect(bill).toContainText('A standing charge of 0.196 a day over 30 days.');
  const offers = page.getByRole('region', { name: 'Offers' });
  const form = offers.getByRole('form', { name: 'Another offer' });
  await form.getByLabel('Offer', { exact: true }).fill('A');
  await form.getByRole('button', { name: 'Add the offer' }).press('Enter');
  await expect(form.getByRole('alert')).toContainText('Write its price and its usable capacity');
  await form.getByLabel(/^Price/).fill('9000');
  await form.getByLabel('Usable capacity, kWh').fill('12');
  await form.getByLabel('Warranted throughput, kWh').fill('30000');
  await page.keyboard.press('Enter');
  // 9000 ÷ 30 000.
  await expect(offers.getByRole('row', { name: /^A / })).toContainText('0.300');
  await page.reload();
  await expect(offers.getByRole('row', { name: /^A / })).toContainText('its throughput');
  await expectAccessible(page);
  await offers.getByRole('button', { name: 'Remove A' }).click();
  await expect(offers.getByRole('row')).toHaveCount(0);
});

test('a tariff shows which hours each price covers, and the hours that have none', async ({ page }) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/system');
  const strip = page.getByRole('group', { name: 'Hours of tariff 1' });
  await expect(strip).toContainText('a 0.1900 · b 0.3400');
  await page.getByLabel('Bought 1.1, from').fill('07:00');
  await page.getByLabel('Bought 1.1, to').fill('21:00');
  await expect(strip).toContainText('14.0 hours of a week have no price');
  await page.getByLabel('Bought 1.1, in months').fill('13');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByRole('alert').first()).toContainText('Write months as numbers');
  await page.getByLabel('Bought 1.1, in months').fill('');
  await page.getByLabel('Tariff 1, what is exported').selectOption({ label: 'is credited against import' });
  await expect(page.getByLabel('Tariff 1, settled at, per kWh')).toBeVisible();
  await expectAccessible(page);
});
