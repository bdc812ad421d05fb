import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strToU8 } from 'fflate';
import type { Page } from '@playwright/test';
import { SHAPES } from '../core/src/testing/corpus.js';
import { CORPUS_HOME, series, type Interval } from '../core/src/testing/shape.js';
import { expect, tally } from './fixtures.js';

/** Where files are written for a browser to bring. */
export const folder = mkdtempSync(join(tmpdir(), 'keeping-'));

/** The corpus home over twelve days, by the quarter of an hour. */
export const list = series(Date.UTC(2024, 4, 3) - 3_600_000, 12, 15);

/** Writes a file; @returns its path */
export function file(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

/** The home's log in a shape of the corpus. */
export const written = (name: string, change = (one: Interval): Interval => one) => {
  const content = SHAPES.find((shape) => shape.name === name)!.write(list.map(change));
  return typeof content === 'string' ? strToU8(content) : content;
};

/** A canonical log of it, and the same in two halves. */
export const log = file('canonical.csv', written('canonical'));

export const zip = file('halves.zip', written('a zip of two halves'));

/** Watts in kW. */
export const kilowatts = (w: number) => w / 1000;

/** Describes the corpus home, as a new user would. */
export async function corpusHome(page: Page): Promise<void> {
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(file('home.json', JSON.stringify(CORPUS_HOME)));
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Corpus home' })).toBeVisible();
}

/** Where log files are brought. */
export const chooser = (page: Page) => page.getByLabel('Drop log files here, or choose them');

/** The figures of the view that is open, as they stand there. */
export async function figures(page: Page): Promise<(string | null)[]> {
  await expect(tally(page).getByRole('heading', { level: 1 })).toBeVisible({ timeout: 45_000 });
  return page.locator('[data-figure]').allTextContents();
}
