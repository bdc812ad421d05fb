/**
 * Simulated homes whose capacity fades as is known: how far the rate lies from the truth, how often its interval holds
 * it, and what is said where a monitor hides it. Meters err by a gain of their own that drifts a little, displays by a scale.
 */
import { endMs, prepare, report, type SourceLog } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { simulatedStore, STORE_HOME, type Truth } from '../core/src/testing/store.js';
import { count, normal, tally } from './fits.js';

const RUNS = 10;
const FADES = [0, 0.01, 0.03];
const SEASONS = ['none', 'temperature logged', 'temperature not logged'] as const;
/** Half-width of the gain of a battery's meter at 95 %. */
const GAIN = 0.03;
/** Such a meter keeps its gain over the log to a share of its accuracy; a monitor counts what is missing to full so well. */
const KEEPS = 0.05;
const SOC_OFF = 0.03;

type Season = (typeof SEASONS)[number];

function logOf(truth: Truth, season: Season): SourceLog {
  const log = simulatedStore(season === 'none' ? truth : { ...truth, season: 0.06 });
  if (season !== 'temperature not logged') return log;
  const columns = new Map(log.columns);
  columns.delete('batteryTemp');
  return { ...log, columns };
}

function figuresOf(log: SourceLog) {
  return report(prepare(STORE_HOME, [log]), { fromMs: log.startMs, toMs: endMs(log) }, 'days').figures;
}

/** Prints the table. */
export function printFades(): void {
  const random = seededRandom(1968);
  const truthOf = (years: number, stepSeconds: number, fadeAYear: number): Truth => ({
    seed: Math.floor(random() * 1e9),
    days: Math.round(365.25 * years),
    stepSeconds,
    idleW: 15 + 80 * random(),
    efficiency: 0.84 + 0.1 * random(),
    socStep: 0.01,
    batteryGain: 1 + (GAIN / 1.96) * normal(random),
    gainDriftAYear: ((KEEPS * GAIN) / 1.96 / Math.max(1, years)) * normal(random),
    socScale: 1 + (SOC_OFF / 1.96) * normal(random),
    fadeAYear,
  });
  console.log(`\nFade from simulated logs, SOC in steps of 1 %, ${RUNS} homes a line, % a year\n`);
  console.log(
    'years  step min  season                   fade   told      off  held   year on year held  level held',
  );
  const all = new Map(
    FADES.map((fade) => [fade, { rate: tally(), byYears: tally(), level: tally() }] as const),
  );
  for (const years of [1, 2, 3, 5])
    for (const minutes of years === 1 ? [1, 5, 30] : [5, 30])
      for (const season of SEASONS)
        for (const fade of FADES) {
          const line = { rate: tally(), byYears: tally(), level: tally() };
          for (let run = 0; run < RUNS; run++) {
            const truth = truthOf(years, minutes * 60, fade);
            const figures = figuresOf(logOf(truth, season));
            // Against the level of the first 90 days.
            const real = fade / (1 - fade * 0.12);
            const level = 10 * Math.sqrt(truth.efficiency) * (1 - fade * years);
            for (const into of [line, all.get(fade)!]) {
              count(into.rate, figures['capacity.fadePerYear']!, real);
              count(into.byYears, figures['capacity.fadePerYear.yearOnYear']!, real);
              count(into.level, figures['capacity.now']!, level);
            }
          }
          const { rate, byYears, level } = line;
          const part = ({ told, held }: typeof rate) => (told === 0 ? '–' : `${held}/${told}`);
          console.log(
            `${String(years).padStart(5)}  ${String(minutes).padStart(8)}  ${season.padEnd(23)}  ${(100 * fade).toFixed(0).padStart(4)}   ${`${rate.told}/${RUNS}`.padStart(4)}  ${(rate.told === 0 ? '–' : ((100 * rate.off) / rate.told).toFixed(2)).padStart(7)}  ${part(rate).padStart(4)}   ${part(byYears).padStart(17)}  ${part(level).padStart(10)}`,
          );
        }
  for (const [fade, tallies] of all)
    for (const [name, { told, held }] of Object.entries(tallies))
      console.log(
        `${100 * fade} % a year, ${name}: told in ${told} homes, the interval holds the truth in ${((100 * held) / told).toFixed(1)} %`,
      );
  for (const years of [2, 5]) {
    let [own, off] = [0, 0];
    const drifts = tally();
    for (let run = 0; run < RUNS; run++) {
      const figures = figuresOf(simulatedStore({ ...truthOf(years, 300, 0.03), relearns: false }));
      const fade = figures['capacity.fadePerYear']!;
      count(drifts, figures['capacity.cutOff.drift']!, 0.95 * 0.03);
      if (fade.basis['scale'] === 'the monitor’s own' && fade.status === 'estimated') own++;
      off += fade.value! - 0.03;
    }
    console.log(
      `monitor that does not relearn, ${years} years, 3 % a year: off by ${((100 * off) / RUNS).toFixed(2)}; told as the monitor's own scale in ${own} of ${RUNS} homes; the drift of the charge at the cut-off is told in ${drifts.told}, off by ${((100 * drifts.off) / drifts.told).toFixed(2)}, its interval holds it in ${drifts.held}`,
    );
  }
}
