import { expect, expectAccessible, openDemo, tally, test } from './fixtures.js';

test('the Handbook has a page a topic, is searched, and every figure’s working leads into it', async ({
  page,
}) => {
  await openDemo(page);
  await tally(page).locator('[data-figure="losses.roundTrip.fullToFull"]').click();
  await tally(page).getByRole('link', { name: 'In the Handbook: Round trip' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Round trip' })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Round trip, full to full/ })).toBeInViewport();
  await expect(page.getByRole('row', { name: /^Round trip, full to full/ })).toContainText('IEC 62933-2-1');
  const picture = page.getByRole('img', { name: /in the demo home\.$/ });
  await picture.scrollIntoViewIfNeeded();
  await expect.poll(() => picture.evaluate((image) => (image as HTMLImageElement).naturalWidth)).toBe(1280);
  await expectAccessible(page);

  const pages = page.getByRole('navigation', { name: 'Pages of the Handbook' });
  await pages.getByLabel('Search the Handbook').fill('rainflow');
  await expect(page.getByRole('status')).toHaveText(/^\d+ found$/);
  await expectAccessible(page);
  await page.getByRole('main').getByRole('link', { name: 'rainflow', exact: true }).press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Glossary' })).toBeVisible();
  await expect(page.getByText('Counting of swings as fatigue counts them')).toBeInViewport();
  await pages.getByLabel('Search the Handbook').fill('perpetual motion');
  await expect(page.getByRole('status')).toHaveText('Nothing of it is in the Handbook. Try one word of it.');
  await pages.getByRole('link', { name: 'Before you begin' }).press('Enter');
  await expect(page.getByText(/Never feed a dead grid/)).toBeVisible();
  await page.getByRole('main').getByRole('link', { name: 'Three schools of self-sufficiency' }).click();
  await expect(page.getByText(/By the meter: one less import over load/)).toBeVisible();
});
