import { choose, expect, expectAccessible, openDemo, test } from './fixtures.js';

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
    'Never feed power back into the grid',
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

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

test('a picture of the display stands beside its reading, over a reload; what is no picture is refused', async ({
  page,
}) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/trials');
  await page.getByRole('button', { name: 'Begin: Drawdown' }).click();
  await reading(page, {
    'Read at': '2025-03-10T20:00',
    'charge, %': '100',
    'discharge counter, kWh': '760.1',
  });
  const readings = page.getByRole('region', { name: 'Readings' });
  const field = readings.getByLabel('A picture of the display, reading 1:');
  await field.setInputFiles({
    name: 'drawing.svg',
    mimeType: 'image/png',
    buffer: Buffer.from('<svg onload="1"/>'),
  });
  await expect(readings.getByRole('alert')).toContainText('neither a PNG nor a JPEG');
  await field.setInputFiles({ name: 'display.png', mimeType: 'image/png', buffer: PNG });
  await expect(readings.getByAltText('Display: display.png')).toBeVisible();
  await page.reload();
  await expect(readings.getByAltText('Display: display.png')).toBeVisible();
  await readings.getByRole('button', { name: 'Larger: display.png' }).press('Enter');
  await expect(readings.getByRole('button', { name: 'Smaller: display.png' })).toBeVisible();
  await expectAccessible(page);
  await readings.getByRole('button', { name: 'Remove display.png' }).click();
  await expect(readings.getByAltText('Display: display.png')).toHaveCount(0);
});

const PROTOCOLS: readonly (readonly [
  title: string,
  first: Readonly<Record<string, string>>,
  second: Readonly<Record<string, string>>,
  found: RegExp,
])[] = [
  [
    'Drawdown',
    { 'charge, %': '100', 'discharge counter, kWh': '100', 'charge counter, kWh': '5' },
    { 'charge, %': '40', 'discharge counter, kWh': '108', 'charge counter, kWh': '5' },
    /of the expected energy came out/,
  ],
  [
    'Idle draw',
    { 'charge, %': '80', 'discharge counter, kWh': '100', 'charge counter, kWh': '5' },
    { 'charge, %': '76', 'discharge counter, kWh': '100.5', 'charge counter, kWh': '5' },
    /W \(\d+ to \d+\)/,
  ],
  ['Off-grid run', { 'charge, %': '100' }, { 'charge, %': '60' }, /h/],
  [
    'Full load',
    { 'Switched on': 'oven', 'load, W': '2400', 'charge, %': '80' },
    { 'Switched on': 'kettle', 'load, W': '4500', 'charge, %': '79' },
    /4,500 W held/,
  ],
  [
    'Recharge',
    { 'charge, %': '40', 'charge counter, kWh': '5' },
    { 'charge, %': '100', 'charge counter, kWh': '14' },
    /\d/,
  ],
  [
    'Island curtailment',
    { 'charge, %': '100', 'solar, W': '3000', 'frequency, Hz': '50' },
    { 'charge, %': '100', 'solar, W': '0', 'frequency, Hz': '52' },
    /\d|needed/,
  ],
  [
    'Transfer and restart',
    { 'charge, %': '12', 'load, W': '300' },
    { 'charge, %': '11', 'load, W': '300' },
    /\w/,
  ],
];

test('every protocol goes from its start to its record by keyboard, at 390 px', async ({ page }) => {
  test.setTimeout(180_000);
  await openDemo(page);
  await page.setViewportSize({ width: 390, height: 780 });
  for (const [title, first, second, found] of [...PROTOCOLS, PROTOCOLS[0]!]) {
    await page.goto('/h/kauri-bend/trials');
    await page.getByRole('button', { name: `Begin: ${title}` }).press('Enter');
    const form = page.getByRole('form', { name: 'A new reading' });
    for (const [at, values] of [
      ['2025-03-10T20:00', first],
      ['2025-03-11T05:00', second],
    ] as const) {
      await form.getByLabel('Read at').fill(at);
      for (const [label, value] of Object.entries(values)) {
        await form.getByLabel(label, { exact: true }).focus();
        await page.keyboard.type(value);
      }
      await page.keyboard.press('Enter');
      await expect(form.getByLabel(Object.keys(values)[0]!, { exact: true })).toHaveValue('');
    }
    await expect(page.getByRole('region', { name: 'Result' })).toContainText(found);
    await page.getByRole('button', { name: 'End the trial' }).press('Enter');
    const fits = await page.locator('#view').evaluate((view) => view.scrollWidth <= view.clientWidth);
    expect([title, fits]).toEqual([title, true]);
  }
  await page.getByRole('link', { name: 'All trials' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Trials', exact: true }).getByRole('row')).toHaveCount(9);
  await expectAccessible(page);
});

test('this year’s drawdown stands beside last year’s, and counts in the wear', async ({ page }) => {
  await openDemo(page);
  for (const [year, out] of [
    ['2024', '8.2'],
    ['2025', '7.9'],
  ] as const) {
    await page.goto('/h/kauri-bend/trials');
    await page.getByRole('button', { name: 'Begin: Drawdown' }).click();
    await reading(page, {
      'Read at': `${year}-02-01T20:00`,
      'charge, %': '100',
      'discharge counter, kWh': '100',
      'charge counter, kWh': '5',
    });
    await reading(page, {
      'Read at': `${year}-02-02T05:00`,
      'charge, %': '40',
      'discharge counter, kWh': String(100 + Number(out)),
      'charge counter, kWh': '5',
    });
    await expect(page.getByRole('region', { name: 'Result' })).toContainText(
      'of the expected energy came out',
    );
    // The log of those hours says what it has of the same, and which of them counts.
    const logged = page.getByRole('region', { name: 'Typed beside logged' });
    await expect(logged.getByRole('row', { name: /^discharge/ })).toContainText(/count/);
    await expect(logged.getByRole('row', { name: /^state of charge/ })).toContainText(/agree|differ/);
    await page.getByRole('button', { name: 'End the trial' }).click();
    await expect(page.getByRole('button', { name: 'Go on with it' })).toBeVisible();
  }
  const before = page.getByRole('region', { name: 'Beside the one before' });
  await expect(before).toContainText('1 February 2024');
  await expect(before.getByRole('row', { name: /capacity/i })).toContainText('may be none');
  await page.getByRole('link', { name: 'Wear', exact: true }).click();
  await expect(page.getByRole('button', { name: /^Modules that answer/ })).toContainText('3');
});

test('appliances are listed, and what must not run together is told for each number of inverters', async ({
  page,
}) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/trials');
  await page.getByRole('link', { name: 'What must not run together' }).click();
  const form = page.getByRole('form', { name: 'Another appliance' });
  const add = async (name: string, watts: string, start: string) => {
    await form.getByLabel('Appliance', { exact: true }).fill(name);
    await form.getByLabel('Running power, W').fill(watts);
    await choose(form.getByLabel('Starts like'), start);
    await page.keyboard.press('Enter');
    await form.getByRole('button', { name: 'Add the appliance' }).press('Enter');
  };
  await add('oven', '2.4', 'oven, kettle, heater (× 1)');
  await expect(form.getByRole('alert')).toContainText('is it kW? Write 2400');
  await add('oven', '3400', 'oven, kettle, heater (× 1)');
  await expect(page.getByRole('table', { name: 'Appliances' })).toContainText('oven');
  await add('kettle', '2800', 'oven, kettle, heater (× 1)');
  await add('oven', '1000', 'oven, kettle, heater (× 1)');
  await expect(form.getByRole('alert')).toContainText('listed already');
  // 3.4 and 2.8 kW are 6.2 kW, over the battery-only rating of 6.
  await expect(page.getByRole('region', { name: 'With one inverter, as installed' })).toContainText(
    'oven + kettle',
  );
  await expect(page.getByRole('region', { name: 'With 2 inverters' })).toContainText(
    'Everything may run at once',
  );
  await expectAccessible(page);
  await page.reload();
  await page.getByRole('button', { name: 'Remove kettle' }).click();
  await expect(page.getByRole('region', { name: 'With one inverter, as installed' })).toContainText(
    'Everything may run at once',
  );
});
