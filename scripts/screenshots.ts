/** Takes the pictures of docs/screenshots from the demo homes, at 1280 × 800. The application has to be built. */
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../e2e/browser.js';

const PORT = '41791';
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const folder = here('../docs/screenshots/');
mkdirSync(folder, { recursive: true });

const server = spawn(process.execPath, ['--import', 'tsx', here('../server/src/main.ts'), '--demo'], {
  env: { ...process.env, PORT },
});
await new Promise<void>((resolve) => {
  server.stdout.on('data', (text: Buffer) => {
    if (text.toString().includes('Ctrl+C')) resolve();
  });
});
const browser = await chromium.launch({
  executablePath: CHROMIUM,
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page: Page = await browser.newPage({
  viewport: { width: 1280, height: 800 },
  baseURL: `http://127.0.0.1:${PORT}`,
});

async function shot(name: string, path?: string, before?: () => Promise<unknown>): Promise<void> {
  if (path) await page.goto(path);
  await page.getByRole('heading', { level: 1 }).first().waitFor();
  await before?.();
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${folder}${name}.png` });
}

await shot('welcome', '/', () => page.getByRole('region', { name: 'What you get' }).waitFor());
await page.getByRole('button', { name: 'Open Kauri Bend' }).click();
await page.waitForURL(/\/days/, { timeout: 60_000 });
// What to look at here is closed, so that the views stand as one works with them.
await page.getByRole('button', { name: 'Close what to look at' }).click();
await page.getByRole('grid').waitFor();
const month = '/h/kauri-bend/days?from=2024-09-01&to=2024-09-30';
await shot('days', month);
await shot('account', '/h/kauri-bend/account?from=2024-01-01&to=2024-12-31');
await shot('losses', '/h/kauri-bend/losses?from=2024-01-01&to=2024-12-31', () =>
  page.getByRole('img', { name: /^Round trip/ }).waitFor(),
);
await shot('wear', '/h/kauri-bend/wear?from=2022-03-01&to=2025-02-28', () =>
  page.getByRole('img', { name: /^Capacity from/ }).waitFor(),
);
await shot('outages', '/h/kauri-bend/outages?from=2022-03-01&to=2025-02-28', () =>
  page.getByRole('img', { name: /^Share of starts/ }).waitFor(),
);
await shot('outage-sheet', '/h/kauri-bend/outage-sheet?from=2024-03-01&to=2025-02-28', () =>
  page.getByRole('article').waitFor(),
);
await shot('day', '/h/kauri-bend/day/2024-05-21', async () => {
  await page.getByRole('slider', { name: /Time of day/ }).hover({ position: { x: 640, y: 120 } });
});
await shot('money', '/h/kauri-bend/money?from=2022-03-01&to=2025-02-28', () =>
  page.getByRole('region', { name: 'What saved what' }).waitFor(),
);
await shot('what-if', '/h/kauri-bend/what-if?from=2024-01-01&to=2024-12-31', () =>
  page.getByRole('region', { name: 'Differences of scenarios' }).waitFor({ timeout: 60_000 }),
);
await shot('report', '/h/kauri-bend/report?from=2024-06-01&to=2024-06-30', () =>
  page.getByRole('region', { name: 'Energy', exact: true }).waitFor({ timeout: 60_000 }),
);
await shot('evidence-pack', undefined, async () => {
  await page.getByLabel('What it is for').press('Space');
  await page.getByRole('option', { name: 'Evidence pack' }).click();
  await page.getByRole('region', { name: 'How it was measured' }).waitFor({ timeout: 60_000 });
});
await page.goto('/h/kauri-bend/trials');
await page.getByRole('button', { name: 'Begin: Drawdown' }).click();
const reading = page.getByRole('form', { name: 'A new reading' });
for (const [at, charge, out] of [
  ['2025-03-10T20:00', '100', '760.1'],
  ['2025-03-11T04:00', '40', '768.0'],
] as const) {
  await reading.getByLabel('Read at').fill(at);
  await reading.getByLabel('charge, %').fill(charge);
  await reading.getByLabel('discharge counter, kWh').fill(out);
  await reading.getByLabel('charge counter, kWh', { exact: true }).fill('812.4');
  await reading.getByRole('button', { name: 'Write down' }).click();
  await page.waitForTimeout(300);
}
await shot('trial', undefined, () => page.getByText('all 3 units deliver').waitFor());
await shot('system', '/h/kauri-bend/system');
await shot('handbook', '/h/kauri-bend/handbook');
await page.goto('/h/kauri-bend/days?from=2024-05-20&to=2024-05-21');
await page.getByRole('grid').waitFor();
await page.keyboard.press('n');
await page.getByLabel(/In your words/).fill('gale warning: charged to full the night before');
await page.keyboard.press('Enter');
await page.getByRole('dialog').waitFor({ state: 'detached' });
await shot('journal', '/h/kauri-bend/journal');
await page.goto('/?choose');
await page.getByRole('button', { name: 'Open Casa da Azenha' }).click();
await page.waitForURL(/casa-da-azenha\/days/, { timeout: 60_000 });
await page.getByRole('button', { name: 'Close what to look at' }).click();
await shot('sources', '/h/casa-da-azenha/sources', () =>
  page.getByText('What is known on which day').waitFor(),
);
await shot('homes', '/homes', async () => {
  await page.getByText(/^Adding up/).waitFor();
  await page.getByText(/^Adding up/).waitFor({ state: 'detached', timeout: 60_000 });
});
await page.goto('/new');
await page.getByLabel(/system file/).setInputFiles(here('../demo/homes/koca-pod-skalo/system.json'));
await page.getByRole('button', { name: 'Save, then bring a log' }).click();
await shot('review', undefined, async () => {
  await page
    .getByLabel('Drop log files here, or choose them')
    .setInputFiles(here('../demo/homes/koca-pod-skalo/koca-pod-skalo.zip'));
  await page.getByRole('region', { name: 'What will be imported' }).waitFor({ timeout: 30_000 });
  await page.getByRole('region', { name: /^Columns of/ }).scrollIntoViewIfNeeded();
});
await browser.close();
server.kill();
