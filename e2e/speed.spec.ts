import type { Page } from '@playwright/test';
import { expect, openDemo, rangeInAddress, tally, test } from './fixtures.js';

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
