import { endMs, type SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { prepare } from '../passes/prepare.js';
import { report } from '../report/report.js';
import { scenarioRunner } from '../books/whatif/scenarioRunner.js';
import type { System } from '../system/schema.js';

export const HOUR_MS = 3_600_000;
export const START_MS = Date.UTC(2024, 0, 1);

/** A home whose runs can be reckoned by hand: ten kWh of which a fifth is kept, two inverters' limits, one tariff. */
export const HAND_HOME: System = {
  schema: 'long-tally/system@1',
  name: 'By hand',
  timeZone: 'UTC',
  currency: 'EUR',
  tariffs: [{ from: '2023-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.1 }] }],
  configurations: [
    {
      from: '2023-01-01T00:00:00Z',
      battery: {
        modules: 2,
        moduleKWh: 5,
        usableShare: 1,
        maxChargeKW: 5,
        maxDischargeKW: 5,
        reserve: 0.2,
        cutOff: 0,
      },
      inverter: { units: 1, batteryOnlyKW: 2, surgeKW: 4, legs: 2, perLegKW: 1.2 },
    },
  ],
};

/** A log by the hour from what is known of each of its hours. */
export function hourlyLog(days: number, at: (hour: number) => Partial<Record<Quantity, number>>): SourceLog {
  const count = 24 * days;
  const cells = Array.from({ length: count }, (_, hour) => at(hour));
  const names = [...new Set(cells.flatMap((cell) => Object.keys(cell)))] as Quantity[];
  return {
    ...{ name: 'by hand', startMs: START_MS, stepMs: HOUR_MS, count, lumps: [], findings: [] },
    columns: new Map(
      names.map((name) => [
        name,
        {
          values: Float64Array.from(cells, (cell) => cell[name] ?? NaN),
          resolution: name === 'soc' ? 0.001 : 1,
        },
      ]),
    ),
  };
}

/** The whole of a log. */
export const rangeOf = (log: SourceLog) => ({ fromMs: log.startMs, toMs: endMs(log) });

/** The runs of a log of a home. */
export const runnerOf = (system: System, log: SourceLog) => {
  const prepared = prepare(system, [log]);
  return scenarioRunner(prepared, rangeOf(log), report(prepared, rangeOf(log)).figures);
};
