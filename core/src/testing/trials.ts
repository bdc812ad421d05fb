import { evaluateTrial } from '../books/trial/evaluate.js';
import { trialOf, type TrialFile } from '../books/trial/trialFile.js';
import type { System } from '../system/schema.js';

export type Battery = NonNullable<NonNullable<System['configurations']>[number]['battery']>;

/** A home with a battery and an inverter, described and nothing more. */
export const homeOf = (battery: Battery, inverter = {}): System => ({
  schema: 'long-tally/system@1',
  name: 'Trial home',
  timeZone: 'UTC',
  configurations: [{ from: '2020-01-01T00:00:00Z', battery, inverter }],
});
/** One of six modules. */
export const SIX = homeOf({ modules: 6, moduleKWh: 13.5, usableShare: 1, cutOff: 0.05 });
/** An instant, hours after the evening on which the trials begin. */
export const at = (hours: number) => new Date(Date.UTC(2024, 4, 1, 18) + hours * 3_600_000).toISOString();
/** A trial of readings. */
export const trial = (
  kind: TrialFile['kind'],
  readings: TrialFile['readings'],
  more: Partial<TrialFile> = {},
) => trialOf({ schema: 'long-tally/trial@1', kind, readings, ...more });
/** What a trial gives. */
export const evaluated = (
  kind: TrialFile['kind'],
  readings: TrialFile['readings'],
  system = SIX,
  more: Partial<TrialFile> = {},
) => evaluateTrial(trial(kind, readings, more), system, null, 'trial.json');
/** The values of its figures, by what stands behind `trial.`. */
export const values = (result: ReturnType<typeof evaluateTrial>) =>
  Object.fromEntries(Object.entries(result.figures).map(([key, { value }]) => [key.slice(6), value]));

/** The first reading of a drawdown. */
export const START = { at: at(0), soc: 1, chargeKWh: 812.4, dischargeKWh: 760.1, isTapered: true };
/** Readings of a drawdown of so many kWh in eight hours. */
export const drawn = (kWh: number, soc = 0.4) => [
  START,
  { at: at(8), soc, chargeKWh: 812.4, dischargeKWh: 760.1 + kWh },
];
