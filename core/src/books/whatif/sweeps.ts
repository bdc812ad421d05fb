import { InputError } from '../../model/problem.js';
import type { Change } from './scenarioFile.js';
import type { Model, Modelled, Values } from './scenarioValues.js';

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
const WANTED_DAYS = 0.95;
/** A step of a sweep that adds less self-sufficiency than this is not worth taking. */
const LEAST_GAIN = 0.01;

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

/** The value after which the next step adds too little self-sufficiency. */
export function kneeOf(
  key: string,
  runs: readonly { readonly at: number; readonly values: Values }[],
): Knee | null {
  const of = ({ values }: (typeof runs)[number]) => values['account.selfSufficiency.supply'];
  for (let k = 0; k + 1 < runs.length; k++) {
    const gain = of(runs[k + 1]!) - of(runs[k]!);
    if (gain < LEAST_GAIN)
      return {
        at: runs[k]!.at,
        reason: `From ${sweptText(key, runs[k]!.at)} to ${sweptText(key, runs[k + 1]!.at)} self-sufficiency by supply gains ${(100 * gain).toFixed(1)} points, less than ${100 * LEAST_GAIN}.`,
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

const MONTHS = [
  ...['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October'],
  ...['November', 'December'],
];

/** Where a sweep first has nearly all of its days without the grid, and else which month keeps it from that. */
export function reachOf(
  key: string,
  { inputs }: Model,
  runs: readonly { readonly at: number; readonly values: Values; readonly modelled: Modelled }[],
): Reach {
  const shares = runs.map(({ values, modelled }) => {
    const known = modelled.run.daysKnown.reduce((sum, one) => sum + one, 0);
    return known > 0 ? values['account.gridFreeDays'] / known : 0;
  });
  const most = Math.max(...shares);
  const first = shares.findIndex((share) => share >= WANTED_DAYS);
  if (first >= 0)
    return {
      wanted: WANTED_DAYS,
      at: runs[first]!.at,
      most,
      says: `${100 * WANTED_DAYS} % of days without the grid are reached with ${sweptText(key, runs[first]!.at)}.`,
    };
  const { run } = runs[shares.indexOf(most)]!.modelled;
  const perDay = Math.round(86_400_000 / inputs.stepMs);
  const bought = new Map<number, number>();
  run.importByDayKWh.forEach((kWh, day) => {
    if (run.daysKnown[day] !== 1) return;
    const month = new Date(inputs.startMs + (day + 0.5) * perDay * inputs.stepMs).getUTCMonth();
    bought.set(month, (bought.get(month) ?? 0) + kWh);
  });
  // More modules that hardly help find nothing to store.
  const isStorage = key === 'battery.modules' && shares.length > 1 && most - shares.at(-2)! < STORAGE_HELPS;
  const [worst] = [...bought].sort(([, a], [, b]) => b - a);
  return {
    wanted: WANTED_DAYS,
    at: null,
    most,
    says: `${100 * WANTED_DAYS} % of days without the grid are not reached: at most ${(100 * most).toFixed(0)} %, with ${sweptText(key, runs[shares.indexOf(most)]!.at)}.${worst ? ` Most is still bought in ${MONTHS[worst[0]]!}${isStorage ? ': the sun is missing there, not the storage' : ''}.` : ''}`,
  };
}
