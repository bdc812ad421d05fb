import type { Finding } from '../../model/finding.js';
import { cellAt, type Channel, type Grid, type UnshapedEnergy, type SettledEnergy } from '../../model/log.js';
import { firstReached, type Range } from '../../model/range.js';
import type { Flow, Quantity } from '../../model/quantity.js';

const CHANNEL: Readonly<Record<Flow, readonly [Quantity, 1 | -1]>> = {
  solar: ['solar', 1],
  load: ['load', 1],
  import: ['grid', 1],
  export: ['grid', -1],
  discharge: ['battery', 1],
  charge: ['battery', -1],
};

/** So much of an unshaped energy may be missing from the course without leaving anything for it. */
const COVERED = 0.98;
/** Less than this share of an energy's time, left beside others, is told of none. */
const LEAST_LEFT = 0.02;
/** Difference between a counter and the course of the same time that is worth telling. */
const DIFFERS_SHARE = 0.05;
const DIFFERS_WH = 300;

/** A stretch of one flow whose unshaped energies are settled: theirs together. */
interface Known extends Range {
  readonly wh: number;
  readonly unknownS: number;
  /** What the source of the longest of them gives for all of it. */
  readonly given: number;
  readonly source: string;
}

/** What two sources give for the same stretches of a flow; a leads. */
interface Doubled extends Range {
  readonly flow: Flow;
  readonly a: string;
  readonly b: string;
  readonly aWh: number;
  readonly bWh: number;
  readonly count: number;
}

function countDoubled(
  doubled: Map<string, Doubled>,
  { flow, fromMs, toMs, wh, source }: UnshapedEnergy,
  leading: Known,
): void {
  const key = `${flow} ${leading.source} ${source}`;
  const before = doubled.get(key);
  doubled.set(key, {
    flow,
    a: leading.source,
    b: source,
    fromMs: Math.min(fromMs, before?.fromMs ?? fromMs),
    toMs: Math.max(toMs, before?.toMs ?? toMs),
    aWh: leading.given + (before?.aWh ?? 0),
    bWh: wh + (before?.bWh ?? 0),
    count: 1 + (before?.count ?? 0),
  });
}

/** Totals of two sources that differ by more than meters do. */
function doubledFindings(doubled: ReadonlyMap<string, Doubled>): Finding[] {
  return [...doubled.values()].flatMap(({ flow, a, b, aWh, bWh, count, fromMs, toMs }): Finding[] => {
    const difference = Math.abs(bWh - aWh);
    if (difference < Math.max(DIFFERS_WH, DIFFERS_SHARE * Math.max(aWh, bWh))) return [];
    const kWh = (wh: number) => `${(wh / 1000).toFixed(1)} kWh`;
    return [
      {
        code: 'totals-differ',
        severity: 'warning',
        fromMs,
        toMs,
        message: `${a} counts ${kWh(aWh)} of ${flow}, ${b} ${kWh(bWh)} over the same ${count === 1 ? 'stretch' : `${count} stretches`}: ${kWh(difference)} apart. ${a} counts; you can let ${b} count instead.`,
        source: b,
        kWh: difference / 1000,
        proposal: { kind: 'lead', source: b, quantity: CHANNEL[flow][0] },
      },
    ];
  });
}

/** Which of two sources of the same stretch comes first: never by its name, unless all else is alike. */
function leadOrder(
  lumps: readonly UnshapedEnergy[],
  leads: ReadonlyMap<Quantity, string>,
): (a: UnshapedEnergy, b: UnshapedEnergy) => number {
  const of = ({ source, flow }: UnshapedEnergy) => `${flow} ${source}`;
  const counts = new Map<string, { count: number; wh: number }>();
  for (const lump of lumps) {
    const sum = counts.get(of(lump)) ?? { count: 0, wh: 0 };
    counts.set(of(lump), { count: sum.count + 1, wh: sum.wh + lump.wh });
  }
  const isChosen = ({ flow, source }: UnshapedEnergy) => (leads.get(CHANNEL[flow][0]) === source ? 1 : 0);
  return (a, b) => {
    const [x, y] = [counts.get(of(a))!, counts.get(of(b))!];
    return isChosen(b) - isChosen(a) || y.count - x.count || y.wh - x.wh || (a.source < b.source ? -1 : 1);
  };
}

/**
 * Energies less those that run over a boundary of longer ones which hold all of their time: a week between two readings that
 * begins in June and ends in July is in the statements of both months, and would keep both from counting.
 */
function withoutStraddling(
  lumps: readonly UnshapedEnergy[],
  leads: ReadonlyMap<Quantity, string>,
): readonly UnshapedEnergy[] {
  const bySource = new Map<string, UnshapedEnergy[]>();
  for (const lump of lumps) {
    const key = `${lump.flow} ${lump.source}`;
    const own = bySource.get(key);
    if (own) own.push(lump);
    else bySource.set(key, [lump]);
  }
  if (bySource.size < 2) return lumps;
  for (const own of bySource.values()) own.sort((a, b) => a.fromMs - b.fromMs);
  const isHeld = (lump: UnshapedEnergy, chain: readonly UnshapedEnergy[]) => {
    let first = firstReached(chain, ({ toMs }) => toMs > lump.fromMs);
    const begins = chain[first];
    if (!begins || begins.fromMs > lump.fromMs || begins.toMs >= lump.toMs) return false;
    // From the first to the last that it touches they must follow each other, and each be longer than it.
    const least = lump.toMs - lump.fromMs;
    for (let endMs = begins.fromMs; first < chain.length; first++) {
      const { fromMs, toMs } = chain[first]!;
      if (fromMs > endMs || toMs - fromMs <= least) return false;
      if (toMs >= lump.toMs) return true;
      endMs = toMs;
    }
    return false;
  };
  return lumps.filter((lump) => {
    if (lump.leads || leads.get(CHANNEL[lump.flow][0]) === lump.source) return true;
    return ![...bySource].some(
      ([key, chain]) =>
        key.startsWith(`${lump.flow} `) && key !== `${lump.flow} ${lump.source}` && isHeld(lump, chain),
    );
  });
}

/** Places in a list of stretches, apart from each other and in order, of those that overlap a range. */
function overlapping(list: readonly Known[], { fromMs, toMs }: Range): [from: number, to: number] {
  const low = firstReached(list, ({ toMs }) => toMs > fromMs);
  let end = low;
  while (end < list.length && list[end]!.fromMs < toMs) end++;
  return [low, end];
}

/**
 * Takes from each unshaped energy what the course of its flow already holds, so that no energy is counted twice. Shorter unshaped energies go
 * first: a month's total then holds what its days do not.
 * One that runs over the end of longer ones which hold it gives way to them, unless its owner chose its source; one that
 * overlaps others in part is cut by them, its energy in the overlap taken by time.
 * Of two sources that give the same stretch one counts: the one its owner chose, else the one that knows more stretches,
 * else the one that counted more; what the other says is told.
 * @param channels logged on the grid, derived ones not among them
 * @param leads sources that lead a quantity by the owner's choice
 */
export function settleEnergies(
  lumps: readonly UnshapedEnergy[],
  channels: ReadonlyMap<Quantity, Channel>,
  grid: Grid,
  leads: ReadonlyMap<Quantity, string> = new Map(),
): { lumps: SettledEnergy[]; findings: Finding[] } {
  const settled: SettledEnergy[] = [];
  const known = new Map<Flow, Known[]>();
  const compared = new Map<
    string,
    { lump: UnshapedEnergy; lumpWh: number; courseWh: number; count: number; toMs: number }
  >();
  const order = leadOrder(lumps, leads);
  const byLength = [...withoutStraddling(lumps, leads)].sort(
    (a, b) => a.toMs - a.fromMs - (b.toMs - b.fromMs) || a.fromMs - b.fromMs || order(a, b),
  );
  const doubled = new Map<string, Doubled>();
  const settle = (lump: UnshapedEnergy): void => {
    const { flow, fromMs, toMs, wh } = lump;
    const course = courseWithin(lump, channels, grid);
    const list = known.get(flow) ?? [];
    known.set(flow, list);
    const [from, to] = overlapping(list, lump);
    const within = list.slice(from, to);
    const same = within.find((other) => other.fromMs === fromMs && other.toMs === toMs);
    if (same && same.source !== lump.source) countDoubled(doubled, lump, same);
    const crossing = within.filter((other) => other.fromMs < fromMs || other.toMs > toMs);
    if (crossing.length > 0) {
      const rest = cutBy(lump, crossing);
      if (rest) settle(rest);
      return;
    }
    const withinS = within.reduce((sum, { unknownS }) => sum + unknownS, 0);
    const withinWh = within.reduce((sum, other) => sum + other.wh, 0);
    const knownS = course.seconds + withinS;
    const knownWh = course.wh + withinWh;
    const wholeS = (toMs - fromMs) / 1000;
    if (course.seconds >= COVERED * wholeS) {
      const key = `${flow} ${lump.source}`;
      const entry = compared.get(key) ?? { lump, lumpWh: 0, courseWh: 0, count: 0, toMs };
      compared.set(key, {
        lump: entry.lump,
        lumpWh: entry.lumpWh + wh,
        courseWh: entry.courseWh + course.wh,
        count: entry.count + 1,
        toMs: Math.max(toMs, entry.toMs),
      });
    } else if (knownS < COVERED * wholeS) {
      const own = { ...lump, wh: Math.max(0, wh - knownWh), unknownS: wholeS - knownS };
      settled.push(own);
      const all = {
        fromMs,
        toMs,
        wh: withinWh + own.wh,
        unknownS: withinS + own.unknownS,
        given: wh,
        source: lump.source,
      };
      list.splice(from, to - from, all);
    }
  };
  byLength.forEach(settle);
  return {
    lumps: settled.sort((a, b) => a.fromMs - b.fromMs || a.toMs - b.toMs || (a.flow < b.flow ? -1 : 1)),
    findings: [
      ...doubledFindings(doubled),
      ...[...compared.values()].flatMap(({ lump, lumpWh, courseWh, count, toMs }): Finding[] => {
        const difference = lumpWh - courseWh;
        if (Math.abs(difference) < Math.max(DIFFERS_WH, DIFFERS_SHARE * courseWh)) return [];
        const share = courseWh > 0 ? `${Math.round((100 * Math.abs(difference)) / courseWh)} %` : '';
        return [
          {
            code: 'counter-differs',
            severity: 'warning',
            fromMs: lump.fromMs,
            toMs,
            message: `The totals of ${lump.flow} in ${lump.source} hold ${(Math.abs(difference) / 1000).toFixed(1)} kWh ${difference > 0 ? 'more' : 'less'} (${share}) than its course over the same ${count === 1 ? 'stretch' : `${count} stretches`}; the course leads.`,
            source: lump.source,
            kWh: Math.abs(difference) / 1000,
          },
        ];
      }),
    ],
  };
}

/** What is left of an energy outside of others that run over its ends, their energy in it taken by time; null where nothing is. */
function cutBy(lump: UnshapedEnergy, crossing: readonly Known[]): UnshapedEnergy | null {
  let { fromMs, toMs, wh } = lump;
  for (const other of crossing) {
    const sharedMs = Math.min(lump.toMs, other.toMs) - Math.max(lump.fromMs, other.fromMs);
    wh -= (other.wh * sharedMs) / (other.toMs - other.fromMs);
    if (other.fromMs < lump.fromMs) fromMs = Math.max(fromMs, other.toMs);
    else toMs = Math.min(toMs, other.fromMs);
  }
  return toMs - fromMs > LEAST_LEFT * (lump.toMs - lump.fromMs)
    ? { ...lump, fromMs, toMs, wh: Math.max(0, wh) }
    : null;
}

/** What the course of a flow holds within an unshaped energy. */
function courseWithin(
  { flow, fromMs, toMs }: UnshapedEnergy,
  channels: ReadonlyMap<Quantity, Channel>,
  grid: Grid,
): { wh: number; seconds: number } {
  const [quantity, sign] = CHANNEL[flow];
  const values = (channels.get(quantity) ?? (quantity === 'battery' ? channels.get('batteryDc') : undefined))
    ?.values;
  if (!values) return { wh: 0, seconds: 0 };
  const hours = grid.stepMs / 3_600_000;
  let wh = 0;
  let cells = 0;
  for (let i = cellAt(grid, fromMs); i < cellAt(grid, toMs); i++) {
    const value = sign * values[i]!;
    if (Number.isNaN(value)) continue;
    cells++;
    if (value > 0) wh += value * hours;
  }
  return { wh, seconds: (cells * grid.stepMs) / 1000 };
}
