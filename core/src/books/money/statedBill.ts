import { billedTotals } from './billedTotals.js';
import { moneyAccount, totalsOf } from './account.js';
import { counted } from '../../model/counted.js';
import { endMs } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';

/** A bill somebody states; what of it is not stated is taken from the home's own range. */
export interface StatedBill {
  readonly amount: number;
  readonly kWh: number | null;
  readonly rate: number | null;
  readonly days: number | null;
}

/** What the home's log and tariffs make of a range. */
export interface KnownBill {
  readonly importKWh: number;
  readonly importCost: number;
  readonly exportIncome: number;
  readonly standingPerDay: number;
  readonly days: number;
  /** Bills, standing charge included, of other ranges that may be meant. */
  readonly others: readonly { readonly says: string; readonly amount: number }[];
}

/** One way in which the amount may have come about, or what would have to hold for it. */
export interface BillReading {
  readonly says: string;
  readonly amount: number;
  /** True when it gives the stated amount, to the last cent or half a per cent. */
  readonly isIt: boolean;
}

export interface StatedBillReading {
  readonly kWh: number;
  readonly rate: number;
  readonly days: number | null;
  /** What of the amount is energy, and what is left. */
  readonly energy: number;
  readonly rest: number;
  readonly ways: readonly BillReading[];
  /** What would close the account, in words: a standing charge, another rate, another energy. */
  readonly closes: readonly string[];
}

const MOST = 6;

/** What the home's own log and tariffs make of a range; null where nothing is priced. */
export function knownBill(prepared: Prepared, range: Range): KnownBill | null {
  const own = totalsIn(prepared, range);
  if (!own) return null;
  const length = range.toMs - range.fromMs;
  const others = (
    [
      ['the same length before', { fromMs: range.fromMs - length, toMs: range.fromMs }],
      ['the same length after', { fromMs: range.toMs, toMs: range.toMs + length }],
      ['the whole log', { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) }],
    ] as const
  ).flatMap(([says, other]) => {
    if (other.fromMs < prepared.log.startMs || other.toMs > endMs(prepared.log)) return [];
    const there = totalsIn(prepared, other);
    return there ? [{ says, amount: there.total + there.standing }] : [];
  });
  return {
    importKWh: own.importKWh,
    importCost: own.importCost,
    exportIncome: own.exportIncome,
    standingPerDay: own.standing / own.days,
    days: own.days,
    others,
  };
}

function totalsIn(prepared: Prepared, range: Range) {
  const data = rangeDataOf(prepared, range);
  const billed = billedTotals(data, prepared.system);
  if (billed) return { ...billed.totals, days: billed.days };
  const account = moneyAccount(data, prepared.system, prepared.columns);
  if ('reason' in account) return null;
  return { ...totalsOf(account.bills), days: account.bills.reduce((sum, { days }) => sum + days, 0) };
}

/**
 * Looks for what makes up a bill that somebody states: energy, standing charge, export taken off, other dates; and where nothing gives it, what
 * standing charge, rate or energy would.
 * @param known null without a log: then kWh and rate must be stated
 * @returns null where neither the stated bill nor the log tells energy and rate
 */
export function readStatedBill(stated: StatedBill, known: KnownBill | null): StatedBillReading | null {
  const { amount } = stated;
  const kWh = stated.kWh ?? known?.importKWh ?? null;
  const rate = stated.rate ?? (known && known.importKWh > 0 ? known.importCost / known.importKWh : null);
  if (kWh === null || rate === null) return null;
  const days = stated.days ?? known?.days ?? null;
  const energy = kWh * rate;
  const standing = known && days !== null ? known.standingPerDay * days : 0;
  const income = known?.exportIncome ?? 0;
  const candidates: (readonly [says: string, value: number])[] = [
    ['the energy alone', energy],
    ...(standing > 0 ? [['energy and standing charge', energy + standing] as const] : []),
    ...(income > 0 ? [['energy less export', energy - income] as const] : []),
    ...(income > 0 && standing > 0
      ? [['energy and standing charge, less export', energy + standing - income] as const]
      : []),
    ...(stated.kWh !== null && known
      ? [
          [
            'energy and standing charge of what the log counted in this range',
            known.importCost + known.standingPerDay * known.days,
          ] as const,
        ]
      : []),
    ...(known?.others ?? []).map(({ says, amount: there }) => [`the bill of ${says}`, there] as const),
  ];
  const ways = candidates
    .map(([says, value]): BillReading => ({
      says,
      amount: value,
      isIt: Math.abs(value - amount) <= Math.max(0.011, 0.005 * Math.abs(amount)),
    }))
    .sort((a, b) => Math.abs(a.amount - amount) - Math.abs(b.amount - amount))
    .slice(0, MOST);
  const rest = amount - energy;
  return { kWh, rate, days, energy, rest, ways, closes: closing(amount, kWh, rate, days, standing) };
}

function closing(amount: number, kWh: number, rate: number, days: number | null, standing: number): string[] {
  const rest = amount - kWh * rate;
  return [
    ...(days !== null && rest > 0
      ? [
          `A standing charge of ${(rest / days).toFixed(3)} a day over ${counted(Number(days.toFixed(1)), 'day')}.`,
        ]
      : []),
    ...(kWh > 0 && amount > standing
      ? [
          `A rate of ${((amount - standing) / kWh).toFixed(4)} a kWh${standing > 0 ? ', the standing charge taken off' : ''}.`,
        ]
      : []),
    ...(rate > 0 && amount > standing
      ? [
          `An energy of ${((amount - standing) / rate).toFixed(1)} kWh${standing > 0 ? ', the standing charge taken off' : ''}.`,
        ]
      : []),
    ...(rest > 0 && kWh * rate > 0 && rest / (kWh * rate) < 0.3
      ? [`Tax of ${((100 * rest) / (kWh * rate)).toFixed(1)} % on the energy.`]
      : []),
  ];
}
