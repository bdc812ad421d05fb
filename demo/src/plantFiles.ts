import { offsetAt, zoneOf } from '@long-tally/core';
import { strToU8, zipSync } from 'fflate';
import type { Plant } from './plants.js';
import { dice } from './random.js';
import { simulatePlant, type PlantMinute } from './simulatePlant.js';

export type Flow = 'solar' | 'load' | 'import' | 'export' | 'charge' | 'discharge';

/** The files a home's owner would bring, and what really happened, in kWh. */
export interface PlantFiles {
  readonly files: Readonly<Record<string, string | Uint8Array>>;
  readonly totals: Readonly<Record<Flow, number>>;
  /** What the panels could have given besides. */
  readonly heldBackKWh: number;
}

export const two = (n: number) => String(n).padStart(2, '0');
const comma = (value: number, digits: number) => value.toFixed(digits).replace('.', ',');

/** A clock at the site: date and time of day. */
function clockOf(zoneName: string) {
  const zone = zoneOf(zoneName);
  return (ms: number) => {
    const at = new Date(ms + offsetAt(zone, ms));
    return {
      year: at.getUTCFullYear(),
      date: [two(at.getUTCDate()), two(at.getUTCMonth() + 1), String(at.getUTCFullYear())],
      time: `${two(at.getUTCHours())}:${two(at.getUTCMinutes())}`,
    };
  };
}

const AVERAGED = ['solarW', 'loadW', 'carW', 'gridW', 'batteryW'] as const;

/** Means over a step of what the simulation hands over minute by minute, with the state at its start. */
export function averaging(minutes: number, take: (mean: PlantMinute) => void): (minute: PlantMinute) => void {
  let sum: PlantMinute | null = null;
  let count = 0;
  return (minute) => {
    if (!sum) sum = { ...minute, planesW: [...minute.planesW] };
    else {
      for (const flow of AVERAGED) sum[flow] += minute[flow];
      for (const [i, watts] of minute.planesW.entries()) sum.planesW[i]! += watts;
    }
    if (++count < minutes) return;
    for (const flow of AVERAGED) sum[flow] /= minutes;
    sum.planesW = sum.planesW.map((watts) => watts / minutes);
    take(sum);
    sum = null;
    count = 0;
  };
}

export function totalsOf() {
  const totals: Record<Flow, number> = { solar: 0, load: 0, import: 0, export: 0, charge: 0, discharge: 0 };
  return {
    totals,
    add: ({ solarW, loadW, gridW, batteryW }: PlantMinute): void => {
      totals.solar += solarW / 60_000;
      totals.load += loadW / 60_000;
      totals.import += Math.max(0, gridW) / 60_000;
      totals.export += Math.max(0, -gridW) / 60_000;
      totals.charge += Math.max(0, -batteryW) / 60_000;
      totals.discharge += Math.max(0, batteryW) / 60_000;
    },
  };
}

/** The hut's logger: a file for each year in one archive, semicolons and decimal commas, the clock on the wall. */
export function hutFiles(plant: Plant): PlantFiles {
  const { totals, add } = totalsOf();
  const clock = clockOf(plant.system.timeZone);
  const { normal } = dice(plant.seed, 'meters');
  const years = new Map<number, string[]>();
  const header =
    'Datum;Ura;Sonce [kW];Poraba [kW];Polnjenje DC [kW];Praznjenje DC [kW];Napolnjenost [%];Temperatura baterije [°C]';
  const log = averaging(10, ({ ms, solarW, loadW, batteryW, soc, batteryC }) => {
    const { year, date, time } = clock(ms);
    let lines = years.get(year);
    if (!lines) years.set(year, (lines = ['Koča pod Skalo;dnevnik razsmernika', header]));
    const kW = (w: number) => comma(Math.max(0, w) / 1000, 3);
    lines.push(
      [
        date.join('.'),
        time,
        kW(solarW * 1.009),
        kW(loadW * 0.994),
        kW(-batteryW * 0.997),
        kW(batteryW * 0.997),
        comma(100 * soc, 0),
        comma(batteryC + 0.05 * normal(), 1),
      ].join(';'),
    );
  });
  let heldBackKWh = 0;
  simulatePlant(plant, (minute) => {
    add(minute);
    log(minute);
    heldBackKWh += (minute.planesW.reduce((sum, watts) => sum + watts, 0) - minute.solarW) / 60_000;
  });
  // A fixed date inside the archive: the same bytes every time.
  const mtime = new Date(2024, 9, 1);
  const entries = Object.fromEntries(
    [...years].map(([year, lines]) => [
      `dnevnik-${year}.csv`,
      [strToU8(`${lines.join('\r\n')}\r\n`), { mtime }] as const,
    ]),
  );
  return { files: { 'koca-pod-skalo.zip': zipSync(entries as never) }, totals, heldBackKWh };
}

/** The terrace house: the inverter's log by seconds since 1970, charge and export positive; the meter's half hours, end-labelled. */
export function terraceFiles(plant: Plant): PlantFiles {
  const { totals, add } = totalsOf();
  const clock = clockOf(plant.system.timeZone);
  const inverter = ['epoch,pv_power_w,house_power_w,grid_power_w,battery_power_w,battery_soc_pct'];
  const meter = [
    'Ponto de entrega;Casa da Azenha',
    'Data;Hora (fim);Consumo da rede (kWh);Injeção na rede (kWh)',
  ];
  const log = averaging(5, ({ ms, solarW, loadW, gridW, batteryW, soc }) => {
    inverter.push(
      [
        ms / 1000,
        Math.round(solarW * 1.006),
        Math.round(loadW * 0.991),
        Math.round(-gridW * 0.975),
        Math.round(-batteryW * 1.004),
        Math.round(100 * soc),
      ].join(','),
    );
  });
  // The utility's meter counts each minute's import and export apart.
  let bought = 0;
  let sold = 0;
  let minutes = 0;
  const read = ({ ms, gridW }: PlantMinute) => {
    bought += Math.max(0, gridW) / 60_000;
    sold += Math.max(0, -gridW) / 60_000;
    if (++minutes < 30) return;
    const { date, time } = clock(ms + 60_000);
    meter.push([date.join('/'), time, comma(bought * 1.002, 3), comma(sold * 1.002, 3)].join(';'));
    bought = sold = minutes = 0;
  };
  simulatePlant(plant, (minute) => {
    add(minute);
    log(minute);
    read(minute);
  });
  return {
    files: {
      'inverter.csv': `${inverter.join('\n')}\n`,
      'contador.csv': `${meter.join('\n')}\n`,
      'precos.csv': pricesCsv(plant.seed),
    },
    totals,
    // What is not used is sold.
    heldBackKWh: 0,
  };
}

/** Hourly prices of an offer that was tried in September 2024: low at noon, now and then below nothing, dear in the evening. */
function pricesCsv(seed: number): string {
  const { normal } = dice(seed, 'prices');
  const lines = ['time,import_rate'];
  for (let ms = Date.UTC(2024, 7, 31, 23); ms < Date.UTC(2024, 8, 30, 23); ms += 3_600_000) {
    const hour = new Date(ms).getUTCHours();
    const noon = Math.exp(-(((hour - 13) / 3) ** 2));
    const evening = Math.exp(-(((hour - 20) / 1.6) ** 2));
    const rate = 0.115 - 0.1 * noon + 0.13 * evening + 0.018 * normal();
    lines.push(`${new Date(ms).toISOString()},${rate.toFixed(4)}`);
  }
  return `${lines.join('\n')}\n`;
}
