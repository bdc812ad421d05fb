import { choose, expect, expectAccessible, openDemo, test } from './fixtures.js';

test('a month is drawn up as a statement in two clicks, set out as one likes, and prints on few pages', async ({
  page,
}) => {
  await openDemo(page, ['2024-06-01', '2024-06-30']);
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  const energy = page.getByRole('region', { name: 'Energy', exact: true });
  await expect(energy.getByRole('row', { name: /^Load/ })).toContainText(/\d kWh.*–.*kWh/, {
    timeout: 30_000,
  });
  await expect(
    energy.getByRole('img', { name: /^solar, load, import by day, at most \d+ kWh$/ }),
  ).toBeVisible();
  const daily = page.getByRole('region', { name: 'Days', exact: true });
  await expect(daily).toContainText('Least sun');
  const over = page.getByRole('group', { name: /Count the days over/ }).getByLabel('load', { exact: true });
  await over.fill('0,1');
  await expect(daily).toContainText(/load above 0\.1 kWh on (\d+) of \1 days/);
  await over.fill('many');
  await expect(page.getByRole('alert')).toContainText('“many” is no level of load: write kWh a day');
  await expect(daily).not.toContainText('Days over a level');
  await over.fill('500');
  await expect(daily).toContainText(/load above 500 kWh on 0 of \d+ days/);
  const lasts = page.getByRole('region', { name: 'How long the battery lasts without the grid' });
  await expect(lasts.getByRole('row', { name: /^As usual, \d+ W/ })).toContainText(/\d+ h \d\d.*–/);
  await page.getByLabel('Heading').fill('June on the hill');
  await page.getByLabel('Remarks').fill('The hail came on the 12th.');
  await page.getByRole('checkbox', { name: 'Money' }).uncheck();
  await expect(page.getByRole('heading', { name: 'June on the hill', level: 1 })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Money', exact: true })).toHaveCount(0);
  await expectAccessible(page);
  for (const paper of ['A4', 'Letter']) {
    await choose(page.getByLabel('Paper'), paper);
    const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
    const pages = pdf.match(/\/Type\s*\/Page[^s]/g) ?? [];
    expect(pages.length).toBeGreaterThan(0);
    expect(pages.length).toBeLessThanOrEqual(4);
    // Points: 210 × 297 mm, or 8.5 × 11 in.
    const [, width, height] = /\/MediaBox\s*\[0 0 ([\d.]+) ([\d.]+)\]/.exec(pdf)!.map(Number);
    expect([Math.round(width!), Math.round(height!)]).toEqual(paper === 'A4' ? [595, 842] : [612, 792]);
  }
  await page.reload();
  await expect(page.getByRole('heading', { name: 'June on the hill', level: 1 })).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('checkbox', { name: 'Money' })).not.toBeChecked();
  await expect(page.getByRole('region', { name: 'Days', exact: true })).toContainText('load above 500 kWh');
});

test('an evidence pack says what is claimed, how it was measured, the files by their checksums, and what it does not prove', async ({
  page,
}) => {
  await openDemo(page, ['2022-03-01', '2025-02-28']);
  await page.goto('/h/kauri-bend/report?from=2022-03-01&to=2025-02-28');
  await choose(page.getByLabel('What it is for'), 'Evidence pack');
  await page
    .getByLabel('What is claimed, with the clauses of the warranty')
    .fill('Clause 4: 70 % after ten years.');
  await expect(page.getByRole('region', { name: 'What is claimed' })).toContainText('Clause 4');
  await expect(page.getByRole('region', { name: 'How it was measured' })).toContainText(
    'nothing is scaled up',
  );
  await expect(page.getByRole('region', { name: 'Files', exact: true })).toContainText(
    /SHA-256 [0-9a-f]{64}/,
  );
  const estimates = page.getByRole('region', { name: 'Estimates of the capacity' });
  await expect(estimates).toContainText('The latest 24 of');
  await expect(estimates.getByRole('img', { name: /^Capacity from \d+ runs, now/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'What this does not prove' })).toContainText('who is liable');
  await choose(page.getByLabel('What it is for'), 'Commissioning and service sheet');
  await expect(page.getByRole('region', { name: 'Signatures' })).toContainText('Installer');
  const together = page.getByRole('region', { name: 'What must not run together' });
  await expect(together).toContainText('No appliance is listed');
  const list = await page.context().newPage();
  await list.goto('/h/kauri-bend/trials/appliances');
  for (const [name, watts] of [
    ['Car', '7200'],
    ['Oven', '4200'],
  ] as const) {
    await list.getByLabel('Appliance', { exact: true }).fill(name);
    await list.getByLabel('Running power, W').fill(watts);
    await list.getByRole('button', { name: 'Add the appliance' }).click();
    await expect(list.getByRole('button', { name: `Remove ${name}` })).toBeVisible();
  }
  await list.close();
  // By hand: 7.2 kW alone is over the 6 kW that the battery carries; 11.4 kW together over the inverter's 8 kW.
  await expect(
    together.getByRole('row', { name: /^Car the battery-only rating 7,200 6,000$/ }),
  ).toBeVisible();
  await expect(
    together.getByRole('row', { name: /^Car \+ Oven the continuous rating 11,400 8,000$/ }),
  ).toBeVisible();
  await expectAccessible(page);
});
