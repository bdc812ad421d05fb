import { plural } from '../../model/counted.js';
import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Method,
} from '../../model/figure.js';
import { hysteresisOf, type TurningPoint } from '../../passes/turningPoints.js';
import { numbersOf } from '../../statistics/numbersOf.js';
import { rainflow } from '../../statistics/rainflow.js';
import { configurationAt, type Configuration } from '../../system/configuration.js';
import { isoOf } from '../../time/instant.js';
import { depthHalf, shareOfFull } from './usage.js';
import { lackOf } from '../shared/lacking.js';
import { halfDigit, percent } from '../shared/uncertainty.js';
import { perYear, type RangeData } from '../../passes/rangeData.js';

const ASTM = 'Rainflow counting: ASTM E1049-85 (reapproved), 5.4.4 (from memory).';
export const COUNT: Method = {
  id: 'wear.rainflow',
  formula: 'Σ count of rainflow cycles of the state of charge',
  source: ASTM,
};
export const DEPTHS: Method = {
  id: 'wear.rainflow-depth',
  formula: 'Σ count × depth of rainflow cycles of the state of charge',
  source: ASTM,
};
export const DAMAGE: Method = {
  id: 'wear.miner',
  formula: 'Σ count ÷ cycles to the end of life at that depth',
  source: 'Palmgren (1924); M. A. Miner, Journal of Applied Mechanics 12 (1945).',
};
const NO_CYCLE =
  'The state of charge makes no full swing in this range. A charge and a discharge would supply one.';

/** A cycle of the state of charge. Depth and mean are shares of the usable capacity. */
export interface SocCycle {
  readonly depth: number;
  readonly mean: number;
  readonly count: 0.5 | 1;
  readonly fromMs: number;
  readonly toMs: number;
}

/** Cycles to the end of life at a depth of discharge. */
export interface LifePoint {
  readonly depth: number;
  readonly cycles: number;
}

export const DEPTH_MAX: Method = {
  id: 'wear.depth.deepest',
  formula: 'largest range of the rainflow cycles of the state of charge',
  source: 'ASTM E1049-85 (reapproved), 5.4.4 (from memory).',
};

/** Taken where the system does not say better: an assumption, no data sheet. */
export const ASSUMED_LIFE: readonly LifePoint[] = [
  { depth: 0.1, cycles: 60_000 },
  { depth: 0.3, cycles: 18_000 },
  { depth: 0.5, cycles: 9_500 },
  { depth: 0.8, cycles: 5_500 },
  { depth: 1, cycles: 4_000 },
];

/** Rainflow cycles of the state of charge, each sequence of turning points by itself, in order of their closing. */
export function socCycles(turningPoints: readonly TurningPoint[]): SocCycle[] {
  const found: SocCycle[] = [];
  let from = turningPoints.findIndex(({ begins }) => begins);
  while (from >= 0 && from < turningPoints.length) {
    let end = from + 1;
    while (end < turningPoints.length && !turningPoints[end]!.begins) end++;
    const own = turningPoints.slice(from, end);
    for (const { range, mean, count, from: a, to: b } of rainflow(numbersOf(own, ({ soc }) => soc)))
      found.push({ depth: range, mean, count, fromMs: own[a]!.atMs, toMs: own[b]!.atMs });
    from = end;
  }
  return found;
}

/** The cycle-life curve of a configuration, and whether it is described or assumed. */
export function lifeOf({ described }: Configuration): {
  readonly points: readonly LifePoint[];
  readonly isAssumed: boolean;
} {
  const points = described?.battery?.cycleLife;
  if (!points?.length) return { points: ASSUMED_LIFE, isAssumed: true };
  return { points: [...points].sort((a, b) => a.depth - b.depth), isAssumed: false };
}

/**
 * Cycles to the end of life by depth: straight lines between points in the logarithms of both, the ends carried on; through a single
 * point life is as long as the depth is small.
 */
export function lifeCurve(points: readonly LifePoint[]): (depth: number) => number {
  const pieces = points.slice(0, Math.max(1, points.length - 1)).map((a, k) => {
    const b = points[k + 1];
    return {
      from: Math.log(a.depth),
      cycles: Math.log(a.cycles),
      toDepth: b?.depth ?? Infinity,
      slope: b ? Math.log(b.cycles / a.cycles) / Math.log(b.depth / a.depth) : -1,
    };
  });
  return (depth) => {
    let k = 0;
    while (k < pieces.length - 1 && pieces[k]!.toDepth < depth) k++;
    const { from, cycles, slope } = pieces[k]!;
    return Math.exp(cycles + slope * (Math.log(depth) - from));
  };
}

/** Share of a life that a cycle takes, each by the curve of its configuration. */
export function damageBy(configurations: readonly Configuration[]): (cycle: SocCycle) => number {
  const curves = new Map(configurations.map((one) => [one, lifeCurve(lifeOf(one).points)]));
  return ({ count, depth, fromMs }) => count / curves.get(configurationAt(configurations, fromMs))!(depth);
}

/** Cycles by rainflow, what they add up to in depth, and the share of life that a cycle-life curve gives them. */
export function cycleFigures(data: RangeData): Record<string, Figure> {
  const cycles = lackOf(data, ['soc']) ? [] : socCycles(data.turningPoints);
  return {
    'wear.depth.max': deepest(data, cycles),
    'wear.cycles.rainflow': counted(data, cycles),
    'wear.cycles.rainflowDepth': depths(data, cycles),
    'wear.damage': damage(data, cycles),
  };
}

/** The deepest of all cycles: a winter's slow slide with small recoveries is one deep cycle. */
function deepest(data: RangeData, cycles: readonly SocCycle[]): Figure {
  if (cycles.length === 0) return refused(data, 'share', DEPTH_MAX);
  const { depth: value, fromMs, toMs } = cycles.reduce((deep, one) => (one.depth > deep.depth ? one : deep));
  const half = depthHalf(data);
  return measured(shareOfFull(value, half), {
    unit: 'share',
    method: DEPTH_MAX,
    basis: { at: isoOf(Math.min(fromMs, toMs)), to: isoOf(Math.max(fromMs, toMs)), cycles: cycles.length },
    working: [
      { label: 'largest range of the rainflow cycles', value, unit: 'share', role: 'result' },
      { label: 'SOC accuracy and last digit', value: half, unit: 'share', role: 'uncertainty' },
    ],
  });
}

function refused(data: RangeData, unit: 'cycles' | 'share', method: Method): Figure {
  const lack = lackOf(data, ['soc']);
  return lack ? notMeasured(unit, method, lack) : insufficient(unit, method, NO_CYCLE);
}

function basisOf(data: RangeData, cycles: readonly SocCycle[], value: number) {
  return {
    aYear: perYear(value, data.total.socS),
    cycles: cycles.length,
    turningPoints: data.turningPoints.length,
    hysteresis: percent(hysteresisOf(data.log)),
  };
}

function counted(data: RangeData, cycles: readonly SocCycle[]): Figure {
  if (cycles.length === 0) return refused(data, 'cycles', COUNT);
  // Swings about as small as the hysteresis may count or not, as the last digit falls.
  const edge = 1.5 * hysteresisOf(data.log);
  let [whole, half, doubtful] = [0, 0, 0];
  for (const { count, depth } of cycles) {
    if (count === 1) whole += count;
    else half += count;
    if (depth < edge) doubtful += count;
  }
  const value = whole + half;
  return measured(
    { value, low: value - doubtful, high: value + doubtful },
    {
      unit: 'cycles',
      method: COUNT,
      basis: basisOf(data, cycles, value),
      working: [
        { label: 'whole cycles', value: whole, unit: 'cycles', role: 'input' },
        { label: '+ half cycles', value: half, unit: 'cycles', role: 'input' },
        { label: 'cycles', value, unit: 'cycles', role: 'result' },
        {
          label: `swings of less than ${percent(edge)}, which the last digit may hide or make`,
          value: doubtful,
          unit: 'cycles',
          role: 'uncertainty',
        },
      ],
    },
  );
}

function depths(data: RangeData, cycles: readonly SocCycle[]): Figure {
  if (cycles.length === 0) return refused(data, 'cycles', DEPTHS);
  const value = cycles.reduce((sum, { depth, count }) => sum + depth * count, 0);
  const number = cycles.reduce((sum, { count }) => sum + count, 0);
  // The last digit errs at every turn by itself, the monitor's scale the same way throughout.
  const digits = halfDigit(data.log.channels.get('soc')) * Math.sqrt(2 * number);
  const scale = data.accuracy.soc * value;
  const half = Math.hypot(digits, scale);
  return measured(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'cycles',
      method: DEPTHS,
      basis: basisOf(data, cycles, value),
      working: [
        { label: 'cycles', value: number, unit: 'cycles', role: 'input' },
        { label: '× their mean depth', value: value / number, unit: 'share', role: 'input' },
        { label: 'full cycles by the state of charge', value, unit: 'cycles', role: 'result' },
        { label: 'scale of the monitor', value: scale, unit: 'cycles', role: 'uncertainty' },
        { label: 'last digit of SOC', value: digits, unit: 'cycles', role: 'uncertainty' },
      ],
      assumptions: ['Equals the equivalent full cycles of the same state of charge.'],
    },
  );
}

function damage(data: RangeData, cycles: readonly SocCycle[]): Figure {
  if (cycles.length === 0) return refused(data, 'share', DAMAGE);
  const damageOf = damageBy(data.configurations);
  const bands = cycleBands(cycles).map(({ label, own }) => ({
    label,
    value: own.reduce((sum, cycle) => sum + damageOf(cycle), 0),
    unit: 'share' as const,
    role: 'input' as const,
  }));
  const value = bands.reduce((sum, band) => sum + band.value, 0);
  const isAssumed = data.parts.some(({ configuration }) => lifeOf(configuration).isAssumed);
  // A data sheet's curve is good to a third at best; an assumed one may be off by half or by double.
  const factor = isAssumed ? 2 : 1.33;
  return estimated(
    { value, low: value / factor, high: value * factor },
    {
      unit: 'share',
      method: DAMAGE,
      basis: basisOf(data, cycles, value),
      working: [...bands, { label: 'share of a life', value, unit: 'share', role: 'result' }],
      assumptions: [
        isAssumed
          ? 'The cycle-life curve is an assumption, no data sheet: describe the battery’s own to replace it.'
          : 'The cycle-life curve is the one described for the battery.',
        'Age, heat and time spent full wear a battery beside its cycles; this counts cycles alone.',
      ],
    },
  );
}

function cycleBands(cycles: readonly SocCycle[]) {
  const bounds = [0, 0.2, 0.4, 0.6, 0.8, Infinity];
  const bands = bounds.slice(1).map((): SocCycle[] => []);
  for (const cycle of cycles) bands[bounds.findIndex((bound) => cycle.depth < bound) - 1]?.push(cycle);
  return bands.flatMap((own, k) => {
    const count = own.reduce((sum, cycle) => sum + cycle.count, 0);
    const label = `${count} ${plural(count, 'cycle')} of ${Math.round(100 * bounds[k]!)} to ${Math.round(100 * Math.min(1, bounds[k + 1]!))} %`;
    return own.length > 0 ? [{ label, own }] : [];
  });
}
