import { describe, expect, test } from '@jest/globals';
import { analyse } from './report.js';
import type { SourceLog } from '../model/log.js';
import { HAND_HOME, hourlyLog } from '../testing/handHome.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { simulatedSun } from '../testing/sun.js';
import type { System } from '../system/schema.js';

const day = (hour: number) => hour % 24;
const lived = (hour: number) => ({
  solar: day(hour) > 8 && day(hour) < 16 ? 3000 : 0,
  load: 600,
  grid: day(hour) > 8 && day(hour) < 16 ? -900 : 100,
  battery: day(hour) > 8 && day(hour) < 16 ? -1500 : 500,
  soc: 0.5 + 0.3 * Math.sin((2 * Math.PI * hour) / 24),
});
const BARE: System = { schema: 'long-tally/system@1', name: 'Bare', timeZone: 'UTC' };
const OFF_GRID: System = {
  ...HAND_HOME,
  configurations: [{ ...HAND_HOME.configurations![0]!, grid: 'none' }],
};
const STORE = { seed: 3, stepSeconds: 900, idleW: 60, efficiency: 0.9, socStep: 0.01 };
const sun = simulatedSun({
  ...{ seed: 4, days: 40, stepSeconds: 900, coupling: 'ac', kWp: 7, ratingKW: 7 },
  ...{ exportLimitKW: 2, hasGrid: true, capacityKWh: 10 },
});

/** Homes and logs from an hour to half a year, with much and with little known; invented. */
const HOMES: readonly (readonly [string, System, SourceLog])[] = [
  ...[1, 2, 7, 40].map((days) => [`a home of ${days} days`, HAND_HOME, hourlyLog(days, lived)] as const),
  ...[1, 3].map((days) => [`a bare home of ${days} days`, BARE, hourlyLog(days, lived)] as const),
  ['only a load', BARE, hourlyLog(2, () => ({ load: 400 }))],
  ['a load that never flows', HAND_HOME, hourlyLog(2, () => ({ load: 0, solar: 0, grid: 0 }))],
  ['one that knows nothing', HAND_HOME, hourlyLog(2, () => ({ load: NaN }))],
  ['one without a grid', OFF_GRID, hourlyLog(5, (hour) => ({ ...lived(hour), grid: 0 }))],
  [
    'one with an outage',
    HAND_HOME,
    hourlyLog(5, (hour) => ({ ...lived(hour), gridUp: hour === 30 ? 0 : 1 })),
  ],
  ...[3, 20, 180].map(
    (days) => [`a store of ${days} days`, STORE_HOME, simulatedStore({ ...STORE, days })] as const,
  ),
  ['a limit of export', sun.system, sun.log],
];

/** Every sentence of a report: findings, reasons, workings, assumptions. */
function sentences({ findings, figures }: ReturnType<typeof analyse>): string[] {
  return [
    ...findings.map(({ message }) => message),
    ...Object.values(figures).flatMap(({ reason, working, assumptions }) => [
      reason ?? [],
      ...working.map(({ label }) => label),
      ...assumptions,
    ]),
  ].flat();
}

describe.each(HOMES)('what the report says of %s', (_, system, log) => {
  const report = analyse(system, [log]);
  const said = sentences(report);

  test('has neither the words of a program nor a plural of one', () => {
    expect(said.filter((text) => /undefined|NaN|null|Infinity|\[object|e[-+]\d/.test(text))).toEqual([]);
    // “1 of”, “1 is”, a unit: words that end in s beside a one and are no plural.
    const plurals = said.filter((text) =>
      /(?<![\d.,–-])1 (?:[a-z]{3,} )?(?!(?:is|was|has|less|this|its|does)\b)[a-z]{2,}s\b/.test(text),
    );
    expect(plurals).toEqual([]);
  });

  test('begins and ends as a sentence where it is one', () => {
    const { findings, figures } = report;
    const whole = [
      ...findings.map(({ message }) => message),
      ...Object.values(figures).flatMap(({ reason }) => reason ?? []),
      ...Object.values(figures).flatMap(({ assumptions }) => assumptions),
    ];
    expect(
      whole.filter(
        (text) => !/^[\p{Lu}\d“λP]/u.test(text) || !/[.?]$/.test(text) || / {2}| [.,;]/.test(text),
      ),
    ).toEqual([]);
  });

  test('has for every figure bounds around its value, or a reason', () => {
    for (const [key, { value, low, high, reason, status }] of Object.entries(report.figures)) {
      if (value === null) expect([key, reason === null || reason === '']).toEqual([key, false]);
      else
        expect([
          key,
          status === 'insufficient',
          low! <= value && value <= high!,
          Number.isFinite(value),
        ]).toEqual([key, false, true, true]);
    }
  });
});
