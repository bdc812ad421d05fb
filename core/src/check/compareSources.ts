import { correlation } from '../statistics/correlation.js';
import { finerShift, isShifted } from '../import/merge/clockLag.js';
import { dayNumberAt } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import { endMs, type Log, type SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import type { Finding } from '../model/finding.js';

/** How two sources of the same quantity go together; a leads, b fills its gaps. */
export interface Comparison {
  readonly quantity: Quantity;
  readonly a: string;
  readonly b: string;
  /** By so much the clock of b runs ahead of that of a, ms; null when their courses do not tell. */
  readonly lagMs: number | null;
  /** Σ b ÷ Σ a over the time that both know. */
  readonly ratio: number;
  readonly hours: number;
  readonly aWh: number;
  readonly bWh: number;
  /** Days on which the two differ by a tenth and half a kWh. */
  readonly daysApart: number;
  /** Self-sufficiency by the meter over that time if a leads, and if b does; null where it does not turn on them. */
  readonly selfSufficiency: readonly [a: number, b: number] | null;
}

const MOST_LAG_MS = 14 * 3_600_000;
const LEAST_HOURS = 24;
/** Correlation that a shift must reach before a clock is doubted. */
const SURE = 0.6;
/** A part of a long log tells a lag as well as the whole of it. */
const MOST_CELLS = 20_000;
const RATIO_TOLD = 0.05;
const APART_SHARE = 0.1;
const APART_WH = 500;

/**
 * Compares every pair of sources that give the same quantity over the same time.
 * @param log what was merged of them: it says which of two leads
 */
export function compareSources(sources: readonly SourceLog[], log: Log): Comparison[] {
  return (['solar', 'load', 'grid', 'battery', 'batteryDc', 'soc'] as const).flatMap((quantity) => {
    const names = log.channels.get(quantity)?.sources ?? [];
    const ranked = [...new Set(names)].flatMap((name) => sources.filter((source) => source.name === name));
    return ranked.flatMap((a, i) => ranked.slice(i + 1).flatMap((b) => compare(quantity, a, b, log) ?? []));
  });
}

function compare(quantity: Quantity, a: SourceLog, b: SourceLog, log: Log): Comparison | null {
  if (!a.columns.has(quantity) || !b.columns.has(quantity)) return null;
  // Both on the coarser step, over the time of both and the widest lag around it.
  const stepMs = Math.max(a.stepMs, b.stepMs, 300_000);
  const fromMs = Math.max(a.startMs, b.startMs);
  const toMs = Math.min(endMs(a), endMs(b));
  if (toMs - fromMs < LEAST_HOURS * 3_600_000) return null;
  const count = Math.floor((toMs - fromMs) / stepMs);
  const x = means(a, quantity, fromMs, stepMs, count)!;
  const y = means(b, quantity, fromMs, stepMs, count)!;
  let [aSum, bSum, both] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    if (Number.isNaN(x[i]!) || Number.isNaN(y[i]!)) continue;
    aSum += x[i]!;
    bSum += y[i]!;
    both++;
  }
  const hours = (both * stepMs) / 3_600_000;
  if (hours < LEAST_HOURS) return null;
  const still = correlation(x, y, 0, MOST_CELLS);
  const most = Math.floor(MOST_LAG_MS / stepMs);
  let best = { lag: 0, r: still };
  for (let lag = -most; lag <= most; lag++) {
    const r = correlation(x, y, lag, MOST_CELLS);
    if (r > best.r) best = { lag, r };
  }
  const isFiner = a.stepMs < b.stepMs;
  const sign = isFiner ? -1 : 1;
  const finer = isFiner
    ? finerShift(a, b, quantity, sign * best.lag * stepMs)
    : finerShift(b, a, quantity, sign * best.lag * stepMs);
  const shift =
    finer && finer.r > best.r ? { ms: sign * finer.ms, r: finer.r } : { ms: best.lag * stepMs, r: best.r };
  return {
    quantity,
    a: a.name,
    b: b.name,
    lagMs: shift.r < SURE ? null : isShifted(still, shift) ? shift.ms : 0,
    ratio: bSum / aSum,
    hours,
    aWh: (aSum * stepMs) / 3_600_000,
    bWh: (bSum * stepMs) / 3_600_000,
    daysApart: quantity === 'soc' ? 0 : daysApart(x, y, fromMs, stepMs, log.zone),
    selfSufficiency: bothWays(quantity, x, y, (other) => means(merged(log), other, fromMs, stepMs, count)),
  };
}

/** A merged log as a source of its own. */
function merged(log: Log): Pick<SourceLog, 'startMs' | 'stepMs' | 'columns'> {
  return { startMs: log.startMs, stepMs: log.stepMs, columns: log.channels };
}

function daysApart(
  x: Float64Array,
  y: Float64Array,
  fromMs: number,
  stepMs: number,
  zoneName: string,
): number {
  const zone = zoneOf(zoneName);
  const sums = new Map<number, [a: number, b: number]>();
  for (let i = 0; i < x.length; i++) {
    if (Number.isNaN(x[i]! + y[i]!)) continue;
    const day = dayNumberAt(zone, fromMs + i * stepMs);
    const sum = sums.get(day) ?? [0, 0];
    sum[0] += (x[i]! * stepMs) / 3_600_000;
    sum[1] += (y[i]! * stepMs) / 3_600_000;
    sums.set(day, sum);
  }
  return [...sums.values()].filter(
    ([a, b]) => Math.abs(a - b) > APART_WH && Math.abs(a - b) > APART_SHARE * Math.abs(a),
  ).length;
}

/** 1 − import ÷ load with the one and with the other source, over the time that knows all. */
function bothWays(
  quantity: Quantity,
  x: Float64Array,
  y: Float64Array,
  means: (quantity: Quantity) => Float64Array | null,
): readonly [number, number] | null {
  if (quantity !== 'grid' && quantity !== 'load') return null;
  const other = means(quantity === 'grid' ? 'load' : 'grid');
  if (!other) return null;
  let [importA, importB, loadA, loadB] = [0, 0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    if (Number.isNaN(x[i]! + y[i]! + other[i]!)) continue;
    importA += Math.max(0, quantity === 'grid' ? x[i]! : other[i]!);
    importB += Math.max(0, quantity === 'grid' ? y[i]! : other[i]!);
    loadA += quantity === 'load' ? x[i]! : other[i]!;
    loadB += quantity === 'load' ? y[i]! : other[i]!;
  }
  return loadA > 0 && loadB > 0 ? [1 - importA / loadA, 1 - importB / loadB] : null;
}

/** Means of a source on a common grid; null where it does not have the quantity. */
function means(
  source: Pick<SourceLog, 'startMs' | 'stepMs' | 'columns'>,
  quantity: Quantity,
  fromMs: number,
  stepMs: number,
  count: number,
): Float64Array | null {
  const values = source.columns.get(quantity)?.values;
  if (!values) return null;
  const sums = new Float64Array(count);
  const known = new Float64Array(count);
  for (let i = 0; i < values.length; i++) {
    const cell = Math.floor((source.startMs + i * source.stepMs - fromMs) / stepMs);
    if (cell < 0 || cell >= count || Number.isNaN(values[i]!)) continue;
    sums[cell]! += values[i]!;
    known[cell]!++;
  }
  return sums.map((sum, cell) => (known[cell]! > 0 ? sum / known[cell]! : NaN));
}

/** Clocks that are off against each other, and sums that differ by more than meters do. */
export function comparisonFindings(comparisons: readonly Comparison[]): Finding[] {
  return comparisons.flatMap(({ quantity, a, b, lagMs, ratio, hours, aWh, bWh }): Finding[] => {
    const base = { fromMs: null, toMs: null, source: b } as const;
    if (lagMs !== null && lagMs !== 0) {
      const minutes = `${Number((Math.abs(lagMs) / 60_000).toFixed(1))} min`;
      const message = `Against ${a} the clock of ${b} is ${minutes} ${lagMs > 0 ? 'fast: its stamps are' : 'slow: its stamps are'} ${minutes} too ${lagMs > 0 ? 'late' : 'early'} (${quantity}, by cross-correlation).`;
      return [
        {
          ...base,
          code: 'clocks-differ',
          severity: 'warning',
          message,
          kWh: null,
          proposal: { kind: 'shift', source: b, byMs: -lagMs, stretches: null },
        },
      ];
    }
    if (quantity === 'soc' || Math.abs(ratio - 1) < RATIO_TOLD) return [];
    const message = `Over the ${Math.round(hours)} h that both know, ${b} gives ${(bWh / 1000).toFixed(1)} kWh of ${quantity} net and ${a} ${(aWh / 1000).toFixed(1)} kWh; ${a} leads.`;
    return [
      {
        ...base,
        code: 'sums-differ',
        severity: 'note',
        message,
        kWh: Math.abs(bWh - aWh) / 1000,
        proposal: { kind: 'lead', source: b, quantity },
      },
    ];
  });
}
