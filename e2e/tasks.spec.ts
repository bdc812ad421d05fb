import type { Locator, Page } from '@playwright/test';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, openDemo, tally, test } from './fixtures.js';

/** What people come for, from the first page to the answer, by keyboard alone; docs/tasks.md lists the same walks. */
const LISTED = readFileSync(fileURLToPath(new URL('../docs/tasks.md', import.meta.url)), 'utf8');
const MOST = 12;

/** Counts what a person does: a press of a button or link, a field typed in, a choice opened and one of it taken, a file. */
class Walk {
  actions = 0;

  constructor(private readonly page: Page) {}

  /** Presses a button or follows a link, which the Tab key has to reach. */
  async press(target: Locator): Promise<void> {
    await this.reach(target);
    await this.page.keyboard.press('Enter');
    this.actions++;
  }

  async type(field: Locator, text: string): Promise<void> {
    await this.reach(field);
    await this.page.keyboard.press('ControlOrMeta+a');
    await this.page.keyboard.type(text);
    this.actions++;
  }

  /** A file is chosen in a window of the system, which no test can open. */
  async file(field: Locator, path: string): Promise<void> {
    await field.setInputFiles(path);
    this.actions++;
  }

  async choose(list: Locator, says: string): Promise<void> {
    await this.reach(list);
    await this.page.keyboard.press(' ');
    const option = this.page.getByRole('option', { name: says });
    await expect(option).toBeVisible();
    await this.page.keyboard.type(says.slice(0, 4));
    await expect(option).toHaveAttribute('data-focus', '');
    await this.page.keyboard.press('Enter');
    this.actions += 2;
  }

  /** Ends a walk: no longer than it may be, and as long as the documents say. */
  ends(task: string): void {
    expect(this.actions).toBeLessThanOrEqual(MOST);
    expect(LISTED).toMatch(new RegExp(`\\| ${task} +\\| ${this.actions} `));
  }

  private async reach(target: Locator): Promise<void> {
    await target.focus();
    const isReached = await target.evaluate(
      (one: HTMLElement) => document.activeElement === one && one.tabIndex >= 0,
    );
    expect(isReached).toBe(true);
  }
}

test('finds out why June was bad in a demo home', { tag: '@smoke' }, async ({ page }) => {
  const walk = new Walk(page);
  await page.goto('/');
  await walk.press(page.getByRole('button', { name: 'Open Kauri Bend' }));
  await walk.press(page.getByRole('link', { name: 'why June 2024 bought the most' }));
  await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText('June 2024');
  await walk.press(tally(page).getByRole('link', { name: 'what the log says' }));
  await expect(page.getByRole('main')).toContainText(/Most is bought in \w+, [\d.]+ kWh a day: /);
  walk.ends('Why was June bad');
});

test('brings a monthly statement', { tag: '@smoke' }, async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'statement-'));
  const path = join(folder, 'statement.csv');
  // Invented for the test: a year of months as a portal hands them out.
  const rows = Array.from(
    { length: 12 },
    (_, m) =>
      `2024-${String(m + 1).padStart(2, '0')},${200 + 30 * Math.min(m, 11 - m)},300,${180 - 20 * Math.min(m, 11 - m)},${80 + 10 * Math.min(m, 11 - m)}`,
  );
  writeFileSync(path, `Month,Solar (kWh),Consumption (kWh),Import (kWh),Export (kWh)\n${rows.join('\n')}\n`);
  const walk = new Walk(page);
  await page.goto('/');
  await walk.press(page.getByRole('link', { name: 'Bring your own log' }));
  await walk.type(page.getByLabel('Name', { exact: true }), 'Mill Lane');
  await walk.press(page.getByRole('button', { name: 'Save, then bring a log' }));
  await walk.file(page.getByLabel('Drop log files here, or choose them'), path);
  await walk.press(page.getByRole('button', { name: /^Import 1 log/ }));
  await walk.press(page.getByRole('link', { name: 'See what it says' }));
  await expect(
    page.getByRole('heading', { level: 1, name: /^What the log of Mill Lane says/ }),
  ).toBeVisible();
  // By hand: of 3,600 kWh 1,560 were bought, 1 − 1560 ÷ 3600.
  await expect(page.getByRole('main')).toContainText('56.7 %');
  walk.ends('What does a monthly statement say');
});

test('prepares for a storm', { tag: '@smoke' }, async ({ page }) => {
  await openDemo(page);
  const walk = new Walk(page);
  await walk.press(page.getByRole('link', { name: 'What-if' }));
  const storm = page.getByRole('region', { name: 'Before a storm' });
  await walk.type(storm.getByLabel('The storm is expected on'), '3 Dec 2026, 18:00');
  await walk.press(storm.getByRole('button', { name: 'Make the plan' }));
  await expect(storm).toContainText(/Begin to charge \d+ h before/, { timeout: 60_000 });
  await walk.press(page.getByRole('link', { name: 'Outages', exact: true }));
  await walk.press(page.getByRole('link', { name: /outage sheet/i }));
  await expect(page.getByRole('button', { name: /^Print/ })).toBeVisible();
  walk.ends('Am I ready for a storm');
});

test('tests the capacity', { tag: '@smoke' }, async ({ page }) => {
  await openDemo(page);
  const walk = new Walk(page);
  await walk.press(page.getByRole('link', { name: 'Trials' }));
  await walk.press(page.getByRole('button', { name: 'Begin: Drawdown' }));
  const form = page.getByRole('form', { name: 'A new reading' });
  await walk.type(form.getByLabel('charge, %', { exact: true }), '100');
  await walk.type(form.getByLabel('discharge counter, kWh', { exact: true }), '760.1');
  await walk.press(form.getByRole('button', { name: 'Write down' }));
  await expect(page.getByRole('region', { name: 'Readings' })).toContainText('760.1');
  // The second reading is of the next morning.
  await page.clock.setSystemTime(Date.now() + 9 * 3_600_000);
  await page.reload();
  await walk.type(form.getByLabel('charge, %', { exact: true }), '40');
  await walk.type(form.getByLabel('discharge counter, kWh', { exact: true }), '768');
  await walk.press(form.getByRole('button', { name: 'Write down' }));
  await expect(page.getByRole('region', { name: 'Result' })).toContainText('of the expected energy came out');
  await walk.press(page.getByRole('button', { name: 'End the trial' }));
  await expect(page.getByRole('list', { name: 'Afterwards' })).toBeVisible();
  walk.ends('Does it still hold what it should');
});

test('explains a portal’s 98 %', { tag: '@smoke' }, async ({ page }) => {
  await openDemo(page, ['2024-01-01', '2024-12-31']);
  const walk = new Walk(page);
  await walk.press(page.getByRole('link', { name: 'Account', exact: true }));
  const stated = page.getByRole('region', { name: 'What somebody else states' });
  await walk.type(stated.getByRole('textbox'), '98');
  await expect(stated.getByRole('listitem').first()).toContainText(/\d %/);
  walk.ends('Why does the portal say 98 %');
});

test('hands evidence to a warranty desk', { tag: '@smoke' }, async ({ page }) => {
  await openDemo(page, ['2022-03-01', '2025-02-28']);
  await page.evaluate(() => (window.print = () => document.body.setAttribute('data-printed', 'yes')));
  const walk = new Walk(page);
  await walk.press(page.getByRole('link', { name: 'Report' }));
  await walk.choose(page.getByLabel('What it is for'), 'Evidence pack');
  await walk.type(
    page.getByLabel('What is claimed, with the clauses of the warranty'),
    'Clause 4: 70 % after ten years.',
  );
  await expect(page.getByRole('region', { name: 'What is claimed' })).toContainText('Clause 4');
  await expect(page.getByRole('region', { name: 'What this does not prove' })).toBeVisible();
  await walk.press(page.getByRole('button', { name: /^Print/ }));
  await expect(page.locator('body')).toHaveAttribute('data-printed', 'yes');
  walk.ends('What can the warranty desk be given');
});
