import { expect, expectAccessible, openDemo, test } from './fixtures.js';

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
  await expect(page.getByRole('region', { name: 'Days', exact: true })).toContainText('Least sun');
  await page.getByLabel('Heading').fill('June on the hill');
  await page.getByLabel('Remarks').fill('The hail came on the 12th.');
  await page.getByRole('checkbox', { name: 'Money' }).uncheck();
  await expect(page.getByRole('heading', { name: 'June on the hill', level: 1 })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Money', exact: true })).toHaveCount(0);
  await expectAccessible(page);
  for (const paper of ['A4', 'Letter']) {
    await page.getByLabel('Paper').selectOption(paper);
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
});

test('an evidence pack says what is claimed, how it was measured, the files by their checksums, and what it does not prove', async ({
  page,
}) => {
  await openDemo(page, ['2022-03-01', '2025-02-28']);
  await page.goto('/h/kauri-bend/report?from=2022-03-01&to=2025-02-28');
  await page.getByLabel('What it is for').selectOption('Evidence pack');
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
  await expect(page.getByRole('region', { name: 'Estimates of the capacity' })).toContainText(
    'The latest 24 of',
  );
  await expect(page.getByRole('region', { name: 'What this does not prove' })).toContainText('who is liable');
  await page.getByLabel('What it is for').selectOption('Commissioning and service sheet');
  await expect(page.getByRole('region', { name: 'Signatures' })).toContainText('Installer');
  await expectAccessible(page);
});
