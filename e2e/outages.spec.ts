import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bringLogs, choose, expect, expectAccessible, openDemo, rangeInAddress, test } from './fixtures.js';

const ALL = ['2022-03-01', '2025-02-28'] as const;
/** What the generator of the demo home says really happened. */
const truth = JSON.parse(
  readFileSync(new URL('../demo/homes/kauri-bend/truth.json', import.meta.url), 'utf8'),
) as { outages: { from: string; minutes: number }[] };

test('every outage of the demo home is in the ledger, and every hour is replayed as the beginning of one', async ({
  page,
}) => {
  await openDemo(page, ALL);
  await page.keyboard.press('g');
  await page.keyboard.press('u');
  await expect(page.getByRole('heading', { level: 1, name: 'Outages' })).toBeVisible();
  expect(rangeInAddress(page)).toBe(ALL.join(' '));
  const ledger = page.getByRole('region', { name: 'Outages of the range' });
  await expect(ledger.getByRole('row')).toHaveCount(1 + truth.outages.length);
  await expect(ledger).toContainText('voltage, solar held back');
  const curve = page.getByRole('img', { name: /^Share of starts that last: 12 h 8\d %, 24 h 7\d %/ });
  await expect(curve).toBeVisible();
  await expect(page.getByRole('region', { name: 'Reserve by month' })).toContainText(
    'The reserve set is 10 %',
  );
  await expectAccessible(page);

  // A runtime for what stays on, by key.
  const runtime = page.getByRole('region', { name: 'Runtime' });
  await runtime.getByLabel('Charge now, %').fill('100');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.type('1000');
  await expect(runtime).toContainText(/1[01] h \d\d without sun/);
  await runtime.getByLabel('What stays on, W').fill('a lot');
  await expect(runtime).toContainText('Write a charge from 0 to 100 %');
  await expectAccessible(page);

  await page.getByRole('button', { name: /^Reserve for 12 h/ }).focus();
  await page.keyboard.press('w');
  await expect(page.getByRole('region', { name: 'Working: Reserve for 12 h' })).toContainText(
    'With the sun that there was.',
  );
});

test('options are begun on all cores, cancelled and gone on with, and one of them leads the tables', async ({
  page,
}) => {
  await openDemo(page, ALL);
  await page.goto(`/h/kauri-bend/outages?from=${ALL[0]}&to=${ALL[1]}`);
  const options = page.getByRole('region', { name: 'Options compared' });
  await expect(options.getByRole('row', { name: /^reserve 50 % \d+ h/ })).toBeVisible();
  await expect(page.getByRole('img', { name: /no sun: 24 h [12]\d %/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Worst starts' })).toContainText(
    'more than the inverter carries',
  );

  // A wrong figure is told; a right one is begun, cancelled and gone on with, all by key.
  await options.getByLabel('Stays on, %').fill('140');
  await page.keyboard.press('Enter');
  await expect(options.getByRole('alert')).toContainText('from 1 to 100 %');
  await options.getByLabel('Stays on, %').fill('25');
  await page.keyboard.press('Enter');
  await options.getByRole('button', { name: 'Cancel' }).press('Enter');
  await expect(options.getByRole('status')).toContainText('Cancelled: 4 of 5 options are done.');
  await options.getByRole('button', { name: 'Go on' }).press('Enter');
  const quarter = options.getByRole('row', { name: /^25 % of the load/ });
  await expect(quarter).toContainText('longer');
  await expect(page.getByRole('region', { name: 'How long, by hour of start' })).toContainText(
    'carried: 25 % of the load',
  );
  await expectAccessible(page);
  await options.getByRole('button', { name: 'Leave out: 25 % of the load' }).click();
  await expect(quarter).toHaveCount(0);

  // What is compared is there again after another view.
  await options.getByRole('button', { name: 'Leave out: no sun' }).click();
  await page.keyboard.press('g');
  await page.keyboard.press('d');
  await expect(page.getByRole('grid')).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('u');
  await expect(options.getByRole('row')).toHaveCount(1 + 3);
  const costs = page.getByRole('region', { name: 'Reserve by month' });
  await expect(costs).toContainText('59 % (');
  await choose(costs.getByLabel('so that the home lasts'), '24 h');
  await expect(costs).toContainText('not even a full battery does');
  await choose(costs.getByLabel('in so many of 100'), '80 %');
  await expect(costs).toContainText(/of the starts: [67]\d % \(/);
  await expect(costs).toContainText('less than that in 12 months');
  await expect(costs.getByRole('row', { name: /^10 %, set/ })).toContainText('0');
  await expect(costs.getByRole('row', { name: /^50 %/ })).toContainText(/\+\d+ \(\+\d+ to \+\d+\)/);
});

test('one outage is opened, what could be expected beside what came, its neighbours by key', async ({
  page,
}) => {
  await openDemo(page, ALL);
  await page.goto(`/h/kauri-bend/outages?from=${ALL[0]}&to=${ALL[1]}`);
  const ledger = page.getByRole('region', { name: 'Outages of the range' });
  await ledger.getByRole('link', { name: '21 May 2024 19:50' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Outage of 21 May 2024, 19:50');
  await expect(page.getByText(/could be expected to carry the home for 1\d h/)).toBeVisible();
  await expect(page.getByText(/The grid came back after 6 h 40/)).toBeVisible();
  await expect(page.getByText(/the charge would have come to 2\d %/)).toBeVisible();
  await page.getByRole('slider', { name: 'Time of day read out' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('row', { name: /^B charge \d+ %/ })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press(']');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Outage of 2 October 2024/);
  await page.keyboard.press('Escape');
  await expect(ledger).toBeVisible();
  await page.goto('/h/kauri-bend/outages/2020-01-01T00:00:00Z');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('No such outage');
});

test('the outage sheet says how long and what to do, and prints to one page', async ({ page }) => {
  await openDemo(page, ALL);
  await page.goto(`/h/kauri-bend/outages?from=${ALL[0]}&to=${ALL[1]}`);
  await page.getByRole('link', { name: 'Outage sheet to print' }).click();
  const sheet = page.getByRole('article', { name: 'Outage sheet' });
  await expect(sheet.getByRole('row', { name: /^As usual, 370 W 2\d h/ })).toBeVisible();
  await page.getByLabel('As usual, W').fill('1000');
  await expect(sheet.getByRole('row', { name: /^As usual, 1,000 W 1[01] h/ })).toBeVisible();
  await page.getByLabel('What to switch off first, a line each').fill('Sauna\nCar charger');
  await expect(sheet.getByRole('listitem').filter({ hasText: 'Sauna' })).toBeVisible();
  await expect(sheet).toContainText('At about 5 % the battery switches off');
  await expect(sheet).toContainText('Never feed a dead grid');
  await expectAccessible(page);
  for (const format of ['A4', 'Letter']) {
    const pdf = (
      await page.pdf({ format, margin: { top: '14mm', bottom: '14mm', left: '14mm', right: '14mm' } })
    )
      .toString('latin1')
      .match(/\/Type\s*\/Page\b/g);
    expect(pdf).toHaveLength(1);
  }
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('button', { name: 'Print this sheet' })).toBeHidden();
});

test('legs and loads logged by name are told at the peaks, and can be chosen to stay on', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'legs-'));
  const system = join(folder, 'home.json');
  writeFileSync(
    system,
    JSON.stringify({
      schema: 'long-tally/system@1',
      name: 'Split',
      timeZone: 'Europe/Lisbon',
      configurations: [
        {
          from: '2024-01-01T00:00:00Z',
          battery: { modules: 1, moduleKWh: 10, usableShare: 0.9, reserve: 0.2, cutOff: 0.05 },
          inverter: { batteryOnlyKW: 6, legs: 2, perLegKW: 3, lowChargeKW: 2 },
        },
      ],
    }),
  );
  const rows = Array.from({ length: 40 * 24 }, (_, h) => {
    const pump = h % 24 === 18 ? 1600 : 0;
    return `${new Date(Date.UTC(2024, 5, 1, h)).toISOString()},${4000 + pump},${2000 + pump},2000,${pump},${4000 + pump},0,90`;
  });
  const log = join(folder, 'split.csv');
  writeFileSync(log, `time,load_w,leg1_w,leg2_w,pump_load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Split' })).toBeVisible();
  await bringLogs(page, log);
  await page.getByRole('link', { name: 'Outages', exact: true }).click();
  const peaks = page.getByRole('region', { name: 'Highest loads' });
  await expect(peaks).toBeVisible();
  await page.keyboard.press('a');
  await expect(
    peaks.getByRole('row', { name: /5\.60 0\.40 3\.60 · 2\.00 pump 1\.60$/ }).first(),
  ).toBeVisible();
  await expect(page.getByRole('button', { name: /^A leg above its limit/ })).toContainText('40.0');
  // The whole home goes dark when the pump starts; without it the legs are even.
  const options = page.getByRole('region', { name: 'Options compared' });
  await expect(page.getByRole('region', { name: 'Worst starts' })).toContainText(
    '3.60 kW on one leg at 19:00',
  );
  await options.getByRole('checkbox', { name: 'pump' }).check();
  await options.getByRole('button', { name: 'Compare' }).click();
  await expect(options.getByRole('row', { name: /^without pump 1 h 00/ })).toBeVisible();
  const runtime = page.getByRole('region', { name: 'Runtime' });
  await choose(runtime.getByLabel('Load'), 'named loads, no sun');
  await runtime.getByRole('checkbox', { name: 'pump, 1,600 W' }).check();
  await expect(runtime).toContainText('one steady load of 1,600 W');
  await choose(runtime.getByLabel('Load'), 'as usual at an hour');
  await choose(runtime.getByLabel('Month'), 'Jun');
  await expect(runtime).toContainText('on 30 days of that month');
  await expectAccessible(page);
});

test('a stop of the output is told with its cause, and the sun that was not made beside it', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'stops-'));
  const system = join(folder, 'home.json');
  writeFileSync(
    system,
    JSON.stringify({
      schema: 'long-tally/system@1',
      name: 'Ridge',
      timeZone: 'Europe/Lisbon',
      latitude: 38.7,
      longitude: -9.1,
      configurations: [
        {
          from: '2024-01-01T00:00:00Z',
          battery: { modules: 3, moduleKWh: 5, usableShare: 1, cutOff: 0.05 },
          inverter: { continuousKW: 5, batteryOnlyKW: 5 },
          coupling: 'ac',
          grid: 'none',
          arrays: [{ kWp: 6 }],
        },
      ],
    }),
  );
  // Invented: 900 W all along and 6.2 kW once; the sun by its height over flat panels, let in until the battery is full.
  const radians = Math.PI / 180;
  const [latitude, declination] = [38.7 * radians, 22.5 * radians];
  let heldBack = 0;
  const rows: string[] = [];
  let wh = 10_000;
  for (let i = 0; i < 20 * 288; i++) {
    const [day, hour] = [Math.floor(i / 288), (i % 288) / 12];
    const overload = day === 4 && i % 288 === 240;
    const isOff = day === 4 && i % 288 > 240 && i % 288 <= 246;
    const load = isOff ? 0 : overload ? 6200 : 900;
    const sky =
      4000 *
      Math.max(
        0,
        Math.sin(latitude) * Math.sin(declination) +
          Math.cos(latitude) * Math.cos(declination) * Math.cos(15 * (hour - 12.6) * radians),
      );
    const room = (15_000 - wh) * 12;
    const solar = isOff ? 0 : Math.min(sky, load + room);
    rows.push(
      `${new Date(Date.UTC(2024, 5, 1) + i * 300_000).toISOString()},${solar.toFixed(0)},${load},${(load - solar).toFixed(0)},${(wh / 150).toFixed(1)},${isOff ? '"E21 overload"' : ''}`,
    );
    wh += (solar - load) / 12;
    heldBack += (sky - solar) / 12_000;
  }
  const log = join(folder, 'ridge.csv');
  writeFileSync(log, `time,solar_w,load_w,battery_w,soc_pct,fault\n${rows.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await bringLogs(page, log);
  await page.getByRole('link', { name: 'Outages', exact: true }).click();
  const stops = page.getByRole('region', { name: 'Overloads and stops' });
  await expect(stops).toBeVisible();
  await page.keyboard.press('a');
  const row = stops.getByRole('row', {
    name: /stopped the load above the limit of 5\.00 kW: E21 overload 6\.20/,
  });
  await expect(row).toContainText('30 min');
  await expect(page.getByRole('button', { name: /^Stops of the output/ })).toContainText('1');
  const notMade = page.getByRole('region', { name: 'Solar not made' });
  await expect(notMade).toContainText('battery full, without the grid');
  const [, low, high] = /About \d+ kWh of solar \((\d+) to (\d+)\)/.exec(
    await page.getByRole('complementary').last().innerText(),
  )!;
  expect(Number(low)).toBeLessThan(heldBack);
  expect(Number(high)).toBeGreaterThan(heldBack);
  await expectAccessible(page);
  // From the row into the stop, by key, and back.
  await row.getByRole('link').focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/stops\/2024-06-05T/);
  await expect(page.getByRole('heading', { name: /Stop of the output on 5 June 2024/ })).toBeVisible();
  await expect(page.getByRole('row', { name: 'fault E21 overload' })).toBeVisible();
  await expect(page.getByRole('row', { name: 'dark for 30 min' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('region', { name: 'Overloads and stops' })).toContainText('E21 overload');
});

test('a test written into the journal makes a planned run of an outage, and the journal is saved as a file', async ({
  page,
}) => {
  await openDemo(page, ALL);
  const [first] = truth.outages;
  const local = new Date(Date.parse(first!.from) - 3_600_000).toLocaleString('sv-SE', {
    timeZone: 'Pacific/Auckland',
  });
  await page.goto('/h/kauri-bend/journal');
  await page.getByLabel('From', { exact: true }).fill(local.replace(' ', 'T').slice(0, 16));
  await page.getByLabel('Lasts, h').fill(String(Math.ceil(first!.minutes / 60) + 2));
  await choose(page.getByLabel('About'), 'test');
  await page.getByLabel('In your words').fill('island run with the installer');
  await page.getByRole('button', { name: 'Write the note' }).click();
  await expect(page.getByText('island run with the installer')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the journal' }).click();
  const file = readFileSync(await (await download).path(), 'utf8');
  expect(JSON.parse(file)).toMatchObject({
    schema: 'long-tally/journal@1',
    notes: [{ kind: 'test', text: 'island run with the installer', leaveOut: false }],
  });
  await expectAccessible(page);
  await page.goto(`/h/kauri-bend/outages?from=${ALL[0]}&to=${ALL[1]}`);
  await expect(page.getByRole('region', { name: 'Outages of the range' })).toContainText(
    'planned, by the journal',
  );
  await expect(
    page.getByRole('button', { name: new RegExp(`^Outages ${truth.outages.length - 1}\\b`) }),
  ).toBeVisible();
});

test('a home without a battery or a sign of its grid is told what is missing', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'outages-'));
  const system = join(folder, 'home.json');
  writeFileSync(
    system,
    JSON.stringify({ schema: 'long-tally/system@1', name: 'Bare', timeZone: 'Europe/Lisbon' }),
  );
  const rows = Array.from(
    { length: 48 },
    (_, h) => `${new Date(Date.UTC(2024, 5, 1, h)).toISOString()},${300 + h}`,
  );
  const log = join(folder, 'bare.csv');
  writeFileSync(log, `time,load_w\n${rows.join('\n')}\n`);
  await page.goto('/new');
  await page.getByLabel(/system file/).setInputFiles(system);
  await page.getByRole('button', { name: 'Save, then bring a log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sources of Bare' })).toBeVisible();
  await bringLogs(page, log);
  await page.getByRole('link', { name: 'Outages', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Ledger of outages' })).toContainText(
    'grid_up, grid_v or grid_hz',
  );
  await expect(page.getByRole('region', { name: 'Survival' })).toContainText('capacity is not described');
  await expectAccessible(page);
});
