/**
 * What-ifs against the truth: simulated homes, and the same homes simulated again with the change. How far the differences that the model
 * gives lie from the real ones, as shares of the load, and how often their intervals hold them.
 */
import { endMs, parseScenario, prepare, report, whatif, type ScenarioFile } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { EFFICIENCY, simulatedSun, type SunTruth } from '../core/src/testing/sun.js';

const HOMES = 10;
const DAYS = 365;

type Change = ScenarioFile['change'];
type Case = readonly [
  name: string,
  base: Partial<SunTruth>,
  truth: (of: SunTruth) => Partial<SunTruth>,
  change: (of: SunTruth) => unknown,
];

const POWER = { maxChargeKW: 3.5, maxDischargeKW: 3.5 };
const CASES: readonly Case[] = [
  ['nothing', {}, () => ({}), () => ({})],
  [
    'twice the battery',
    {},
    ({ capacityKWh }) => ({ capacityKWh: 2 * capacityKWh }),
    () => ({ battery: { modules: 2, ...POWER } }),
  ],
  [
    'half the battery',
    {},
    ({ capacityKWh }) => ({ capacityKWh: capacityKWh / 2 }),
    ({ capacityKWh }) => ({ battery: { moduleKWh: capacityKWh / 2, ...POWER } }),
  ],
  ['no battery', {}, () => ({ capacityKWh: 0.001, idleW: 0 }), () => ({ noBattery: true })],
  ['half as many panels again', {}, ({ kWp }) => ({ kWp: 1.5 * kWp }), () => ({ arraysScale: { all: 1.5 } })],
  [
    'panels, export limit 2 kW',
    { exportLimitKW: 2 },
    ({ kWp }) => ({ kWp: 1.5 * kWp }),
    () => ({ arraysScale: { all: 1.5 } }),
  ],
  [
    'battery, export limit 1 kW',
    { exportLimitKW: 1 },
    ({ capacityKWh }) => ({ capacityKWh: 2 * capacityKWh }),
    () => ({ battery: { modules: 2, ...POWER } }),
  ],
  ['an export limit of 1 kW', {}, () => ({ exportLimitKW: 1 }), () => ({ exportLimitKW: 1 })],
  ['a reserve of 50 %', {}, () => ({ reserve: 0.5 }), () => ({ battery: { reserve: 0.5 } })],
  [
    'a car of 8 kWh a day',
    {},
    () => ({ carKWhADay: 8 }),
    () => ({ addLoads: [{ name: 'car', kWhPerDay: 8, start: '23:00', end: '24:00', kW: 7 }] }),
  ],
  [
    'charged by night to 80 %',
    {},
    () => ({ chargedByNightTo: 0.8 }),
    () => ({ chargeWindows: [{ start: '00:00', end: '04:00', toSoc: 0.8 }] }),
  ],
  [
    'the other coupling',
    {},
    // The same panels: on the AC side what they give has passed an inverter.
    ({ coupling, kWp }) => ({
      coupling: otherSide(coupling),
      kWp: coupling === 'ac' ? kWp / EFFICIENCY : kWp * EFFICIENCY,
    }),
    ({ coupling }) => ({ coupling: otherSide(coupling) }),
  ],
];

function otherSide(coupling: SunTruth['coupling']): SunTruth['coupling'] {
  return coupling === 'ac' ? 'dc' : 'ac';
}
const KEYS = ['account.import', 'account.export', 'account.selfSufficiency.grid'] as const;
const MONTHLY = ['import', 'export', 'selfSufficiency'] as const;

/** Import, export and self-sufficiency of a simulated home, kWh, of a month of the year or of all; and a day of them. */
function ofMonths({ log }: ReturnType<typeof simulatedSun>, month: number | null) {
  const isIn = (cell: number) =>
    month === null || new Date(log.startMs + cell * log.stepMs).getUTCMonth() === month;
  const sum = (quantity: 'grid' | 'load', sign: 1 | -1) =>
    log.columns
      .get(quantity)!
      .values.reduce(
        (kWh, watts, cell) => (isIn(cell) ? kWh + (Math.max(0, sign * watts) * log.stepMs) / 3.6e9 : kWh),
        0,
      );
  const [bought, sold, load] = [sum('grid', 1), sum('grid', -1), sum('load', 1)];
  let cells = 0;
  for (let cell = 0; cell < log.count; cell++) if (isIn(cell)) cells++;
  const days = (cells * log.stepMs) / 86_400_000;
  return {
    real: [bought, sold, 1 - bought / load],
    aDay: [bought / days, sold / days, 1 - bought / load],
    load,
  };
}

/** Prints the table. */
export function printWhatifs(): void {
  console.log(
    `\nWhat-ifs of ${HOMES} simulated homes of ${DAYS} days a line, 15 minutes; differences against the homes simulated again\n`,
  );
  console.log(
    'change                       coupling   import: real, off of load, held   export: real, off of load, held   self-sufficiency: real, off, held   months held: import, export, self-sufficiency',
  );
  for (const coupling of ['ac', 'dc'] as const)
    for (const [name, base, truthOf, changeOf] of CASES) {
      if (coupling === 'dc' && name.startsWith('charged by night')) continue;
      const random = seededRandom(909);
      const sums = KEYS.map(() => ({ real: 0, off: 0, held: 0 }));
      const months = MONTHLY.map(() => ({ held: 0, of: 0 }));
      for (let home = 0; home < HOMES; home++) {
        const truth: SunTruth = {
          seed: Math.floor(random() * 1e9),
          days: DAYS,
          stepSeconds: 900,
          coupling,
          kWp: 3.5 + 3 * random(),
          ratingKW: 12,
          exportLimitKW: null,
          hasGrid: true,
          capacityKWh: 6 + 6 * random(),
          ...base,
        };
        const [before, after] = [simulatedSun(truth), simulatedSun({ ...truth, ...truthOf(truth) })];
        const range = { fromMs: before.log.startMs, toMs: endMs(before.log) };
        const prepared = prepare(before.system, [before.log]);
        const scenario = parseScenario(
          JSON.stringify({ schema: 'long-tally/scenario@1', name, change: changeOf(truth) as Change }),
          name,
        );
        const { scenarios } = whatif(prepared, range, report(prepared, range).figures, {
          scenarios: [scenario],
        });
        const [was, is] = [ofMonths(before, null), ofMonths(after, null)];
        KEYS.forEach((key, k) => {
          const { difference } = scenarios[0]!.figures[key]!.basis as unknown as {
            difference: { value: number; low: number; high: number };
          };
          const real = is.real[k]! - was.real[k]!;
          const scale = k < 2 ? is.load : 1;
          sums[k]!.real += real / scale;
          sums[k]!.off += (difference.value - real) / scale;
          if (difference.low <= real && real <= difference.high) sums[k]!.held++;
        });
        for (const { month, figures } of scenarios[0]!.months) {
          const [then, now] = [ofMonths(before, month), ofMonths(after, month)];
          MONTHLY.forEach((key, k) => {
            const { low, high } = figures[key].basis.difference!;
            const real = now.aDay[k]! - then.aDay[k]!;
            months[k]!.of++;
            if (low <= real && real <= high) months[k]!.held++;
          });
        }
      }
      const percent = (share: number) => `${((100 * share) / HOMES).toFixed(1)} %`;
      const part = ({ real, off, held }: (typeof sums)[number]) =>
        `${percent(real).padStart(8)} ${percent(off).padStart(8)} ${`${held}/${HOMES}`.padStart(6)}`;
      console.log(
        `${name.padEnd(28)} ${coupling.padStart(6)}        ${sums.map(part).join('          ')}   ${months.map(({ held, of }) => `${((100 * held) / of).toFixed(0)} %`.padStart(6)).join(' ')}`,
      );
    }
}
