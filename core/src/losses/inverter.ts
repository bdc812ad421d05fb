import { insufficient, measured, notMeasured, type Figure, type Method } from '../figure.js';
import { robustFit, type RobustFit } from '../statistics/robustFit.js';
import { combined, zeroOf, type Doubt } from '../uncertainty.js';
import { type View } from '../view.js';
import { doubtLines } from '../account/totals.js';

const TARE: Method = {
  id: 'losses.idle-inverter',
  formula: 'battery’s DC discharge = a + (load − import) ÷ η, by night; a is the idle draw of the inverter',
  source:
    'Tare line of a converter: common practice, no published source; Huber 1964; bootstrap over nights.',
};
const LEAST_NIGHTS = 10;
const LEAST_POINTS = 60;
/** Served power must vary by so much of its mean for the line to have a foot. */
const LEAST_SPREAD = 0.15;

/** The inverter's tare line in a range. */
export interface TareLine {
  readonly fit: RobustFit;
  readonly points: number;
  readonly nights: number;
  readonly spread: number;
}

/** Fits the tare line; null where there are no points at all. */
export function tareLine({ tare, range }: View): TareLine | null {
  if (!tare) return null;
  const from = firstAtOrAfter(tare.fromMs, range.fromMs);
  const to = firstAtOrAfter(tare.fromMs, range.toMs);
  if (to <= from) return null;
  const x = tare.servedW.subarray(from, to);
  const base = tare.night[from]!;
  const night = tare.night.subarray(from, to).map((n) => n - base);
  let [sum, squares] = [0, 0];
  for (const watts of x) {
    sum += watts;
    squares += watts * watts;
  }
  const mean = sum / x.length;
  return {
    fit: robustFit(new Float64Array(x.length).fill(1), x, tare.drawnW.subarray(from, to), night),
    points: x.length,
    nights: night.at(-1)! + 1,
    spread: Math.sqrt(Math.max(0, squares / x.length - mean * mean)) / mean,
  };
}

function firstAtOrAfter(sorted: Float64Array, value: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** True when a tare line tells idle draw from conversion. */
export function isTold({ nights, points, spread }: TareLine): boolean {
  return nights >= LEAST_NIGHTS && points >= LEAST_POINTS && spread >= LEAST_SPREAD;
}

/** The inverter's idle draw by the tare line. */
export function inverterIdle(view: View): Record<string, Figure> {
  return { 'losses.idle.inverter': tareFigure(view) };
}

function tareFigure(view: View): Figure {
  if (!view.tare) {
    return notMeasured(
      'W',
      TARE,
      'The tare line needs the battery’s DC power (battery_dc_w), the load and the grid, each logged by a meter of its own, in steps of 30 minutes or less.',
    );
  }
  const line = tareLine(view);
  if (!line || !isTold(line)) {
    const found = line
      ? `${line.points} half hours in ${line.nights} nights, their load varying by ${Math.round(100 * line.spread)} %`
      : 'none';
    return insufficient(
      'W',
      TARE,
      `The tare line needs ${LEAST_POINTS} half hours by night in ${LEAST_NIGHTS} nights with the battery carrying the home and the load varying by 15 %; here: ${found}.`,
    );
  }
  const { first, firstInterval, second } = line.fit;
  const doubts: Doubt[] = [
    { label: 'battery meter, zero', half: zeroOf(view, 'battery') },
    { label: 'load meter, zero', half: zeroOf(view, 'load') * second },
    { label: 'grid meter, zero', half: zeroOf(view, 'grid') * second },
  ];
  const systematic = combined(doubts);
  return measured(
    {
      value: first,
      low: Math.min(first, Math.max(0, first - Math.hypot(systematic, first - firstInterval[0]))),
      high: first + Math.hypot(systematic, firstInterval[1] - first),
    },
    {
      unit: 'W',
      method: TARE,
      basis: {
        points: line.points,
        nights: line.nights,
        spread: line.spread,
        dischargeEfficiency: 1 / second,
        kWhADay: (first * 24) / 1000,
        kWhAYear: (first * 8766) / 1000,
      },
      working: [
        { label: 'half hours by night on the battery', value: line.points, unit: 'count', role: 'input' },
        { label: 'nights', value: line.nights, unit: 'days', role: 'input' },
        { label: 'slope of the line, 1 ÷ η', value: second, unit: 'share', role: 'step' },
        { label: 'foot of the line: idle draw', value: first, unit: 'W', role: 'result' },
        {
          label: 'bootstrap over nights',
          value: (firstInterval[1] - firstInterval[0]) / 2,
          unit: 'W',
          role: 'uncertainty',
        },
        ...doubtLines(doubts, 1, 'W'),
      ],
      assumptions: [
        'Import is taken from the load first, so that the standby trickle does not pass for the battery’s.',
      ],
    },
  );
}
