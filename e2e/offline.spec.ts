import { zip } from './corpusFiles.js';
import { bringLogs, expect, openDemo, test } from './fixtures.js';

test.use({ serviceWorkers: 'allow' });

test('with the server stopped every view opens and nothing is asked elsewhere', async ({ page, context }) => {
  await openDemo(page, ['2024-06-01', '2024-06-30']);
  // The application is kept once it is loaded; the second visit is answered by what is kept.
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await page.reload();
  await expect.poll(() => page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true);
  await context.setOffline(true);
  for (const [view, heading] of [
    ['days', 'June 2024'],
    ['account', 'Account'],
    ['losses', 'Losses'],
    ['wear', 'Wear'],
    ['outages', 'Outages'],
    ['trials', 'Trials'],
    ['money', 'Money'],
    ['what-if', 'What-if'],
    ['sources', 'Sources of Kauri Bend'],
    ['system', 'System'],
    ['report', 'Kauri Bend'],
    ['outage-sheet', /./],
    ['handbook', 'Handbook'],
    ['journal', 'Journal of Kauri Bend'],
  ] as const) {
    await page.goto(`/h/kauri-bend/${view}?from=2024-06-01&to=2024-06-30`);
    await expect(page.getByRole('heading', { level: 1, name: heading }).first()).toBeVisible({
      timeout: 60_000,
    });
  }
  // What reads an archive comes with the first of them, and is kept too.
  await page.goto('/h/kauri-bend/sources');
  await bringLogs(page, zip);
});

test('the application can be installed: it has a manifest with its icons', async ({ page, request }) => {
  await page.goto('/');
  const href = await page.locator('link[rel="manifest"]').getAttribute('href');
  const manifest = (await (await request.get(href!)).json()) as {
    name: string;
    icons: { src: string; sizes: string }[];
  };
  expect(manifest.name).toBe('Long Tally');
  for (const { src, sizes } of manifest.icons) {
    const response = await request.get(src);
    expect([src, response.status(), sizes.length > 0]).toEqual([src, 200, true]);
  }
});
