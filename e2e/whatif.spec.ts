import { choose, expect, expectAccessible, openDemo, test } from './fixtures.js';

test(
  'a change is set against the modelled base with its interval, and the modules have their knee',
  { tag: '@smoke' },
  async ({ page }) => {
    await openDemo(page, ['2024-01-01', '2024-12-31']);
    await page.keyboard.press('g');
    await page.keyboard.press('i');
    await expect(page.getByRole('heading', { name: 'What-if', level: 1 })).toBeVisible();
    const table = page.getByRole('region', { name: 'Differences of scenarios' });
    const supply = table.getByRole('row', { name: /^Self-sufficiency, by supply/ });
    await expect(supply).toContainText(/\+\d+\.\d/, { timeout: 60_000 });
    await expect(page.getByText(/self-sufficiency lies \d+\.\d points/)).toBeVisible();
    await expect(page.getByRole('region', { name: 'How many modules', exact: true })).toContainText(
      'as it is',
    );
    await page.getByLabel('no battery', { exact: true }).check();
    await expect(table.getByRole('columnheader', { name: 'no battery' })).toBeVisible({ timeout: 60_000 });
    await expect(supply).toContainText(/−\d+\.\d/);
    const year = page.getByRole('region', { name: 'In another year, table' });
    await expect(year.getByRole('row', { name: /^Import, kWh/ })).toContainText(/\+[\d,]+ ?[\d,]+ to [\d,]+/);
    await expect(year.getByRole('row', { name: /^Grid-free days \D/ })).toContainText(/−\d+/);
    await page.getByLabel(/Add a scenario file/).setInputFiles({
      name: 'bad.json',
      mimeType: 'application/json',
      buffer: Buffer.from('{"schema":"long-tally/scenario@1","change":{"batery":{}}}'),
    });
    await expect(page.getByText(/batery/)).toBeVisible();
    await expectAccessible(page);
  },
);

test('a change of one’s own is kept with the home, tried, changed and saved; surplus and best settings are told', async ({
  page,
}) => {
  await openDemo(page, ['2024-01-01', '2024-12-31']);
  await page.goto('/h/kauri-bend/what-if?from=2024-01-01&to=2024-12-31');
  await page.getByRole('button', { name: 'Write a change of your own' }).press('Enter');
  const form = page.getByRole('form', { name: 'A new scenario' });
  await form.getByLabel('modules', { exact: true }).fill('4');
  await page.keyboard.press('Enter');
  await expect(form.getByRole('alert')).toContainText('Give the change a name');
  await form.getByLabel('its name').fill('four and a car');
  await form.getByLabel('a load more').fill('car');
  await page.keyboard.press('Enter');
  await expect(form.getByRole('alert')).toContainText('The load that is added');
  await form.getByLabel('its kWh a day').fill('6');
  await form.getByLabel('its kW', { exact: true }).fill('7');
  await form.getByLabel('what the change costs').fill('4000');
  await page.keyboard.press('Enter');
  const table = page.getByRole('region', { name: 'Differences of scenarios' });
  await expect(table.getByRole('columnheader', { name: 'four and a car' })).toBeVisible({ timeout: 60_000 });
  // The form is ready for the next as soon as one is sent; a name that is taken replaces nothing.
  await expect(form.getByLabel('its name')).toHaveValue('');
  await form.getByLabel('its name').fill('four and a car');
  await form.getByLabel('modules', { exact: true }).fill('5');
  await page.keyboard.press('Enter');
  await expect(form.getByRole('alert')).toContainText('“four and a car” is kept already');
  await page.reload();
  await page.getByLabel('four and a car', { exact: true }).check();
  await expect(table.getByRole('columnheader', { name: 'four and a car' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/^four and a car: Over this range .* would have been/)).toContainText(
    /It costs 4,000 NZD and saves nothing, so it is never paid back: the bill is higher by \d+ NZD/,
  );
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'save', exact: true }).click();
  expect((await download).suggestedFilename()).toMatch(/scenario\.json$/);
  await choose(page.getByLabel(/^Set the number of modules against/), 'the panels');
  const crossed = page.getByRole('region', { name: 'Modules and panels', exact: true });
  await expect(crossed).toContainText(
    /95 % of days without the grid are (reached with|not reached: at most \d+ %, with) \d+ modules, panels/,
    { timeout: 60_000 },
  );
  await expect(crossed.getByRole('columnheader', { name: 'panels as they are' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Surplus', exact: true })).toContainText(
    /[\d.]+ \([\d.]+ – [\d.]+\) kWh a day are sold/,
  );
  const best = page.getByRole('region', { name: 'Best settings' });
  await best.getByLabel('Hours to carry').fill('-1');
  await expect(best.getByRole('status')).toContainText('from 0 to 336');
  await best.getByLabel('Hours to carry').fill('6');
  await page.keyboard.press('Enter');
  await expect(best).toContainText('The bill of a year would have been', { timeout: 60_000 });
  await best.getByRole('button', { name: 'Keep these settings as a scenario' }).click();
  await expect(table.getByRole('columnheader', { name: 'best settings for 6 h' })).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('button', { name: 'remove', exact: true }).first().click();
  await expect(page.getByLabel('four and a car', { exact: true })).toHaveCount(0);
  await expectAccessible(page);
});

test('the verdict comes first, months and courses stand on one axis, runs can be stopped, a storm is planned for', async ({
  page,
}) => {
  await openDemo(page, ['2024-01-01', '2024-12-31']);
  await page.goto('/h/kauri-bend/what-if?from=2024-01-01&to=2024-12-31');
  await expect(
    page.getByText(
      /^another module: 3 → 4: Over this range self-sufficiency would have been \d\.\d points higher \(/,
    ),
  ).toBeVisible({ timeout: 60_000 });
  const courses = page.getByRole('region', { name: 'A typical day and the worst week' });
  await expect(
    courses.getByRole('img', { name: /^The worst week\. logged: charge .*; modelled as it is/ }),
  ).toBeVisible();
  const months = page.getByRole('region', { name: 'Month by month', exact: true });
  await expect(months.getByRole('columnheader', { name: /^another module/ })).toBeVisible();
  await expect(months.getByRole('row', { name: /^Jun / })).toContainText(/−\d\.\d\d −\d\.\d\d to −\d\.\d\d/);
  await months.getByRole('radio', { name: /outages of 24 h carried/ }).click();
  await expect(months.getByRole('row', { name: /^Jun / })).toContainText(/\d\d\.\d/);
  const modules = page.getByRole('region', { name: 'How many modules', exact: true });
  await expect(modules.getByRole('img', { name: /by modules: 1: \d+ %/ })).toBeVisible({ timeout: 60_000 });
  await expect(modules).toContainText('From 4 modules to 5 modules');
  await modules.getByLabel(/A module is worth taking/).fill('10');
  await expect(modules).toContainText('From 2 modules to 3 modules');
  await modules.getByLabel(/A module is worth taking/).fill('x');
  await expect(modules).toContainText('Write a number between 0 and 100');
  await expect(page.getByRole('region', { name: 'How many inverters' })).toContainText(
    /2 inverters carry all of it without the grid/,
  );
  // Every pair of modules and reserves takes its time: it is stopped, and gone on with.
  await choose(page.getByLabel(/^Set the number of modules against/), 'the reserve');
  const stop = page.getByRole('button', { name: 'Stop' });
  await stop.press('Enter');
  await expect(page.getByText(/^Stopped after \d+ of \d+ runs\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Go on' }).press('Enter');
  await expect(page.getByText(/Running the load/)).toBeHidden({ timeout: 60_000 });
  await expect(page.getByRole('region', { name: 'Modules and reserve, table' })).toContainText(
    'reserve 50 %',
  );
  await page.getByRole('button', { name: 'change “a car, 8 kWh a night at 7 kW”' }).press('Enter');
  await expect(
    page.getByRole('form', { name: 'A scenario changed' }).getByLabel('its kWh a day'),
  ).toHaveValue('8');
  const storm = page.getByRole('region', { name: 'Before a storm' });
  await storm.getByLabel('The storm is expected on').fill('3 Jul 2026, 18:00');
  await page.keyboard.press('Enter');
  await expect(storm).toContainText(/Begin to charge \d+ h before\. On \d+ days/, { timeout: 60_000 });
  await expect(storm.getByRole('row', { name: /^24 hours are carried in/ })).toContainText('%');
  await expectAccessible(page);
});
