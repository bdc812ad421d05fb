import type { Page } from '@playwright/test';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { CORPUS_HOME } from '../core/src/testing/shape.js';
import { bringLogs, expect, goWithin, homePath, openDemo, rangeInAddress, tally, test } from './fixtures.js';

const VIEWS = [
  'summary',
  'account',
  'losses',
  'wear',
  'outages',
  'trials',
  'money',
  'what-if',
  'sources',
  'journal',
  'report',
];
/** A task of the page’s own thread that is longer than this has gone through ten years of something. */
const MOST_MS = 400;

/** Measures and prints; it asserts what was drawn, not how fast this machine is. */
test('a changed range on three years is redrawn; how long it takes is printed', async ({ page }) => {
  await openDemo(page, ['2024-06-01', '2024-06-30']);
  await page.evaluate(() => {
    const long: number[] = [];
    new PerformanceObserver((list) =>
      long.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({ entryTypes: ['longtask'] });
    Object.assign(window, { longTasks: long });
  });
  const title = tally(page).getByRole('heading', { level: 1 });
  await page.getByRole('grid').focus();
  // A reader rests on what he asked for before he asks for more; one who leafs does not.
  for (const [reader, restMs] of [
    ['at rest', 700],
    ['leafing', 60],
  ] as const) {
    const { framesMs, busyMs } = await redraws(page, restMs);
    console.log(
      `from a key that changes the range to the frame that shows its figures, ${reader}, ms: ${inOrder(framesMs)}`,
    );
    // A borrowed processor stands still now and then; the thread's own clock does not count that.
    console.log(`  processor time of the page's thread meanwhile, ms: ${inOrder(busyMs)}`);
  }
  const long = await page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks);
  console.log(
    `tasks over 50 ms meanwhile: ${long.length === 0 ? 'none' : long.map((ms) => `${ms.toFixed(0)} ms`).join(', ')}`,
  );
  await page.keyboard.press('a');
  await expect(title).toHaveText('1 March 2022 – 28 February 2025');
  await expect.poll(() => rangeInAddress(page)).toBe('2022-03-01 2025-02-28');
});

function inOrder(ms: readonly number[]): string {
  return [...ms]
    .sort((a, b) => a - b)
    .map((one) => one.toFixed(0))
    .join(', ');
}

/** Goes through ranges by key, checks what each shows, and times it. */
async function redraws(page: Page, restMs: number) {
  const framesMs: number[] = [];
  const busyMs: number[] = [];
  const devTools = await page.context().newCDPSession(page);
  await devTools.send('Performance.enable', { timeDomain: 'threadTicks' });
  const threadMs = async () => {
    const { metrics } = await devTools.send('Performance.getMetrics');
    return metrics.find(({ name }) => name === 'TaskDuration')!.value * 1000;
  };
  for (const [key, expected] of [
    ['a', '1 March 2022 – 28 February 2025'],
    ['y', '2025'],
    ['[', '2024'],
    ['[', '2023'],
    ['m', 'December 2023'],
    ['a', '1 March 2022 – 28 February 2025'],
    ['ArrowDown', 'Thursday, 27 February 2025'],
  ] as const) {
    // From the key until the frame that shows the new title has been painted, inside the page.
    const took = page.evaluate((text) => {
      const heading = () => document.querySelector('aside h1')?.textContent;
      if (heading() === text) return 0;
      return new Promise<number>((resolve) => {
        const listen = () => {
          const start = performance.now();
          const watch = new MutationObserver(() => {
            if (heading() !== text) return;
            watch.disconnect();
            requestAnimationFrame(() => {
              const painted = new MessageChannel();
              painted.port1.onmessage = () => resolve(performance.now() - start);
              painted.port2.postMessage(null);
            });
          });
          watch.observe(document.body, { subtree: true, childList: true, characterData: true });
        };
        document.addEventListener('keydown', listen, { once: true, capture: true });
      });
    }, expected);
    await page.waitForTimeout(restMs);
    const before = await threadMs();
    await page.keyboard.press(key);
    framesMs.push(await took);
    busyMs.push((await threadMs()) - before);
    await expect(tally(page).getByRole('heading', { level: 1 })).toHaveText(expected);
  }
  await devTools.detach();
  return { framesMs, busyMs };
}

test('three years scroll with few lines in the page at any time', async ({ page }) => {
  await openDemo(page);
  const grid = page.getByRole('grid');
  for (let turn = 0; turn < 12; turn++) {
    await grid.evaluate((element, y) => element.scrollTo(0, y), turn * 2600);
    await expect(grid.locator('[id^="day-"]').first()).toBeVisible();
    expect(await grid.getByRole('row').count()).toBeLessThan(80);
  }
});

test('ten years: every view opens without holding the page up; its longest task is printed', async ({
  page,
}) => {
  test.setTimeout(300_000);
  await page.addInitScript(() => {
    const tasks: number[] = [];
    new PerformanceObserver((list) =>
      tasks.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({ entryTypes: ['longtask'] });
    Object.assign(window, { longTasks: tasks });
  });
  const longest = () =>
    page.evaluate(() => {
      const { longTasks } = window as unknown as { longTasks: number[] };
      return Math.round(Math.max(0, ...longTasks.splice(0)));
    });
  const folder = mkdtempSync(join(tmpdir(), 'long-tally-'));
  const system = join(folder, 'home.json');
  const [built] = CORPUS_HOME.configurations!;
  writeFileSync(
    system,
    JSON.stringify({ ...CORPUS_HOME, configurations: [{ ...built, from: '2014-01-01T00:00:00Z' }] }),
  );
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: /^Sources of/ })).toBeVisible();
  const log = join(folder, 'ten-years.csv');
  writeFileSync(log, tenYears());
  await bringLogs(page, log);
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(tally(page).getByRole('heading', { level: 1 })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('grid').focus();
  await page.keyboard.press('a');
  await expect(tally(page)).toContainText('3,652 days', { timeout: 60_000 });
  const range = new URL(page.url()).search;
  await longest();
  const told: [view: string, ms: number][] = [];
  for (const view of [...VIEWS, 'days']) {
    await goWithin(page, `${homePath(page, view)}${range}`);
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
    // What is drawn later, when its figures have come, belongs to the view as well.
    await page.waitForTimeout(4000);
    told.push([view, await longest()]);
  }
  console.log(
    `longest task of a view over ten years, ms (0: none over 50): ${told.map(([view, ms]) => `${view} ${ms}`).join(', ')}`,
  );
  // Not how fast this machine is, but that nothing goes through all of it on the page's own thread.
  for (const [view, ms] of told) expect([view, ms < MOST_MS]).toEqual([view, true]);
});

/** A log of ten years by the quarter of an hour, in the canonical shape. */
function tenYears(): string {
  const lines = ['time,solar_w,load_w,grid_w,battery_w,soc_pct'];
  let stored = 5000;
  for (let i = 0; i < 3652 * 96; i++) {
    const hour = (i / 4) % 24;
    const season = 1 + 0.5 * Math.sin((2 * Math.PI * i) / 35_064);
    const solar = Math.max(
      0,
      3000 * season * Math.sin((Math.PI * (hour - 6)) / 12) * (0.4 + ((i >> 7) % 7) / 10),
    );
    const load = 350 + ((i * 7919) % 811) + (hour > 17 && hour < 22 ? 700 : 0);
    const net = load - solar;
    const battery = net < 0 ? Math.max(net, (stored - 10_000) * 4) : Math.min(net, stored * 4);
    stored -= battery / 4 / (battery > 0 ? 0.95 : 1 / 0.95);
    stored = Math.min(10_000, Math.max(0, stored));
    lines.push(
      `${new Date(Date.UTC(2014, 0, 1) + i * 900_000).toISOString()},${solar.toFixed(0)},${load},${(net - battery).toFixed(0)},${battery.toFixed(0)},${(stored / 100).toFixed(1)}`,
    );
  }
  return lines.join('\n');
}
