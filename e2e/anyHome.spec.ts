import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { canonicalCsv } from '../core/src/bookFile/canonicalCsv.js';
import { endMs, type SourceLog } from '../core/src/model/log.js';
import { prepare } from '../core/src/passes/prepare.js';
import type { System } from '../core/src/system/schema.js';
import { ANY_HOMES, PLURAL_OF_ONE, PROGRAM_WORDS } from '../core/src/testing/anyHomes.js';
import { expectReadable } from './boxes.js';
import { bringLogs, expect, homePath, openView, test } from './fixtures.js';

const folder = mkdtempSync(join(tmpdir(), 'any-home-'));
const VIEWS = [
  ...['summary', 'days', 'account', 'losses', 'wear', 'outages', 'trials', 'money', 'what-if'],
  ...['outage-sheet', 'sources', 'system', 'journal', 'readings', 'report'],
];
/** One that has little of everything; the others are for the long checks. */
const SMOKE = 'one with an outage';

/** Describes a home and brings its log by files, as its owner would. */
async function brought(page: Page, system: System, log: SourceLog): Promise<void> {
  const [home, canonical] = [join(folder, 'home.json'), join(folder, 'log.csv')];
  writeFileSync(home, JSON.stringify(system));
  writeFileSync(canonical, [...canonicalCsv(prepare(system, [log]).log)].join(''));
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(home);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: /^Sources of/ })).toBeVisible();
  await bringLogs(page, canonical);
}

// A log without a single value is refused where it is brought.
for (const [name, system, log] of ANY_HOMES.filter(([known]) => known !== 'one that knows nothing'))
  test(
    `every view of ${name} can be read, and says nothing that a program would`,
    {
      tag: name === SMOKE ? '@smoke' : [],
    },
    async ({ page }) => {
      test.setTimeout(240_000);
      await brought(page, system, log);
      const day = (ms: number) => new Date(ms).toISOString().slice(0, 10);
      const range = `?from=${day(log.startMs)}&to=${day(endMs(log) - 1)}`;
      for (const view of [...VIEWS, `day/${day(log.startMs)}`]) {
        await openView(page, `${homePath(page, view)}${range}`);
        for (const width of [390, 1280]) {
          await page.setViewportSize({ width, height: 800 });
          await expectReadable(page, `${view} at ${width}`);
        }
        const lines = (await page.locator('body').innerText()).split('\n');
        const wrong = lines.filter((line) => PROGRAM_WORDS.test(line) || PLURAL_OF_ONE.test(line));
        expect.soft([view, ...wrong]).toEqual([view]);
      }
    },
  );
