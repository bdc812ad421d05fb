import { InputError } from '../../model/problem.js';
import { MONTH_NAMES } from '../../time/months.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import type { Change } from './scenarioFile.js';
import type { ModelRun } from './modelRun.js';
import type { WhatifFigures } from './scenarioFigures.js';
import type { Model } from './scenarioValues.js';

/** A quantity that is swept, the values it takes, and whether each is begun as an outage in every hour as well. */
export interface Sweep {
  readonly key: string;
  readonly values: readonly number[];
  readonly tells: 'everything' | 'energies';
}

/** Whether a sweep reaches a share of days without the grid. */
export interface Reach {
  readonly wanted: number;
  /** The first value that does; null where none does. */
  readonly at: number | null;
  /** The most that any of them has. */
  readonly most: number;
  readonly says: string;
}

/** Where the next step of a sweep adds too little, and why. */
export interface Knee {
  readonly at: number;
  readonly reason: string;
}

/** Share of days without the grid that people ask for. */
export const WANTED_DAYS = 0.95;
/** A step of a sweep that adds less self-sufficiency than this is not worth taking, where nothing else is said. */
export const LEAST_GAIN = 0.01;
const DAY_MS = 86_400_000;

/** The change that sets one quantity, by its key: `battery.modules`, `inverter.units`, `arraysScale.all`, `exportLimitKW`. */
export function changeAt(key: string, at: number): Change {
  const [group, name, ...rest] = key.split('.');
  const isOf = (one: string, names: readonly string[]) =>
    group === one && name !== undefined && rest.length === 0 && names.includes(name);
  if (
    isOf('battery', [
      'modules',
      'moduleKWh',
      'usableShare',
      'reserve',
      'cutOff',
      'maxChargeKW',
      'maxDischargeKW',
    ])
  )
    return { battery: { [name!]: at } };
  if (isOf('inverter', ['units', 'continuousKW', 'batteryOnlyKW'])) return { inverter: { [name!]: at } };
  if (group === 'arraysScale' && name) return { arraysScale: { [[name, ...rest].join('.')]: at } };
  if (['exportLimitKW', 'gridChargeLimitKW', 'idleW'].includes(key)) return { [key]: at };
  throw new InputError([
    {
      where: '--sweep',
      found: `"${key}" cannot be swept.`,
      mend: 'Write for example battery.modules=1..8, battery.reserve=0..0.5:0.1, arraysScale.all=0.5..2:0.25 or exportLimitKW=0..10.',
    },
  ]);
}

/** A point of a sweep. */
export interface SweepPoint<At> {
  readonly at: At;
  readonly figures: WhatifFigures;
  /** Share of its days without the grid; null where there is none. */
  readonly gridFree: number | null;
  /** Month of the year, 0 for January, in which most is bought; null where nothing is. */
  readonly mostBoughtIn: number | null;
}

/** A point from its figures and its run. */
export function sweepPoint<At>(
  at: At,
  figures: WhatifFigures,
  { inputs, home, data }: Model,
  { importByDayKWh, daysKnown }: ModelRun,
): SweepPoint<At> {
  const zone = zoneOf(data.log.zone);
  const bought = new Float64Array(12);
  let known = 0;
  importByDayKWh.forEach((kWh, day) => {
    if (daysKnown[day] !== 1) return;
    known++;
    const noon = inputs.startMs + (day + 0.5) * DAY_MS;
    bought[new Date(noon + offsetAt(zone, noon)).getUTCMonth()]! += kWh;
  });
  const most = Math.max(...bought);
  const free = figures['account.gridFreeDays']!.value;
  return {
    ...{ at, figures },
    gridFree: home.hasGrid && free !== null && known > 0 ? free / known : null,
    mostBoughtIn: most > 0 ? bought.indexOf(most) : null,
  };
}

/**
 * The value after which the next step adds too little self-sufficiency.
 * @param leastGain what a step has to add to be worth taking, as a share of the load
 */
export function kneeOf(key: string, points: readonly SweepPoint<number>[], leastGain: number): Knee | null {
  const of = ({ figures }: SweepPoint<number>) => figures['account.selfSufficiency.supply']!.value ?? NaN;
  for (let k = 0; k + 1 < points.length; k++) {
    const [here, next] = [points[k]!, points[k + 1]!];
    const gain = of(next) - of(here);
    if (gain < leastGain)
      return {
        at: here.at,
        reason: `From ${sweptText(key, here.at)} to ${sweptText(key, next.at)} self-sufficiency by supply gains ${(100 * gain).toFixed(1)} points, less than ${Number((100 * leastGain).toFixed(2))}.`,
      };
  }
  return null;
}

/** Every value of one quantity with every value of another. */
export function crossedOf(one: Sweep, other: Sweep): { at: readonly [number, number]; change: Change }[] {
  return one.values.flatMap((a) =>
    other.values.map((b) => {
      const [first, second] = [changeAt(one.key, a), changeAt(other.key, b)];
      return {
        at: [a, b] as const,
        change: {
          ...first,
          ...second,
          ...(first.battery && second.battery ? { battery: { ...first.battery, ...second.battery } } : {}),
          ...(first.inverter && second.inverter
            ? { inverter: { ...first.inverter, ...second.inverter } }
            : {}),
          ...(first.arraysScale && second.arraysScale
            ? { arraysScale: { ...first.arraysScale, ...second.arraysScale } }
            : {}),
        },
      };
    }),
  );
}

/** A module more that adds less than this share of days is not what is missing. */
const STORAGE_HELPS = 0.02;

/** A swept value in words. */
function sweptText(key: string, at: number): string {
  if (key === 'battery.modules') return `${at} ${at === 1 ? 'module' : 'modules'}`;
  if (key === 'battery.reserve') return `a reserve of ${Number((100 * at).toFixed(1))} %`;
  return `${key} ${at}`;
}

/** Where a sweep first has nearly all of its days without the grid, and else which month keeps it from that. */
export function reachOf(key: string, points: readonly SweepPoint<number>[]): Reach | null {
  const shares = points.map(({ gridFree }) => gridFree ?? 0);
  if (shares.length === 0) return null;
  const most = Math.max(...shares);
  const first = shares.findIndex((share) => share >= WANTED_DAYS);
  if (first >= 0)
    return {
      wanted: WANTED_DAYS,
      at: points[first]!.at,
      most,
      says: `${100 * WANTED_DAYS} % of days without the grid are reached with ${sweptText(key, points[first]!.at)}.`,
    };
  const { at, mostBoughtIn } = points[shares.indexOf(most)]!;
  // More modules that hardly help find nothing to store.
  const isStorage = key === 'battery.modules' && shares.length > 1 && most - shares.at(-2)! < STORAGE_HELPS;
  return {
    wanted: WANTED_DAYS,
    at: null,
    most,
    says: `${100 * WANTED_DAYS} % of days without the grid are not reached: at most ${(100 * most).toFixed(0)} %, with ${sweptText(key, at)}.${mostBoughtIn === null ? '' : ` Most is still bought in ${MONTH_NAMES[mostBoughtIn]!}${isStorage ? ': the sun is missing there, not the storage' : ''}.`}`,
  };
}
