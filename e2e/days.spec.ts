import { expectReadable } from './boxes.js';
import {
  dayRow,
  expect,
  expectAccessible,
  goWithin,
  openDemo,
  openView,
  rangeInAddress,
  tally,
  test,
} from './fixtures.js';

const JUNE = ['2024-06-01', '2024-06-30'] as const;

test(
  'the first visit has its doors, and the demo home opens through the real import',
  { tag: '@smoke' },
  async ({ page }) => {
    await page.goto('/');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('The audit book of a home battery');
    await expect(page.getByRole('link', { name: 'Describe a home and bring its log' })).toBeVisible();
    // What one gets: a piece of a real roll, and figures with the sum behind each.
    const sample = page.getByRole('region', { name: 'What you get' });
    await expect(sample.getByRole('grid').getByRole('row')).toHaveCount(10);
    await expect(sample.getByRole('row', { name: /21 May/ })).toContainText(/outage 4 h 10/);
    await expect(sample).toContainText('÷ load, same intervals');
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Open Kauri Bend' }).click();
    await page.waitForURL(/\/days/, { timeout: 60_000 });
    await expect(page.getByRole('grid')).toBeVisible();
    await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('February 2025');
    await page.getByRole('link', { name: 'Sources' }).click();
    await expect(page.getByRole('article', { name: 'kauri-bend.csv' })).toContainText(
      'every 5 min, 1 March 2022 to 28 February 2025',
    );
    await page.goto('/');
    await expect(page).toHaveURL(/\/h\/kauri-bend\/days/);
    // What to look at leads there, and does not come again once it is closed.
    const looks = page.getByRole('complementary', { name: 'What to look at here' });
    await expect(looks.getByRole('link')).toHaveCount(4);
    await looks.getByRole('link', { name: 'why June 2024 bought the most' }).press('Enter');
    await expect.poll(() => rangeInAddress(page)).toBe(JUNE.join(' '));
    await looks.getByRole('button', { name: 'Close what to look at' }).press('Enter');
    await expect(looks).toBeHidden();
    await page.reload();
    await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('June 2024');
    await expect(looks).toBeHidden();
  },
);

test('one search leads to figures, views and what can be done, and remembers what was chosen', async ({
  page,
}) => {
  await openDemo(page, JUNE);
  await page.keyboard.press('/');
  const query = page.getByRole('combobox', { name: 'What to find' });
  await query.fill('idle draw, battery');
  await expect(page.getByRole('option').first()).toContainText('Idle draw, battery');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  // The figure's working opens in its view, over the same range.
  await expect(page.getByRole('region', { name: 'Working: Idle draw, battery' })).toBeVisible();
  await expect(page).toHaveURL(/\/losses\?from=2024-06-01&to=2024-06-30/);
  await page.getByRole('button', { name: 'Search' }).press('Enter');
  await expect(page.getByRole('option').first()).toContainText('Idle draw, battery');
  await query.fill('plan for a storm');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/what-if/);
  await page.keyboard.press('/');
  await query.fill('nothing of the kind');
  await expect(page.getByText('0 matches')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(query).toBeHidden();
});

test('a date is typed in words or chosen on a calendar, by keyboard', async ({ page }) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/journal');
  const from = page.getByLabel('From', { exact: true });
  await from.fill('9/5/2024 18:00');
  await page.getByLabel('In your words').fill('typed in an order that is read in two ways');
  await page.keyboard.press('Enter');
  await expect(from).toHaveAttribute('aria-invalid', 'true');
  await expect(page.getByText('typed in an order')).toBeHidden();
  await from.fill('9 May 2024 18:00');
  await from.blur();
  await expect(from).toHaveValue('9 May 2024, 18:00');
  await page.getByRole('button', { name: 'Choose on a calendar' }).press('Enter');
  await expect(page.getByRole('grid', { name: 'May 2024' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(from).toHaveValue('10 May 2024, 18:00');
  await page.getByLabel('About').press('ArrowDown');
  await page.keyboard.type('weather');
  await page.keyboard.press('Enter');
  await page.getByLabel('In your words').fill('gale');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toContainText('10 May 2024');
});

test('a day, a stretch of days, months and years are selected with the mouse', async ({ page }) => {
  await openDemo(page, JUNE);
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('June 2024');
  await dayRow(page, '2024-06-26').click();
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('Wednesday, 26 June 2024');
  await dayRow(page, '2024-06-22').click({ modifiers: ['Shift'] });
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-22 2024-06-26');
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('22 June 2024 – 26 June 2024');

  const from = (await dayRow(page, '2024-06-20').boundingBox())!;
  const to = (await dayRow(page, '2024-06-15').boundingBox())!;
  await page.mouse.move(from.x + 20, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(to.x + 20, to.y + 10, { steps: 12 });
  await page.mouse.up();
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-15 2024-06-20');
  await expect(dayRow(page, '2024-06-17')).toHaveAttribute('aria-selected', 'true');
  await expect(dayRow(page, '2024-06-21')).toHaveAttribute('aria-selected', 'false');

  await page.getByRole('row', { name: /June 2024/ }).click();
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-01 2024-06-30');
  await page.reload();
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('June 2024');
});

test('everything is done with the keyboard too', { tag: '@smoke' }, async ({ page }) => {
  await openDemo(page, JUNE);
  const grid = page.getByRole('grid');
  await grid.focus();
  await page.keyboard.press('ArrowDown');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-29 2024-06-29');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-27 2024-06-29');
  await expect(grid).toHaveAttribute('aria-activedescendant', 'day-2024-06-27');
  await page.keyboard.press('m');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-01 2024-06-30');
  await page.keyboard.press('[');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-05-01 2024-05-31');
  await page.keyboard.press(']');
  await page.keyboard.press('y');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-01-01 2024-12-31');
  await page.keyboard.press('a');
  await expect.poll(() => rangeInAddress(page)).toBe('2022-03-01 2025-02-28');

  await page.keyboard.press('/');
  await page.getByRole('combobox').fill('outage 21 may 2024');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-05-21 2024-05-21');
  await expect(dayRow(page, '2024-05-21')).toBeInViewport();

  await page.keyboard.press('/');
  await page.getByRole('combobox').fill('least solar');
  await expect(page.getByRole('option')).toHaveCount(20);
  const kWh = (await page.getByRole('option').allInnerTexts()).map((text) =>
    Number(/([\d.]+) kWh/.exec(text)![1]),
  );
  expect(kWh).toEqual([...kWh].sort((a, b) => a - b));
  const darkest = (await page.getByRole('option').first().innerText()).split('\n')[0]!;
  await page.keyboard.press('Enter');
  await expect(page.locator('[aria-selected="true"]').first()).toBeInViewport();
  // Its winter: the home lies south of the equator.
  expect(darkest).toMatch(/ (?:May|June|July|August) /);
  await page.keyboard.press('/');
  await page.getByRole('combobox').fill('outage 21 may 2024');
  await page.keyboard.press('Enter');

  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('go to Days, Account, Losses, Wear, Outages, Money');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('g');
  await page.keyboard.press('h');
  await expect(page.getByRole('heading', { level: 1, name: 'Handbook' })).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('d');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-05-21 2024-05-21');

  await grid.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Tuesday, 21 May 2024');
});

test('the range ribbon moves the selection by its edges, by mouse and by key', async ({ page }) => {
  await openDemo(page, JUNE);
  const first = page.getByRole('slider', { name: 'First day of the selection' });
  await first.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(() => rangeInAddress(page)).toBe('2024-06-02 2024-06-30');
  await expect(first).toHaveAttribute('aria-valuetext', 'Sunday, 2 June 2024');
  const last = (await page.getByRole('slider', { name: 'Last day of the selection' }).boundingBox())!;
  await page.mouse.move(last.x + 5, last.y + 20);
  await page.mouse.down();
  await page.mouse.move(last.x + 40, last.y + 20, { steps: 6 });
  await page.mouse.up();
  await expect.poll(() => rangeInAddress(page)).toMatch(/^2024-06-02 2024-07-3\d$|^2024-06-02 2024-08-0\d$/);
});

test(
  'a figure opens its working, line by line, with its source; keys open and close it',
  { tag: '@smoke' },
  async ({ page }) => {
    await openDemo(page, JUNE);
    await page.getByRole('button', { name: /Round trip, full to full/ }).click();
    const working = page.getByRole('region', { name: 'Working: Round trip, full to full' });
    await expect(working).toContainText('÷ charge, same windows');
    await expect(working).toContainText('bootstrap over windows');
    await expect(working).toContainText('netting within a step');
    await expect(working).toContainText('IEC 62933-2-1');
    const lines = await working.getByRole('row').allInnerTexts();
    const number = (label: string) =>
      Number(
        /([\d.]+)\s*(?:kWh|%)/.exec(lines.find((line) => line.includes(label))!.replace(/.*\t/, ''))![1],
      );
    expect((100 * number('discharge in')) / number('÷ charge')).toBeCloseTo(number('round trip, AC'), 0);
    await page.keyboard.press('Escape');
    await expect(working).toBeHidden();
    await page.getByRole('button', { name: /Depth of discharge, nightly mean/ }).focus();
    await page.keyboard.press('w');
    await expect(
      page.getByRole('region', { name: 'Working: Depth of discharge, nightly mean' }),
    ).toContainText('÷ nights');
    await page.getByRole('button', { name: /Self-sufficiency, of solar origin/ }).click();
    await expect(
      page.getByRole('region', { name: 'Working: Self-sufficiency, of solar origin' }),
    ).toContainText('− of grid origin, discharged');
  },
);

test('the two sides of the account are equal at the foot', async ({ page }) => {
  for (const range of [JUNE, ['2023-09-01', '2023-09-30'], ['2022-04-10', '2022-04-20']] as const) {
    if (range === JUNE) await openDemo(page, range);
    else await page.goto(`/h/kauri-bend/days?from=${range[0]}&to=${range[1]}`);
    const account = page.getByRole('group', { name: 'Account of the selection' });
    await expect(account).toContainText('Losses');
    const feet = (await account.innerText()).split('\n').filter((_, i, all) => all[i - 1] === 'kWh');
    expect(feet).toHaveLength(2);
    expect(feet[0]).toBe(feet[1]);
  }
});

test('the roll shows what explains a day, gaps as missing and both configurations', async ({ page }) => {
  await openDemo(page, ['2022-04-14', '2022-04-19']);
  await expect(dayRow(page, '2022-04-17')).toContainText('data missing 24 h');
  await expect(dayRow(page, '2022-04-17').getByRole('gridcell').nth(2)).toHaveText('–');
  await expect(tally(page)).toContainText('1 gap, 53.3 h in all; the longest from 15 April 2022, 22:45');
  await page.goto('/h/kauri-bend/days?from=2023-09-01&to=2023-09-30');
  await expect(dayRow(page, '2023-09-12')).toContainText('from here: three modules');
  await page.getByRole('button', { name: /Full cycles, nameplate/ }).click();
  await expect(page.getByRole('region', { name: /Working: Full cycles/ })).toContainText(
    'cycles, two modules',
  );
  await expect(tally(page)).toContainText(
    'crosses a change of configuration: two modules, then three modules',
  );
});

test('a day shows its course, read out by pointer and by key', async ({ page }) => {
  await openDemo(page);
  await page.goto('/h/kauri-bend/day/2024-05-21');
  await expect(page.getByText('outage 4 h 10 from 19:50')).toBeVisible();
  const slider = page.getByRole('slider', { name: 'Time of day read out' });
  await slider.focus();
  await page.keyboard.press('ArrowRight');
  await expect(slider).toHaveAttribute(
    'aria-valuetext',
    /^12:05: S solar \d+ W, H load \d+ W, G grid .* W, B battery .* W, charge \d+ %$/,
  );
  await page.keyboard.press('PageDown');
  await expect(page.getByRole('heading', { name: '13:05 – 13:10' })).toBeVisible();
  const box = (await slider.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 100);
  await expect(page.getByRole('heading', { level: 2, name: /^1[12]:\d\d – 1[12]:\d\d$/ })).toBeVisible();
  await expect(page.getByText(/Solar first carries the load at \d\d:\d\d/)).toBeVisible();
  await expect(page.getByText(/below the inverter's battery-only rating of 6\.0 kW/)).toBeVisible();
  await page.keyboard.press(']');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Wednesday, 22 May 2024');
  await page.goto('/h/kauri-bend/day/2024-04-07');
  await expect(page.getByText('25 h 00 long')).toBeVisible();
  await page.goto('/h/kauri-bend/day/1999-01-01');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('No such day');
});

/** Every view by its path, and what stands above it. */
const VIEWS = [
  ['summary', 'What the log of Kauri Bend says'],
  ['account', 'Account'],
  ['losses', 'Losses'],
  ['wear', 'Wear'],
  ['outages', 'Outages'],
  ['outages/2024-05-21T07:50:00Z', 'Outage of 21 May 2024, 19:50'],
  ['outage-sheet', 'When the grid is gone: Kauri Bend'],
  ['day/2024-06-12', 'Wednesday, 12 June 2024'],
  ['sources', 'Sources of Kauri Bend'],
  ['system', 'System of Kauri Bend'],
  ['journal', 'Journal of Kauri Bend'],
  ['readings', 'Counter readings of Kauri Bend'],
  ['money', 'Money'],
  ['what-if', 'What-if'],
  ['trials', 'Trials of Kauri Bend'],
  ['report', 'Kauri Bend'],
  ['handbook', 'Handbook'],
  ['settings', 'Settings'],
  ['handbook/glossary', 'Glossary'],
] as const;

// Two of them share the cores, each with every other view.
for (const theme of ['light', 'dark'] as const)
  for (const half of [0, 1]) {
    const views = VIEWS.filter((_, i) => i % 2 === half);
    const named = half === 0 ? 'summary, losses and others' : 'account, wear and others';
    test(`no accessibility violations in the ${theme} theme: ${named}`, async ({ page }) => {
      test.setTimeout(240_000);
      await openDemo(page, JUNE);
      if (theme === 'dark') {
        await page.getByRole('button', { name: 'Change to the dark theme' }).click();
        await expect(page.locator('html')).toHaveClass('dark');
      }
      await expectAccessible(page);
      await page.keyboard.press('?');
      await expect(page.getByRole('dialog')).toBeVisible();
      await expectAccessible(page);
      await page.keyboard.press('Escape');
      for (const [path, heading] of views) {
        await goWithin(page, `/h/kauri-bend/${path}`);
        await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
        await expectAccessible(page);
      }
    });
  }

test('the views fit: no sideways scrolling, no text cut off, no label over another', async ({ page }) => {
  test.setTimeout(240_000);
  await openDemo(page, JUNE);
  for (const path of [...VIEWS.map(([one]) => one), 'days']) {
    await openView(page, `/h/kauri-bend/${path}`);
    // A phone, and a page of 1280 pixels at 200 %, are the two narrow ones.
    for (const width of [390, 640, 1024, 1280, 1600]) {
      await page.setViewportSize({ width, height: 800 });
      // What is longer than the window scrolls within its view, once the charts are drawn at the new width.
      await expect
        .poll(
          () =>
            page.evaluate(() => {
              const { scrollWidth, clientWidth, scrollHeight, clientHeight } = document.documentElement;
              return [scrollWidth - clientWidth, scrollHeight - clientHeight];
            }),
          `${path} at ${width}`,
        )
        .toEqual([0, 0]);
      await expect
        .poll(async () => (await page.locator('#view').boundingBox())?.width ?? 0, `${path} at ${width}`)
        .toBeGreaterThanOrEqual(Math.min(width, 640) - 20);
      await expectReadable(page, `${path} at ${width}`);
    }
  }
});
