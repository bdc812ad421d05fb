/**
 * Trials as they are read from displays, against simulated truth: the capacity and the units that answer over digits, falls,
 * units, draws and a sun that shone in; the idle draw by shunt, counters and the fall of the charge; the projection of a run.
 */
import { evaluateTrial, isoOf, trialOf, type System, type TrialFile } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { normal } from './fits.js';

const RUNS = 300;
const START_MS = Date.UTC(2024, 4, 1, 18);

function homeOf(units: number, idleW: number): System {
  return {
    schema: 'long-tally/system@1',
    name: 'Simulated trial',
    timeZone: 'UTC',
    configurations: [
      {
        from: '2020-01-01T00:00:00Z',
        battery: { modules: units, moduleKWh: 10, usableShare: 1, cutOff: 0.02 },
        inverter: { statedIdleW: Math.round(idleW) },
      },
    ],
  };
}

const at = (hours: number) => isoOf(START_MS + hours * 3_600_000);
const snap = (value: number, digit: number) => Number((Math.round(value / digit) * digit).toFixed(4));
const evaluated = (kind: TrialFile['kind'], readings: TrialFile['readings'], system: System) =>
  evaluateTrial(trialOf({ schema: 'long-tally/trial@1', kind, readings }), system, null, 'trial.json');

function share(part: number, of: number): string {
  return of === 0 ? '–' : `${((100 * part) / of).toFixed(1)} %`;
}

/** Prints the tables. */
export function printTrials(): void {
  printDrawdowns();
  printIdle();
  printRuns();
}

function printDrawdowns(): void {
  const random = seededRandom(15);
  console.log(`\nDrawdowns of 1 to 8 units, ${RUNS} a line, draws of 5 to 460 W, counter error 1 %\n`);
  console.log('SOC step  counter  fall       sun   capacity off  held    width   unit out found   invented');
  for (const soc of [0.001, 0.01])
    for (const digit of [0.1, 1])
      for (const [least, most] of [
        [0.3, 0.6],
        [0.6, 0.95],
      ] as const)
        for (const hasSun of [false, true]) {
          const sum = {
            told: 0,
            off: 0,
            held: 0,
            width: 0,
            out: 0,
            found: 0,
            whole: 0,
            invented: 0,
            voided: 0,
          };
          for (let run = 0; run < RUNS; run++) {
            const units = 1 + Math.floor(8 * random());
            const idleW = 5 + 455 * random() ** 2;
            const fall = least + (most - least) * random();
            const isOut = units > 1 && run % 2 === 0;
            const capacity = 10 * units * 0.96 * (isOut ? (units - 1) / units : 1);
            const hours = 6 + 6 * random();
            // A sun that charges in mid-test moves the charge counter, and what went in comes out again.
            const charged = hasSun ? 0.3 * random() * capacity * fall : 0;
            const own = capacity * fall * (1 + 0.008 * normal(random)) - (idleW * hours) / 1000;
            const kWh = (own + 0.9 * charged) * (1 + 0.01 * normal(random));
            if (kWh < 2) continue;
            const begin = 500 + 100 * random();
            const { figures, verdict } = evaluated(
              'drawdown',
              [
                {
                  at: at(0),
                  soc: 1,
                  isTapered: true,
                  dischargeKWh: snap(begin, digit),
                  chargeKWh: snap(50, digit),
                },
                {
                  at: at(hours),
                  soc: snap(1 - fall, soc),
                  dischargeKWh: snap(begin + kWh, digit),
                  chargeKWh: snap(50 + charged, digit),
                },
              ],
              homeOf(units, idleW),
            );
            if (verdict.code === 'invalid') sum.voided++;
            const figure = figures['trial.capacity']!;
            if (figure.value === null) continue;
            sum.told++;
            sum.off += figure.value / capacity - 1;
            sum.width += (figure.high! - figure.low!) / figure.value;
            if (figure.low! <= capacity && capacity <= figure.high!) sum.held++;
            if (isOut) sum.out++;
            else sum.whole++;
            if (verdict.code === 'one-unit-may-be-out') sum[isOut ? 'found' : 'invented']++;
          }
          const { told, off, held, width, out, found, whole, invented, voided } = sum;
          console.log(
            `${`${100 * soc} %`.padStart(8)}  ${String(digit).padStart(7)}  ${least}–${String(most).padEnd(5)} ${hasSun ? `void ${share(voided, RUNS)}`.padStart(12) : '        none'}  ${share(off / Math.max(1, told), 1).padStart(9)}  ${share(held, told).padStart(7)}  ${share(width / Math.max(1, told), 1).padStart(7)}  ${share(found, out).padStart(14)}  ${share(invented, whole).padStart(9)}`,
          );
        }
}

function printIdle(): void {
  const random = seededRandom(16);
  console.log(`\nIdle draws of 5 to 460 W over 8 to 12 h, ${RUNS} a line\n`);
  console.log('read by    told   off W   held   width W');
  for (const by of ['shunt', 'counters', 'charge'] as const) {
    const sum = { told: 0, off: 0, held: 0, width: 0 };
    for (let run = 0; run < RUNS; run++) {
      const units = 1 + Math.floor(3 * random());
      const idleW = 5 + 455 * random() ** 2;
      const hours = 8 + 4 * random();
      const kWh = (idleW * hours) / 1000;
      const begin = 300 + random();
      const gain = 1 + 0.015 * normal(random);
      const reading = (passed: number) => {
        if (by === 'shunt') return { batteryW: Math.round(idleW * gain + 3 * normal(random)), loadW: 0 };
        return by === 'counters'
          ? { dischargeKWh: snap(begin + kWh * gain * passed, 0.1), chargeKWh: 5 }
          : { soc: snap(0.8 - (kWh / (10 * units)) * passed, 0.01) };
      };
      const { figures } = evaluated(
        'idle',
        [0, 0.33, 0.66, 1].map((passed) => ({ at: at(hours * passed), ...reading(passed) })),
        homeOf(units, 60),
      );
      const figure = figures['trial.idleW']!;
      if (figure.value === null) continue;
      sum.told++;
      sum.off += figure.value - idleW;
      sum.width += figure.high! - figure.low!;
      if (figure.low! <= idleW && idleW <= figure.high!) sum.held++;
    }
    const { told, off, held, width } = sum;
    console.log(
      `${by.padEnd(9)} ${`${told}/${RUNS}`.padStart(7)}  ${(off / told).toFixed(1).padStart(5)}  ${share(held, told).padStart(6)}  ${(width / told).toFixed(0).padStart(6)}`,
    );
  }
}

function printRuns(): void {
  const random = seededRandom(17);
  console.log(
    `\nProjection of a run of 24 h from its checkpoints, hourly loads that differ by a third, ${RUNS} a line\n`,
  );
  console.log('checkpoint   told   charge at the goal off   held   width');
  for (const after of [4, 8, 16]) {
    const sum = { told: 0, off: 0, held: 0, width: 0 };
    for (let run = 0; run < RUNS; run++) {
      const usual = 0.01 + 0.02 * random();
      let soc = 1;
      const course = [soc];
      for (let hour = 0; hour < 24; hour++) {
        soc -= usual * Math.max(0.2, 1 + 0.33 * normal(random));
        course.push(Math.max(0.02, soc));
      }
      const readings = course
        .slice(0, after + 1)
        .flatMap((level, hour) => (hour % 2 === 0 ? [{ at: at(hour), soc: snap(level, 0.01) }] : []));
      const trial = trialOf({
        schema: 'long-tally/trial@1',
        kind: 'off-grid-run',
        goal: { until: at(24) },
        readings,
      });
      const figure = evaluateTrial(trial, homeOf(2, 60), null, 'trial.json').figures['trial.socAtGoal']!;
      if (figure.value === null) continue;
      const real = course.at(-1)!;
      sum.told++;
      sum.off += figure.value - real;
      sum.width += figure.high! - figure.low!;
      if (figure.low! <= real && real <= figure.high!) sum.held++;
    }
    const { told, off, held, width } = sum;
    console.log(
      `${`${after} h`.padStart(10)}  ${`${told}/${RUNS}`.padStart(7)}  ${(off / Math.max(1, told)).toFixed(3).padStart(22)}  ${share(held, told).padStart(6)}  ${(width / Math.max(1, told)).toFixed(2).padStart(6)}`,
    );
  }
}
