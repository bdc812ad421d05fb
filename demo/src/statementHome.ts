import { offsetAt, parseInstant, readingsText, zoneOf, type Reading } from '@long-tally/core';
import { averaging, totalsOf, two, type Flow } from './plantFiles.js';
import type { Plant } from './plants.js';
import { dice } from './random.js';
import { simulatePlant } from './simulatePlant.js';

/** What a kilometre takes from the charger. */
const CAR_KWH_PER_KM = 0.178;
/** From here the west roof stands half an hour longer in the shade of a grown tree: what it loses of its energy. */
const SHADED_FROM = '2024-07-10T00:00:00+01:00';
const SHADE = 0.12;
/** From here roofs and car are logged. */
const LOGGED_FROM = '2024-06-01T00:00:00+01:00';

/** A row house in Scotland whose owner has monthly statements, a few typed readings, and a log of the roofs and the car. Invented. */
export const ROW_HOUSE: Plant = {
  id: 'larch-row',
  about:
    'A row house in Scotland known by monthly statements of an application and of the utility’s meter, which differ, with readings typed by hand and a log of two roofs and a car.',
  seed: 20230301,
  from: '2023-04-01T00:00:00+01:00',
  to: '2024-10-01T00:00:00+01:00',
  warmest: 205,
  climate: { meanC: 8.6, swingC: 5.4, sky: 0.46 },
  planes: [
    { kWp: 2.4, tilt: 38, azimuth: 95 },
    { kWp: 2.8, tilt: 38, azimuth: 275 },
  ],
  capacityWh: 9300,
  limitW: 3600,
  chargeEfficiency: 0.95,
  dischargeEfficiency: 0.945,
  idleW: 15,
  tareW: 0,
  solarToAc: 1,
  floor: 0.05,
  loadShare: 0.55,
  heatsWithPower: false,
  // The car charges on three evenings a week, longer at weekends.
  carW: (day, minute) =>
    [1, 4, 6].includes(day % 7) && minute >= 1290 && minute < 1290 + (day % 7 === 6 ? 110 : 75) ? 6900 : 0,
  system: {
    schema: 'long-tally/system@1',
    name: 'Larch Row',
    timeZone: 'Europe/London',
    currency: 'GBP',
    latitude: 56.4,
    longitude: -3.1,
    configurations: [
      {
        from: '2023-04-01T00:00:00+01:00',
        name: 'as built',
        battery: {
          modules: 2,
          moduleKWh: 4.9,
          usableShare: 0.95,
          chemistry: 'LFP',
          maxChargeKW: 3.6,
          maxDischargeKW: 3.6,
          reserve: 0.05,
          cutOff: 0.05,
        },
        inverter: { units: 1, continuousKW: 5, batteryOnlyKW: 3.6, legs: 1 },
        coupling: 'ac',
        arrays: [
          { name: 'east roof', kWp: 2.4, tilt: 38, azimuth: 95 },
          { name: 'west roof', kWp: 2.8, tilt: 38, azimuth: 275 },
        ],
        warranty: { years: 10, throughputKWh: 30000, endCapacity: 0.7 },
        price: { paid: 11800, incentives: 0, on: '2023-04-01' },
      },
    ],
    tariffs: [
      { from: '2023-04-01', standingPerDay: 0.54, import: [{ rate: 0.293 }], export: [{ rate: 0.12 }] },
    ],
  },
};

const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');

/** The files of the row house, and what really happened, kWh. */
export function rowHouseFiles(): {
  readonly files: Readonly<Record<string, string>>;
  readonly totals: Readonly<Record<Flow, number>>;
  readonly carKWhPerKm: number;
} {
  const { system, seed } = ROW_HOUSE;
  const zone = zoneOf(system.timeZone);
  const { normal } = dice(seed, 'statement');
  const { totals, add } = totalsOf();
  const months: { name: string; before: Record<Flow, number>; standbyKWh: number }[] = [];
  const logged = parseInstant(LOGGED_FROM);
  const shaded = parseInstant(SHADED_FROM);
  const roofs = ['time,east_roof_solar_w,west_roof_solar_w,car_load_w,outdoor_temp_c'];
  const log = averaging(15, ({ ms, planesW, carW, outdoorC }) => {
    if (ms < logged) return;
    const [east, west] = [planesW[0]! * 1.004, planesW[1]! * 0.996];
    roofs.push(
      [new Date(ms).toISOString(), ...[east, west, carW].map(Math.round), outdoorC.toFixed(1)].join(),
    );
  });
  const readings: Reading[] = [];
  const took = { km: 18_240, carKWh: 0, standbyKWh: 0 };
  simulatePlant(ROW_HOUSE, (minute) => {
    const { ms, gridW, soc } = minute;
    // The tree takes from the west roof what then comes from the grid or is not exported; the battery does as it did.
    const shade = ms >= shaded ? SHADE * minute.planesW[1]! : 0;
    minute.planesW[1]! -= shade;
    minute.solarW -= shade;
    minute.gridW += shade;
    const local = new Date(ms + offsetAt(zone, ms));
    if (local.getUTCDate() === 1 && local.getUTCHours() === 0 && local.getUTCMinutes() === 0)
      months.push({
        name: `${MONTHS[local.getUTCMonth()]!} ${local.getUTCFullYear()}`,
        before: { ...totals },
        standbyKWh: took.standbyKWh,
      });
    if (ms >= logged && local.getUTCDay() === 0 && local.getUTCHours() === 19 && local.getUTCMinutes() === 30)
      readings.push({
        atMs: ms,
        counters: { import: 21_406 + totals.import, export: 3_188 + totals.export },
        decimals: { import: 1, export: 1 },
        socPct: Math.round(100 * soc),
        use: { part: 'car', unit: 'km', shown: Math.round(took.km), decimals: 0 },
        note: readings.length === 0 ? 'first reading' : '',
      });
    add(minute);
    log(minute);
    took.km += minute.carW / 60_000 / CAR_KWH_PER_KM;
    // The application's clamp does not see what flows below 45 W.
    if (gridW > 0 && gridW < 45) took.standbyKWh += gridW / 60_000;
  });
  months.push({ name: '', before: { ...totals }, standbyKWh: took.standbyKWh });
  const application = [
    'Month,Solar (kWh),Consumption (kWh),Charged (kWh),Discharged (kWh),Import (kWh),Export (kWh)',
  ];
  const utility = ['Billing month;Import kWh;Export kWh'];
  for (const [i, { name, before, standbyKWh }] of months.slice(0, -1).entries()) {
    const after = months[i + 1]!;
    const of = (flow: Flow) => after.before[flow] - before[flow];
    const seen = of('import') * (0.94 + 0.004 * normal()) - (after.standbyKWh - standbyKWh);
    const shown = [of('solar'), of('load'), of('charge'), of('discharge'), seen, of('export') * 0.99];
    application.push([name, ...shown.map((kWh) => kWh.toFixed(1))].join());
    const [month, year] = name.split(' ');
    utility.push(
      `${two(MONTHS.indexOf(month!) + 1)}/${year!};${of('import').toFixed(0)};${of('export').toFixed(0)}`,
    );
  }
  return {
    files: {
      'application-by-month.csv': `${application.join('\n')}\n`,
      'meter-by-month.csv': `${utility.join('\n')}\n`,
      'roofs-and-car.csv': `${roofs.join('\n')}\n`,
      'readings.csv': readingsText(readings),
    },
    totals,
    carKWhPerKm: CAR_KWH_PER_KM,
  };
}
