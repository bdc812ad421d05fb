import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import type { Page } from '@playwright/test';
import { bringLogs, choose, expect, expectAccessible, homePath, tally, test } from './fixtures.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'own-log-'));

function file(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

/** Ten days of an invented home at 15 minutes. */
function csv(days = 10): string {
  const rows = Array.from({ length: days * 96 }, (_, i) => {
    const hour = (i % 96) / 4;
    const solar = Math.round(Math.max(0, 3500 * Math.sin((Math.PI * (hour - 6)) / 12)));
    const load = 400 + ((i * 37) % 900);
    const battery = Math.max(-1500, Math.min(1500, load - solar));
    const soc = Math.round(50 + 45 * Math.sin((Math.PI * (hour - 10)) / 12));
    return `${new Date(Date.UTC(2024, 4, 1) + i * 900_000).toISOString()},${solar},${load},${load - solar - battery},${battery},${soc}`;
  });
  return `time,solar_w,load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`;
}

async function describeHome(page: Page): Promise<void> {
  await page.goto('/new');
  await page.getByLabel('Name', { exact: true }).fill('Mill Lane');
  await expect(page.getByLabel('Time zone')).toHaveValue('Europe/Lisbon');
  await page.getByRole('button', { name: 'Add a configuration' }).click();
  await page.getByLabel('Holds from').fill('2024-01-01T00:00');
  await page.getByLabel('Battery modules, count').fill('2');
  await page.getByLabel('Each, nameplate, kWh').fill('5');
  await page.getByLabel('Usable share, %').fill('90');
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Mill Lane' })).toBeVisible();
}

/** Drops a file as a hand does; unlike the button, that can be done at any time. */
async function drop(page: Page, name: string, content: string): Promise<void> {
  const dataTransfer = await carried(page, [name, content]);
  await page.getByText('Drop log files here, or choose them').dispatchEvent('drop', { dataTransfer });
}

/** Files as a hand carries them. */
function carried(page: Page, ...files: (readonly [name: string, content: string])[]) {
  return page.evaluateHandle((all) => {
    const data = new DataTransfer();
    for (const [called, text] of all) data.items.add(new File([text], called, { type: 'text/csv' }));
    return data;
  }, files);
}

const chooser = (page: Page) => page.getByLabel('Drop log files here, or choose them');

test(
  'a user’s own log gives the figures that the command line gives',
  { tag: '@smoke' },
  async ({ page }) => {
    const log = file('mill-lane.csv', csv());
    await describeHome(page);
    await chooser(page).setInputFiles(log);
    await expect(
      page.getByText(
        '960 rows over 10.0 days, 1 May 2024 to 11 May 2024; solar, load, grid, battery, state of charge.',
      ),
    ).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Import 1 log' }).click();
    await expect(page.getByText('mill-lane.csv is imported.')).toBeVisible();
    // A page of what it says, each line leading to its view.
    await page.getByRole('link', { name: 'See what it says' }).press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('What the log of');
    await expect(page.getByRole('region', { name: 'How self-sufficient the home is' })).toContainText(/\d %/);
    await expect(page.getByRole('region', { name: 'What would tell more' })).toBeVisible();
    await expectAccessible(page);
    await page.goBack();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page
        .goto(homePath(page, 'system'))
        .then(() => page.getByRole('button', { name: 'Save as a system file' }).click()),
    ]);
    const system = join(folder, 'mill-lane.system.json');
    await download.saveAs(system);
    const printed = execFileSync(
      process.execPath,
      [join(root, 'cli/tally.mjs'), 'analyse', '--system', system, '--log', log],
      { cwd: root, encoding: 'utf8' },
    );
    const { figures } = JSON.parse(printed) as { figures: Record<string, { value: number | null }> };

    await page.goto(homePath(page, 'days?from=2024-05-01&to=2024-05-11'));
    await expect(tally(page).getByRole('heading', { level: 1 })).toBeVisible();
    for (const [key, name, scale, unit] of [
      ['account.selfSufficiency.grid', 'Self-sufficiency, by the meter', 100, '%'],
      ['account.selfConsumption', 'Self-consumption', 100, '%'],
      ['wear.efc.nameplate', 'Full cycles, nameplate', 1, 'cycles'],
      ['wear.throughput', 'Throughput', 1, 'kWh'],
    ] as const) {
      const shown = (figures[key]!.value! * scale).toFixed(1);
      await expect(page.locator(`[data-figure="${key}"]`).first()).toContainText(`${name}${shown} ${unit}`);
    }
  },
);

test('a dropped file, a gzipped file and the same file again', async ({ page }) => {
  await describeHome(page);
  await drop(page, 'dropped.csv', csv(3));
  await expect(page.getByText('288 rows over 3.0 days')).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  const later = csv(6).split('\n');
  const packed = file('later.csv.gz', new Uint8Array(gzipSync([later[0], ...later.slice(289)].join('\n'))));
  await bringLogs(page, packed);
  await expect(page.getByRole('article', { name: 'later.csv.gz' })).toBeVisible();
  await chooser(page).setInputFiles(packed);
  await expect(page.getByText('later.csv.gz is here already')).toBeVisible();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Mon 6 May/ })).toBeVisible();
});

test('what cannot be used is refused in words, and everything stored before is still there', async ({
  page,
}) => {
  await describeHome(page);
  await bringLogs(page, file('good.csv', csv(2)));
  await expect(page.getByRole('article', { name: 'good.csv' })).toBeVisible();
  const header = 'time,solar_w,load_w\n';
  const cases: readonly (readonly [string, string | Uint8Array, RegExp])[] = [
    ['empty.csv', '', /empty\.csv: The file is empty/],
    ['header.csv', header, /header row but no row of data/],
    [
      'notime.csv',
      'kettle,solar_w\n4,5\n7,6\n',
      /No row holds a time and a number beside it.*Bring a table with a row for each interval/,
    ],
    ['page.csv', '<!DOCTYPE html><html><body>sign in</body></html>', /web page, not a log/],
    ['binary.csv', Uint8Array.from({ length: 400 }, (_, i) => i % 7), /binary data, not text/],
    [
      'words.csv',
      `${header}2024-01-01T00:00:00Z,a,b\n2024-01-01T00:05:00Z,c,d\n`,
      /Not one value can be read/,
    ],
    ['cut.csv.gz', new Uint8Array(gzipSync(csv(2))).slice(0, 900), /damaged or cut short/],
  ];
  await chooser(page).setInputFiles(cases.map(([name, content]) => file(name, content)));
  for (const [name, , message] of cases) {
    const refusal = page
      .getByRole('alert')
      .filter({ hasText: `${name} was not imported. Everything stored before is still there.` });
    await expect(refusal).toContainText(message);
  }
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByRole('article')).toHaveCount(1);
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Thu 2 May/ })).toBeVisible();
});

test('faults within a usable log are told with their line', async ({ page }) => {
  await describeHome(page);
  const lines = csv(2).split('\n');
  lines[3] = lines[3]!.replace(/,\d+,/, ',N/A,');
  lines.splice(9, 0, lines[5]!);
  await bringLogs(page, file('faulty.csv', lines.join('\n')));
  const outcome = page
    .getByText(/1 value is not a number and is taken as missing; first on line 4, column solar_w: N\/A/)
    .first();
  await expect(outcome).toBeVisible();
  await expect(
    page.getByText(/The time goes backwards once, on line 10; the rows are sorted/).first(),
  ).toBeVisible();
  await expect(page.getByText(/1 row bears the time of another row/).first()).toBeVisible();
});

test('a log of 300 MB shows its progress, is cancelled, and leaves nothing behind; one without lines is refused', async ({
  page,
}) => {
  const path = join(folder, 'large.csv');
  const out = openSync(path, 'w');
  writeSync(out, 'time,solar_w,load_w,grid_w,battery_w,soc_pct\n');
  let ms = Date.UTC(2014, 0, 1);
  for (let written = 0; written < 300e6;) {
    const lines = Array.from(
      { length: 20_000 },
      () => `${new Date((ms += 60_000)).toISOString().slice(0, 19)}Z,1234.5,678.9,-12.3,-543.3,56.7\n`,
    ).join('');
    written += writeSync(out, lines);
  }
  closeSync(out);
  const blob = join(folder, 'blob.csv');
  writeFileSync(blob, new Uint8Array(300e6).fill(97));
  await describeHome(page);
  await chooser(page).setInputFiles(path);
  await expect(page.getByText(/(Looking at|Reading) large\.csv: [1-9]\d* %/)).toBeVisible();
  await drop(page, 'meanwhile.csv', csv(1));
  await expect(
    page.getByText('meanwhile.csv: not taken, since large.csv is still being read.'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText('large.csv: cancelled; nothing of it was stored.')).toBeVisible();
  await expect(page.getByText('No log yet.')).toBeVisible();
  await chooser(page).setInputFiles(blob);
  await expect(page.getByRole('alert')).toContainText('no line end within the first million characters');
  await page.reload();
  await expect(page.getByText('No log yet.')).toBeVisible();
});

test(
  'the system form refuses what no home can have and forgets nothing typed',
  { tag: '@smoke' },
  async ({ page }) => {
    await page.goto('/new');
    await page.getByLabel('Name', { exact: true }).fill('Mill Lane');
    await page.getByLabel('Time zone').fill('Mars/Olympus');
    await page.getByRole('button', { name: 'Add a configuration' }).click();
    await page.getByLabel('Each, nameplate, kWh').fill('-5');
    await page.getByRole('button', { name: 'Save, then bring a log' }).click();
    await expect(
      page.getByText('This zone is not known. Choose one from the list, for example Europe/Lisbon.'),
    ).toBeVisible();
    await expect(page.getByText('Write kWh from 0.05 to 500, or leave it empty.')).toBeVisible();
    await expect(page.getByText('Choose the date and time from which this holds.')).toBeVisible();
    await expectAccessible(page);
    await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Mill Lane');
    const bad = file('bad.json', '{"schema":"long-tally/system@1","name":"H","timeZone":"Nowhere"}');
    await page.getByLabel(/system file/).setInputFiles(bad);
    await expect(page.getByText(/bad\.json, key timeZone: Found "Nowhere"/)).toBeVisible();
    await page.getByLabel(/system file/).setInputFiles(join(root, 'demo/homes/kauri-bend/system.json'));
    await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Kauri Bend');
    await expect(page.getByRole('textbox', { name: 'Holds from' }).nth(1)).toHaveValue('12 Sep 2023, 10:00');
  },
);

test('the system form opens by parts, fills in what is usual, and keeps what is not yet saved', async ({
  page,
}) => {
  await describeHome(page);
  await page.getByRole('link', { name: 'System' }).click();
  // A part says how much of it is given, and opens by itself where something is wrong.
  const inverter = page.getByRole('button', { name: /^Inverter/ });
  await expect(inverter).toHaveText('Inverter nothing given yet');
  await inverter.press('Enter');
  await page.getByLabel('Inverters, count').fill('2');
  await page.getByLabel('Inverter, continuous, kW').fill('minus');
  await inverter.press('Enter');
  await expect(inverter).toHaveText('Inverter 2 given');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByText('Write kW from 0.05 to 1000, or leave it empty.')).toBeVisible();
  await page.getByLabel('Inverter, continuous, kW').fill('5');

  await choose(page.getByLabel(/^Chemistry/), 'lead–acid');
  await expect(page.getByText(/Usual for it: 50 % usable, .* Common practice/)).toBeVisible();
  await expect(page.getByLabel('Usable share, %')).toHaveValue('90');
  await page.getByRole('button', { name: 'Use the usual values' }).press('Enter');
  await expect(page.getByLabel('Usable share, %')).toHaveValue('50');

  await page.getByRole('button', { name: 'Copy configuration 1' }).click();
  await page.getByRole('textbox', { name: 'Holds from' }).nth(1).fill('2024-05-04T12:00');
  await page.getByLabel('Battery modules, count').nth(1).fill('3');
  const mark = page.getByRole('slider', { name: 'Configuration 2 holds from' });
  await mark.press('ArrowLeft');
  await expect(page.getByRole('textbox', { name: 'Holds from' }).nth(1)).toHaveValue('3 May 2024, 12:00');
  const box = (await mark.boundingBox())!;
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await page.mouse.move(box.x + 105, box.y + 5, { steps: 5 });
  await page.mouse.up();
  await expect(mark).not.toHaveAttribute('aria-valuetext', '3 May 2024');
  await page.getByRole('textbox', { name: 'Holds from' }).nth(1).fill('2024-05-03T12:00');
  await expectAccessible(page);

  await page.reload();
  await expect(page.getByText('What you typed before and did not save stands in the form.')).toBeVisible();
  await expect(page.getByLabel('Battery modules, count').nth(1)).toHaveValue('3');
  await page.getByRole('button', { name: 'Go back to what is saved' }).press('Enter');
  await expect(page.getByLabel('Usable share, %')).toHaveValue('90');
  await page.reload();
  await expect(page.getByLabel('Usable share, %')).toHaveValue('90');
  await page.getByLabel('Battery modules, count').fill('4');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByText('Saved. The figures are computed with it from here on.')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Battery modules, count')).toHaveValue('4');
  await expect(page.getByText('What you typed before')).toBeHidden();
});

test('files may be dropped anywhere on the window, and one at a time where one is asked for', async ({
  page,
}) => {
  await describeHome(page);
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  const dataTransfer = await carried(page, ['dropped.csv', csv(3)], ['more.csv', csv(2)]);
  await page.locator('#view').dispatchEvent('dragenter', { dataTransfer });
  await expect(page.getByText('Drop the files: they are looked at as logs of Mill Lane.')).toBeVisible();
  await page.locator('#view').dispatchEvent('drop', { dataTransfer });
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Mill Lane' })).toBeVisible();
  await expect(page.getByText('288 rows over 3.0 days')).toBeVisible();
  await page.getByRole('button', { name: 'Do not import' }).click();
  await page.getByRole('link', { name: 'Journal', exact: true }).click();
  await page.getByText('Add the notes of a journal file').dispatchEvent('drop', { dataTransfer });
  await expect(page.getByRole('alert')).toHaveText('2 files were brought. Bring one at a time here.');
});

test('a changed system changes the figures that rest on it, and a removed home is gone', async ({ page }) => {
  await describeHome(page);
  await bringLogs(page, file('mill.csv', csv()));
  await expect(page.getByRole('article', { name: 'mill.csv' })).toBeVisible();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  const cycles = page.locator('[data-figure="wear.efc.nameplate"]').first();
  const number = async () => Number(/([\d.]+) cycles/.exec(await cycles.innerText())![1]);
  const before = await number();
  await page.getByRole('link', { name: 'System' }).click();
  await page.getByLabel('Battery modules, count').fill('4');
  await page.getByRole('button', { name: 'Save the system' }).click();
  await expect(page.getByText('Saved. The figures are computed with it from here on.')).toBeVisible();
  await page.getByRole('link', { name: 'Days', exact: true }).click();
  await expect.poll(number).toBeCloseTo(before / 2, 0);
  await page.getByRole('link', { name: 'Long Tally' }).click();
  await page.getByRole('button', { name: 'remove …' }).click();
  await page.getByRole('button', { name: 'Remove Mill Lane' }).click();
  await expect(page.getByText('Mill Lane')).toHaveCount(0);
  await page.goto('/');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('The audit book of a home battery');
  await expect(page.getByText('Mill Lane')).toHaveCount(0);
});

test('a file whose columns say nothing is not refused: its owner says what they are', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'unknown-'));
  const system = join(folder, 'system.json');
  writeFileSync(
    system,
    JSON.stringify({ schema: 'long-tally/system@1', name: 'Plain house', timeZone: 'Europe/Lisbon' }),
  );
  const rows = Array.from(
    { length: 96 },
    (_, i) =>
      `2024-05-0${1 + Math.floor(i / 48)} ${String(Math.floor((i % 48) / 2)).padStart(2, '0')}:${i % 2 ? '30' : '00'};${(i * 37) % 11};${1 + (i % 3)}`,
  );
  const file = join(folder, 'odd.csv');
  writeFileSync(file, `Moment;Foo;Bar\n${rows.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await page.getByLabel('Drop log files here, or choose them').setInputFiles(file);
  const review = page.getByRole('region', { name: 'How the files are read' });
  await expect(review).toContainText('None of its columns is understood');
  const read = review.getByRole('button', { name: 'Read 1 log this way' });
  await expect(read).toBeDisabled();
  await expectAccessible(page);
  await choose(review.getByLabel('Foo is taken for'), 'load');
  await choose(review.getByLabel('Foo is written as'), 'energy of each interval in kWh');
  await expect(read).toBeEnabled();
  await expect(read).toBeInViewport();
  await read.click();
  await page.getByRole('button', { name: 'Import 1 log' }).click();
  await expect(page.getByText('odd.csv is imported.')).toBeVisible();
});
