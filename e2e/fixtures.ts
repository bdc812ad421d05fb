import AxeBuilder from '@axe-core/playwright';
import { expect, test as base, type Locator, type Page } from '@playwright/test';
import { fillStore } from './demoStore.js';

/** Every test fails on an error in the console, a broken page, or a request to any other host. */
export const test = base.extend<{ quiet: undefined }>({
  quiet: [
    async ({ page, baseURL }, use) => {
      const faults: string[] = [];
      page.on('console', (message) => {
        if (message.type() === 'error') faults.push(`console: ${message.text()}`);
      });
      page.on('pageerror', (error) => faults.push(`page: ${error.message}`));
      page.on('request', (request) => {
        const url = request.url();
        if (!url.startsWith(baseURL!) && !/^(data|blob):/.test(url)) faults.push(`request: ${url}`);
      });
      await use(undefined);
      expect(faults).toEqual([]);
    },
    { auto: true },
  ],
});

/** As {@link test}, for what goes wrong on purpose: the browser's own words on it are no fault of the page. */
export const faultTest = base;

export { expect };

/** Opens the demo home, which was imported before, at a range if one is given. */
export async function openDemo(page: Page, range?: readonly [from: string, to: string]): Promise<void> {
  await fillStore(page);
  await page.goto(`/h/kauri-bend/days${range ? `?from=${range[0]}&to=${range[1]}` : ''}`);
  await expect(tally(page).getByRole('heading', { level: 1 })).toBeVisible();
}

/** Goes to another address within the application, as its links do: what it holds in memory stays. */
export async function goWithin(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state: null }));
  }, path);
}

/** Goes to another view within the application and waits until it stands there with what it draws up. */
export async function openView(page: Page, path: string): Promise<void> {
  // The view that is left stays until the next one can be shown.
  await page.locator('#view').evaluate((left) => left.setAttribute('data-left', ''));
  await goWithin(page, path);
  await expect(page.locator('#view:not([data-left])')).toBeVisible();
  await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: /…$/ })).toHaveCount(0);
}

/** The tally beside the roll. */
export function tally(page: Page) {
  return page.getByRole('complementary', { name: 'Tally of the selection' });
}

/** The line of a day in the roll. */
export function dayRow(page: Page, date: string) {
  return page.locator(`#day-${date}`);
}

/** First and last day in the address. */
export function rangeInAddress(page: Page): string {
  const { searchParams } = new URL(page.url());
  return `${searchParams.get('from') ?? ''} ${searchParams.get('to') ?? ''}`;
}

/** Fails on any violation of WCAG 2.2 A and AA, or of axe's best practices, on the page as it stands. */
export async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(
    violations.map(
      ({ id, nodes }) =>
        `${id}: ${nodes.map(({ html, failureSummary }) => `${html.slice(0, 160)} ${failureSummary ?? ''}`).join(' | ')}`,
    ),
  ).toEqual([]);
}

/** Brings files into the open Sources view; what they are taken for is confirmed as it was found. */
export async function bringLogs(page: Page, files: string | readonly string[]): Promise<void> {
  await page
    .getByLabel('Drop log files here, or choose them')
    .setInputFiles(typeof files === 'string' ? files : [...files]);
  await page.getByRole('button', { name: /^Import [\d,]+ logs?/ }).click();
  await expect(page.getByText(/is imported\./).first()).toBeVisible();
}

/** A path of the home that is open; homes bear ids of their own. */
export function homePath(page: Page, view: string): string {
  return `/h/${new URL(page.url()).pathname.split('/')[2]!}/${view}`;
}

/** Chooses one of a list by what it says. */
export async function choose(list: Locator, says: string | RegExp): Promise<void> {
  await list.press('Space');
  await list.page().getByRole('option', { name: says, exact: true }).click();
}
