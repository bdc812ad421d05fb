import { createWriteStream } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { once } from 'node:events';
import { parseSystem } from '@long-tally/core';
import { KAURI_BEND } from './kauriBend.js';
import { LOOKS } from './looks.js';
import { logger } from './meters.js';
import { hutFiles, terraceFiles } from './plantFiles.js';
import { HUT, TERRACE } from './plants.js';
import { sampleOf } from './sample.js';
import { CABIN, cabinFiles } from './secondsHome.js';
import { ROW_HOUSE, rowHouseFiles } from './statementHome.js';
import { simulate } from './simulate.js';
import { witness } from './truth.js';

/** Where the homes are written; the server hands them out from here. */
const HOMES = new URL('../homes/', import.meta.url);

const folder = new URL('kauri-bend/', HOMES);
await mkdir(folder, { recursive: true });
const file = createWriteStream(new URL('kauri-bend.csv', folder));
const lines: string[] = [];
const write = (line: string) => {
  if (lines.push(line) === 10_000) {
    file.write(`${lines.join('\n')}\n`);
    lines.length = 0;
  }
};
const seen = witness();
const note = logger(write, seen.row);
const outages = simulate((minute) => {
  note(minute);
  seen.minute(minute, minute.soc);
});
file.end(`${lines.join('\n')}\n`);
await once(file, 'finish');
await writeFile(new URL('system.json', folder), `${JSON.stringify(KAURI_BEND, null, 2)}\n`);
await writeFile(new URL('truth.json', folder), `${JSON.stringify(seen.finish(outages), null, 2)}\n`);
const others = [
  [HUT, hutFiles(HUT)],
  [TERRACE, terraceFiles(TERRACE)],
] as const;
for (const [plant, { files, totals, heldBackKWh }] of others) {
  const { idleW, tareW, chargeEfficiency, dischargeEfficiency, solarToAc } = plant;
  const parameters = { idleW, tareW, chargeEfficiency, dischargeEfficiency, solarToAc };
  const own = new URL(`${plant.id}/`, HOMES);
  await mkdir(own, { recursive: true });
  for (const [name, content] of Object.entries(files)) await writeFile(new URL(name, own), content);
  await writeFile(new URL('system.json', own), `${JSON.stringify(plant.system, null, 2)}\n`);
  await writeFile(
    new URL('truth.json', own),
    `${JSON.stringify({ totals, heldBackKWh, parameters }, null, 2)}\n`,
  );
}
const cabin = cabinFiles();
const cabinFolder = new URL('juniper-wash/', HOMES);
await mkdir(cabinFolder, { recursive: true });
for (const [name, content] of Object.entries(cabin.files))
  await writeFile(new URL(name, cabinFolder), content);
await writeFile(new URL('system.json', cabinFolder), `${JSON.stringify(CABIN, null, 2)}\n`);
await writeFile(
  new URL('truth.json', cabinFolder),
  `${JSON.stringify({ stops: cabin.stops, heldBackKWh: cabin.heldBackKWh }, null, 2)}\n`,
);
const rowHouse = rowHouseFiles();
const rowFolder = new URL('larch-row/', HOMES);
await mkdir(rowFolder, { recursive: true });
for (const [name, content] of Object.entries(rowHouse.files))
  await writeFile(new URL(name, rowFolder), content);
await writeFile(new URL('system.json', rowFolder), `${JSON.stringify(ROW_HOUSE.system, null, 2)}\n`);
const { totals, carKWhPerKm } = rowHouse;
await writeFile(new URL('truth.json', rowFolder), `${JSON.stringify({ totals, carKWhPerKm }, null, 2)}\n`);
const index = {
  homes: [
    {
      id: 'kauri-bend',
      name: KAURI_BEND.name,
      about:
        'A hillside home near Auckland: hybrid inverter, two battery modules and later three, three years at 5 minutes.',
      system: 'kauri-bend/system.json',
      logs: ['kauri-bend/kauri-bend.csv'],
    },
    ...others.map(([{ id, about, system }, { files }]) => ({
      id,
      name: system.name,
      about,
      system: `${id}/system.json`,
      logs: Object.keys(files).map((name) => `${id}/${name}`),
    })),
    {
      id: 'juniper-wash',
      name: CABIN.name,
      about:
        'A cabin in New Mexico without a grid: both legs of its inverter logged every second for a week, with overloads, a low battery and solar held back by the frequency.',
      system: 'juniper-wash/system.json',
      logs: Object.keys(cabin.files).map((name) => `juniper-wash/${name}`),
    },
    {
      id: ROW_HOUSE.id,
      name: ROW_HOUSE.system.name,
      about: ROW_HOUSE.about,
      system: 'larch-row/system.json',
      logs: Object.keys(rowHouse.files)
        .filter((name) => name !== 'readings.csv')
        .map((name) => `larch-row/${name}`),
      readings: 'larch-row/readings.csv',
    },
  ],
};
const homes = index.homes.map((home) => ({ ...home, look: LOOKS[home.id] ?? [] }));
await writeFile(new URL('index.json', HOMES), `${JSON.stringify({ homes }, null, 2)}\n`);
const log = await readFile(new URL('kauri-bend.csv', folder));
const sample = await sampleOf(
  parseSystem(JSON.stringify(KAURI_BEND), 'system.json'),
  'kauri-bend.csv',
  new Uint8Array(log),
);
await writeFile(new URL('sample.json', HOMES), `${JSON.stringify(sample)}\n`);
