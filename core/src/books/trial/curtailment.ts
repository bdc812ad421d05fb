import { counterCheck, overLimitCheck } from './commonChecks.js';
import { read, reckoned, untold } from './evaluated.js';
import { energyOf, loggedCourse, typedCourse, type TrialMaterial } from './trialMaterial.js';
import { check, type TrialOutcome } from './trialResult.js';

/** Solar below this share of the highest is off; below the other it gives less. */
const OFF = 0.05;
const LESS = 0.9;
/** A frequency this far above 50 or 60 Hz is raised on purpose. */
const RAISED_HZ = 0.15;
const FULL = 0.95;

interface Point {
  readonly atMs: number;
  readonly solarW: number;
  readonly soc: number;
  readonly hz: number;
}

/** An island with a full battery: the charge at which solar stops and comes back, and whether it ramps with the frequency. */
export function curtailment(material: TrialMaterial): TrialOutcome {
  const { trial } = material;
  const points = pointsOf(material);
  const highest = Math.max(...points.map(({ solarW }) => solarW), -Infinity);
  const off =
    points.find(({ solarW, soc }) => solarW < OFF * highest && soc >= FULL)?.atMs ??
    trial.readings.find(({ event }) => event === 'solar-off')?.atMs;
  const noted = trial.readings.find(
    ({ event, atMs }) => event === 'solar-on' && (off === undefined || atMs > off),
  );
  const resumed =
    noted?.soc ??
    (off === undefined
      ? undefined
      : points.find(({ atMs, solarW }) => atMs > off && solarW > 2 * OFF * highest)?.soc);
  const raised = shiftOf(points, highest);
  const solar = energyOf(material, 'solarKWh');
  const isFull =
    points.some(({ soc }) => soc >= FULL) || trial.readings.some(({ soc }) => (soc ?? 0) >= FULL);
  const checks = [
    counterCheck(material),
    check('not-truly-full', points.length + trial.readings.length === 0 ? null : isFull, 'weakens', [
      'The battery was full, so that solar had nowhere to go.',
      'The battery was not full: solar is only held back when it is.',
      'The charge is not known.',
    ]),
    overLimitCheck(material),
  ];
  const between = raised ? raised.between : 0;
  const digit = 0.01;
  return {
    figures: {
      'trial.resumeSoc':
        resumed === undefined || Number.isNaN(resumed)
          ? untold(
              'resumeSoc',
              'A reading of the charge as solar comes back (event "solar-on"), or a log, would supply it.',
            )
          : read('resumeSoc', { value: resumed, half: digit, least: 0, most: 1 }),
      'trial.shiftStartHz': raised
        ? reckoned('shiftStartHz', { value: raised.startHz, half: raised.stepHz })
        : untold(
            'shiftStartHz',
            'Frequency and solar read together (hz, solarW), or a log of both, would supply it.',
          ),
      'trial.shiftEndHz':
        raised?.endHz !== undefined
          ? reckoned('shiftEndHz', { value: raised.endHz, half: raised.stepHz })
          : untold(
              'shiftEndHz',
              'Frequency and solar read together until solar has stopped would supply it.',
            ),
      'trial.solar': solar
        ? read('solar', {
            value: solar.kWh,
            half: Math.hypot(solar.half, material.accuracy.solar * solar.kWh),
            least: 0,
          })
        : untold('solar', 'A solar counter or a log would supply it.'),
      'trial.hours': read('hours', { value: material.hours, half: 0 }),
    },
    checks,
    verdict: !raised
      ? resumed === undefined
        ? {
            code: 'cannot-tell',
            message: 'Solar with charge or frequency is needed while the island runs full.',
          }
        : { code: 'held-back', message: `Solar stopped and came back at ${Math.round(100 * resumed)} %.` }
      : between >= 2
        ? {
            code: 'ramps',
            message: `The solar inverter gives less step by step from ${raised.startHz.toFixed(1)} Hz on.`,
          }
        : {
            code: 'drops-out',
            message: `The solar inverter drops out at once at ${raised.startHz.toFixed(1)} Hz instead of ramping: it may be set to another grid code. Ask the installer.`,
          },
  };
}

function pointsOf(material: TrialMaterial): Point[] {
  const typed = material.trial.readings.flatMap(({ atMs, solarW, soc, hz }) =>
    solarW === undefined ? [] : [{ atMs, solarW, soc: soc ?? NaN, hz: hz ?? NaN }],
  );
  if (typed.length >= 3) return typed;
  const byMs = (quantity: 'soc' | 'islandHz' | 'gridHz') =>
    new Map(loggedCourse(material, quantity).map(({ atMs, value }) => [atMs, value]));
  const [soc, island, grid] = [byMs('soc'), byMs('islandHz'), byMs('gridHz')];
  const logged = loggedCourse(material, 'solar').map(({ atMs, value }) => ({
    atMs,
    solarW: value,
    soc: soc.get(atMs) ?? NaN,
    hz: island.get(atMs) ?? grid.get(atMs) ?? NaN,
  }));
  return logged.length > 0
    ? logged
    : typedCourse(material, 'hz').map(({ atMs, value }) => ({ atMs, solarW: NaN, soc: NaN, hz: value }));
}

/** Where in frequency solar begins to give less and where it has stopped; null where none was raised. */
function shiftOf(points: readonly Point[], highest: number) {
  const known = points
    .filter(({ hz, solarW }) => hz > 10 && solarW === solarW)
    .sort((one, other) => one.hz - other.hz);
  const usualHz = (known[0]?.hz ?? 50) > 55 ? 60 : 50;
  const raised = known.filter(({ hz }) => hz > usualHz + RAISED_HZ);
  const start = raised.find(({ solarW }) => solarW < LESS * highest);
  if (!start || raised.length === 0) return null;
  const end = raised.find(({ solarW }) => solarW < OFF * highest);
  const between = raised.filter(({ solarW }) => solarW >= OFF * highest && solarW < LESS * highest).length;
  const before = known.findLast(({ hz }) => hz < start.hz);
  return {
    startHz: start.hz,
    endHz: end?.hz,
    between,
    stepHz: Math.max(0.05, before ? Math.min(0.5, start.hz - before.hz) : 0.05),
  };
}
