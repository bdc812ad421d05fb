/**
 * Simulated homes with known outages of 7 minutes to 31 hours: how many are found by the voltage and without it, what is
 * invented, and how often what came lies within what could be expected.
 */
import { endMs, outagesView, prepare, type Range, type SourceLog } from '@long-tally/core';
import { drawnOutages, ISLAND_HOME, simulatedIslands, type TrueOutage } from '../core/src/testing/islands.js';

const HOMES = 20;
const DAYS = 200;
const STEPS = [1, 5, 15];

interface Row {
  readonly minutes: number;
  all: number;
  readonly found: Record<'voltage' | 'none', number>;
  /** Share of their time, summed. */
  readonly time: Record<'voltage' | 'none', number>;
}

function coursesOf(log: SourceLog) {
  return outagesView(prepare(ISLAND_HOME, [log]), { fromMs: log.startMs, toMs: endMs(log) });
}

/** Prints the tables. */
export function printOutages(): void {
  const [first] = STEPS;
  console.log(`\nOutages of ${HOMES} simulated homes of ${DAYS} days for each step\n`);
  for (const step of STEPS) {
    const rows = new Map<number, Row>();
    const invented = { voltage: 0, none: 0 };
    const held = { all: [0, 0], emptied: [0, 0], charge: [0, 0] };
    const count = (of: number[], isHeld: boolean) => {
      of[0]! += isHeld ? 1 : 0;
      of[1]!++;
    };
    // A minute's log is ten times the work of ten minutes'.
    const homes = step === first ? HOMES / 4 : HOMES;
    for (let seed = 1; seed <= homes; seed++)
      for (const sign of ['voltage', 'none'] as const) {
        const truth = {
          seed,
          days: DAYS,
          stepSeconds: step * 60,
          outages: drawnOutages(seed, DAYS),
          hasVoltage: sign === 'voltage',
        };
        const { log, outages } = simulatedIslands(truth);
        const course = coursesOf(log);
        const shared = (one: Range, other: Range) =>
          Math.max(0, Math.min(one.toMs, other.toMs) - Math.max(one.fromMs, other.fromMs));
        const truthOf = (found: Range): TrueOutage | undefined =>
          outages.find((one) => shared(one, found) > 0);
        for (const one of outages) {
          const minutes = Math.round((one.toMs - one.fromMs) / 60_000);
          const row = rows.get(minutes) ?? {
            minutes,
            all: 0,
            found: { voltage: 0, none: 0 },
            time: { voltage: 0, none: 0 },
          };
          rows.set(minutes, row);
          if (sign === 'voltage') row.all++;
          const seenMs = course.outages.reduce((sum, found) => sum + shared(one, found), 0);
          if (seenMs > 0) row.found[sign]++;
          row.time[sign] += seenMs / (one.toMs - one.fromMs);
        }
        invented[sign] += course.outages.filter((found) => !truthOf(found)).length;
        invented[sign] += coursesOf(simulatedIslands({ ...truth, outages: [] }).log).outages.length;
        if (sign === 'none') continue;
        for (const found of course.outages) {
          const { expected } = found;
          if (!expected || expected.isHeld === null) continue;
          count(held.all, expected.isHeld);
          if (truthOf(found)?.emptyMs != null) count(held.emptied, expected.isHeld);
          if (!expected.charge) continue;
          const { reckoned, was } = expected.charge;
          count(held.charge, reckoned.low <= was && was <= reckoned.high);
        }
      }
    console.log(`step ${step} min: lasted, min   found by voltage (share of their time)   without it`);
    for (const { minutes, all, found, time } of [...rows.values()].sort((a, b) => a.minutes - b.minutes))
      console.log(
        `${String(minutes).padStart(24)}   ${(['voltage', 'none'] as const)
          .map((sign) => `${found[sign]}/${all} (${((100 * time[sign]) / all).toFixed(0)} %)`.padStart(16))
          .join('   ')}`,
      );
    const part = ([in_, all]: number[]) => `${in_}/${all} (${((100 * in_!) / all!).toFixed(0)} %)`;
    console.log(
      `invented in as many homes with and as many without outages: ${invented.voltage} by voltage, ${invented.none} without; what came lies within what could be expected: ${part(held.all)}, of those that ran empty ${part(held.emptied)}; the charge at the end within its reckoning: ${part(held.charge)}`,
    );
  }
}
