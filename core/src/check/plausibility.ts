import type { Configuration } from '../system/configuration.js';
import { endMs, type Grid, type Log, type SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import type { System } from '../system/schema.js';
import type { Correction } from '../model/correction.js';
import type { Finding } from '../model/finding.js';
import { hourlyFlows, type FlowName, type HourlyFlows } from './hourlyFlows.js';
import { AS_READ, doubtsOf, knownOf, misreadingsOf, type Doubts, type Misreading } from './misreadings.js';

/** Doubts of a reading, added up, that are worth looking for another one … */
const DOUBTFUL = 0.25;
/** … which must take away so much of them, and leave no more than this share, or take away very much. */
const MENDS = 0.2;
const LEAVES = 0.6;
const MENDS_MUCH = 0.5;
/** Of readings that explain about as much the plainer one is taken. */
const ALIKE = 0.04;
const FEWEST_HOURS = 6;

/** Columns on a grid, whatever they were read from. */
interface Columns extends Grid {
  readonly valuesOf: (quantity: Quantity) => Float64Array | undefined;
  /** The one file they come from; null for several. */
  readonly source: string | null;
}

/** What makes the home's merged log implausible as it is read, with what would mend it. */
export function implausibleLog(
  log: Log,
  configurations: readonly Configuration[],
  system: System,
): Finding[] {
  const names = new Set(
    [...log.channels.values()].flatMap(({ origin, sources }) => (origin === 'logged' ? sources : [])),
  );
  const valuesOf = (quantity: Quantity) => {
    const channel = log.channels.get(quantity);
    return channel?.origin === 'logged' ? channel.values : undefined;
  };
  const { startMs, stepMs, count } = log;
  return implausible(
    { startMs, stepMs, count, valuesOf, source: names.size === 1 ? [...names][0]! : null },
    configurations,
    system,
  );
}

/**
 * What is implausible in each of several files by itself: of many one may be in another unit than the others, which their
 * sum does not show.
 */
export function implausibleSources(
  sources: readonly SourceLog[],
  configurations: readonly Configuration[],
  system: System,
): Finding[] {
  return sources.flatMap((source) => implausibleSource(source, configurations, system));
}

function implausibleSource(
  { startMs, stepMs, count, columns, name }: SourceLog,
  configurations: readonly Configuration[],
  system: System,
): Finding[] {
  const valuesOf = (quantity: Quantity) => columns.get(quantity)?.values;
  return implausible({ startMs, stepMs, count, valuesOf, source: name }, configurations, system);
}

/**
 * Looks for the unit, sign or name that makes a log contradict itself or the home it is of: every usual misreading is
 * tried against the balance of flows, the state of charge, the sizes described and the sun; the one that explains most is
 * told with what it would take away.
 */
function implausible(columns: Columns, configurations: readonly Configuration[], system: System): Finding[] {
  const hourly = hourlyFlows(columns, columns.valuesOf);
  if (hourly.hours < FEWEST_HOURS) return [];
  const known = knownOf(hourly, configurations, system);
  const asRead = doubtsOf(known, AS_READ);
  const before = sumOf(asRead);
  if (before < DOUBTFUL) return [];
  const tried = misreadingsOf(known)
    .map((reading) => ({ reading, doubts: doubtsOf(known, reading) }))
    .map((one) => ({ ...one, after: sumOf(one.doubts) }))
    .sort((a, b) => a.after - b.after);
  const [least] = tried;
  const mends = least ? before - least.after : 0;
  if (!least || mends < MENDS || (mends < MENDS_MUCH && least.after > LEAVES * before))
    return unexplained(columns, asRead);
  const alike = tried
    .filter(({ after }) => after <= least.after + ALIKE)
    .sort((a, b) => plainness(a.reading) - plainness(b.reading));
  const best = alike[0]!;
  const rival = alike.find(({ reading }) => reading !== best.reading && !isSame(reading, best.reading));
  return findingsOf(columns, hourly, best.reading, asRead, best.doubts, rival?.reading ?? null);
}

/** So much of a doubt is told even where nothing explains it; of the rest a home's own ways may be the cause. */
const TELLS: Readonly<Partial<Record<keyof Doubts, number>>> = {
  closing: 0.3,
  charge: 0.6,
  negative: 0.2,
  size: 0.3,
  night: 0.5,
  dark: 0.4,
  drift: 0.5,
};

/** Doubts that no usual misreading takes away. */
function unexplained(columns: Columns, doubts: Doubts): Finding[] {
  const told = (Object.keys(TELLS) as (keyof Doubts)[]).filter((key) => (doubts[key] ?? 0) >= TELLS[key]!);
  if (told.length === 0) return [];
  const words = told.map((key) => WORDS[key](doubts[key]!, 0)[0]);
  return [
    {
      code: 'implausible',
      severity: 'warning',
      fromMs: columns.startMs,
      toMs: endMs(columns),
      message: `The log contradicts itself or the description of the home, and no usual slip explains it: ${words.join('; ')}. A flow may be missing, a column may stand for something else, or the description may be of another home.`,
      source: columns.source,
      kWh: null,
    },
  ];
}

function sumOf(doubts: Doubts): number {
  return Object.values(doubts).reduce<number>((sum, doubt) => sum + (doubt as number), 0);
}

/** Fewer and commoner slips first. */
function plainness({ exchange, factors, soc }: Misreading): number {
  const list = Object.values(factors);
  const isOneUnit = list.length > 2;
  return (
    (exchange ? 1.5 : 0) + (isOneUnit ? 1.2 : list.length) + (soc === 'soc' ? 0 : soc === 'share' ? 0.9 : 1.3)
  );
}

function isSame(a: Misreading, b: Misreading): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function findingsOf(
  columns: Columns,
  hourly: HourlyFlows,
  reading: Misreading,
  before: Doubts,
  after: Doubts,
  rival: Misreading | null,
): Finding[] {
  const { source } = columns;
  const own = (flow: FlowName): Quantity =>
    flow === 'battery' && !columns.valuesOf('battery') ? 'batteryDc' : flow;
  // What is at stake: the energy as it would be, or as it is, whichever is more.
  const atStake = (flow: FlowName) =>
    energyKWh(hourly, flow) * Math.max(1, Math.abs(reading.factors[flow] ?? 1));
  const kWhOf = (flows: readonly FlowName[]) => flows.reduce((sum, flow) => sum + atStake(flow), 0);
  const because = `${reasonOf(before, after)}${rival ? ` It may also be that ${saying(rival)}.` : ''}`;
  const found = (code: string, flows: readonly FlowName[], proposal: Correction): Finding => ({
    code,
    severity: 'error',
    fromMs: columns.startMs,
    toMs: endMs(columns),
    message: `It seems that ${saying(reading)}: ${because}`,
    source,
    kWh: kWhOf(flows),
    proposal,
  });
  if (reading.soc !== 'soc') {
    const proposal: Correction =
      reading.soc === 'share'
        ? { kind: 'scale', source, quantity: 'soc', factor: 100 }
        : { kind: 'complement', source, quantity: 'soc' };
    return [found(reading.soc === 'share' ? 'unit-mistaken' : 'depth-for-charge', ['battery'], proposal)];
  }
  if (reading.exchange) {
    const [a, b] = reading.exchange;
    const turned = Object.keys(reading.factors) as FlowName[];
    return [
      ...turned.map((flow) =>
        found('sign-turned', [flow], { kind: 'scale', source, quantity: own(flow), factor: -1 }),
      ),
      found('columns-exchanged', reading.exchange, {
        kind: 'exchange',
        source,
        quantities: [own(a), own(b)],
      }),
    ];
  }
  const flows = Object.keys(reading.factors) as FlowName[];
  const factor = reading.factors[flows[0]!]!;
  const code = factor === -1 ? 'sign-turned' : 'unit-mistaken';
  if (flows.length > 2) return [found(code, flows, { kind: 'scale', source, quantity: null, factor })];
  return flows.map((flow) => found(code, [flow], { kind: 'scale', source, quantity: own(flow), factor }));
}

function energyKWh({ flows, hours, every, blockH }: HourlyFlows, flow: FlowName): number {
  const values = flows[flow];
  let sum = 0;
  for (let k = 0; values && k < hours; k++) sum += Math.abs(values[k]!) || 0;
  return (sum * every * blockH) / 1000;
}

/** What a misreading is, in words that follow "it seems that". */
function saying({ exchange, factors, soc }: Misreading): string {
  if (soc === 'share') return 'the state of charge is written as a share from 0 to 1, not in per cent';
  if (soc === 'depth') return 'the column of the state of charge holds the depth of discharge';
  if (exchange) {
    const turned = Object.keys(factors).length > 0 ? ' and have their signs the other way round' : '';
    return `the columns ${exchange[0]} and ${exchange[1]} are exchanged${turned}`;
  }
  const flows = Object.keys(factors) as FlowName[];
  const factor = factors[flows[0]!]!;
  const what = flows.length > 2 ? 'all powers' : flows.join(' and ');
  const are = flows.length > 1 ? 'are' : 'is';
  if (factor === -1) {
    const have = flows.length > 1 ? 'have their signs' : 'has its sign';
    return `${what} ${have} the other way round`;
  }
  if (factor === 1000) return `${what} ${are} in kilowatts, not in watts`;
  if (factor > 1) return `${what} ${are} ${factor} times too small`;
  return `${what} ${are} ${Math.round(1 / factor)} times too large`;
}

const percent = (share: number) => `${Math.round(100 * share)} %`;

/** Each doubt in words, as the log is read, and behind it what is left of it if it is read otherwise. */
const WORDS: Readonly<Record<keyof Doubts, (was: number, is: number) => readonly [string, string]>> = {
  closing: (was, is) => [
    `the account leaves ${percent(was)} of what flows unexplained`,
    `, and then ${percent(is)}`,
  ],
  negative: (was, is) => [
    `${percent(was)} of solar and load would flow the impossible way`,
    `, and then ${percent(is)}`,
  ],
  charge: (was, is) => [
    `the state of charge differs from the battery’s energy by ${percent(was)}`,
    `, and then by ${percent(is)}`,
  ],
  size: () => ['the flows are of a size that this home cannot have', ''],
  night: (was, is) => [
    `${percent(was / 4)} of the solar energy would come in the middle of the night`,
    `, and then ${percent(is / 4)}`,
  ],
  dark: (was, is) => [
    `the home would draw nothing for ${percent(was)} of the time while power flows`,
    `, and then for ${percent(is)}`,
  ],
  drift: () => ['the battery would give out more than it takes in', ''],
};

/** What speaks for the other reading: each doubt that it takes away. */
function reasonOf(before: Doubts, after: Doubts): string {
  const told = (Object.keys(WORDS) as (keyof Doubts)[]).flatMap((key) => {
    const [was, is] = [before[key] ?? 0, after[key] ?? 0];
    return was - is > 0.1 ? [WORDS[key](was, is).join('')] : [];
  });
  return `${told.join('; ')}.`;
}
