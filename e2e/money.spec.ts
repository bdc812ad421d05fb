import { choose, expect, expectAccessible, openDemo, test } from './fixtures.js';

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
  // Every bar begins where the one above it ended, and the bill, which is a credit here, lies left of nothing.
  const bars = await ladder.locator('td:nth-child(3)').evaluateAll((cells) =>
    cells.map((cell) => {
      const [zero, bar] = [...cell.querySelectorAll('span > span')].map((one) => one.getBoundingClientRect());
      return { zero: zero!.left, left: bar!.left, right: bar!.right };
    }),
  );
  const fell = bars.slice(1, -1);
  fell.forEach(({ right }, k) =>
    expect(Math.abs(right - (k === 0 ? bars[0]!.right : fell[k - 1]!.left))).toBeLessThan(3),
  );
  const drawn = bars.at(-1)!;
  expect(bill).toBeLessThan(0);
  expect(Math.abs(drawn.right - drawn.zero)).toBeLessThan(3);
  expect(Math.abs(drawn.left - fell.at(-1)!.left)).toBeLessThan(3);
  await expect(page.getByRole('region', { name: 'Bills', exact: true }).getByRole('row')).toHaveCount(37);
  await expect(page.getByRole('img', { name: /^37 bills|^36 bills/ })).toBeVisible();
  await expect(page.getByRole('img', { name: /^Balance of the system/ })).toBeVisible();
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
  await expect(bill).toContainText('is not a number');
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
  await choose(page.getByLabel('Tariff 1, what is exported'), 'is credited against import');
  await expect(page.getByLabel('Tariff 1, settled at, per kWh')).toBeVisible();
  await expectAccessible(page);
});

test('a list of prices shows its hours before it is imported; a charge on the highest power is added and billed', async ({
  page,
}) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/sources');
  const rows = Array.from(
    { length: 48 },
    (_, i) =>
      `${new Date(Date.UTC(2024, 5, 1) + i * 3_600_000).toISOString()},${i % 24 === 2 ? -0.02 : 0.21}`,
  );
  await page.getByLabel('Drop log files here, or choose them').setInputFiles({
    name: 'prices.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`time,import_rate\n${rows.join('\n')}\n`),
  });
  const preview = page.getByRole('region', { name: 'What will be imported' });
  await expect(preview).toContainText('price of import from −0.0200 to 0.2100');
  await expect(preview).toContainText('2.0 h below zero');
  await expect(preview.getByRole('img', { name: /^price of import by hour/ })).toBeVisible();
  await expectAccessible(page);
  await preview.getByRole('button', { name: 'Do not import' }).click();

  await page.goto('/h/kauri-bend/system');
  await page.getByRole('button', { name: 'Add a charge on the highest power' }).last().press('Enter');
  const rate = page.getByLabel(/^Demand \d\.1, per kW/);
  await rate.fill('much');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByText('Write the price of a kilowatt')).toBeVisible();
  await rate.fill('3.50');
  await page.getByRole('button', { name: /^Degree days/ }).press('Enter');
  await page.getByLabel('Heated below').fill('14');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByText('Saved. The figures are computed with it')).toBeVisible();
  await page.goto('/h/kauri-bend/money?from=2025-01-01&to=2025-02-28');
  await page.locator('[data-figure="money.bill"]').click();
  await expect(page.getByRole('rowheader', { name: '+ demand' })).toBeVisible();
  await page
    .locator('[data-figure="weather.heatingDegreeDays"], [data-figure="weather.coolingDegreeDays"]')
    .first()
    .click();
  await expect(page.getByRole('row', { name: /^base/ })).toContainText(/14|22/);
});
