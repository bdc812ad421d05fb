import { estimated, insufficient, type Figure, type Unit, type WorkingLine } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { configurationAt } from '../../system/configuration.js';
import type { System } from '../../system/schema.js';
import { dayNumberOfDate, dayOf, YEAR_MS } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';
import type { Hidden } from '../shared/uncertainty.js';
import type { MoneyAccount } from './account.js';
import { MONEY, type MoneyKey } from './methods.js';

const DAY_MS = 86_400_000;

/** A value with its half-width, and how much less or more it may be beside that on one side. */
export interface Amount extends Partial<Hidden> {
  readonly value: number;
  readonly half: number;
}

interface Telling {
  readonly tell: (
    key: MoneyKey,
    held: Amount,
    lines?: readonly WorkingLine[],
    assumptions?: readonly string[],
  ) => Figure;
  readonly none: (key: MoneyKey, reason: string) => Figure;
  readonly few: (key: MoneyKey, reason: string) => Figure;
}

/** What a home was paid for, as its latest configuration with a price says; null without one. */
interface Paid {
  /** Less incentives. */
  readonly cost: number;
  readonly upkeep: number;
  /** When it was paid; null where neither the price nor the configuration says. */
  readonly onMs: number | null;
  readonly batteryCost: number;
}

/** A price is that of the home as it is built from then on, what was there before included. */
function paidOf({ range, configurations, log }: RangeData): Paid | null {
  const priced = configurations.filter(
    ({ fromMs, described }) => fromMs < range.toMs && described?.price?.paid !== undefined,
  );
  const price = priced.at(-1)?.described?.price;
  if (price?.paid === undefined) return null;
  const { paid, incentives = 0, upkeepPerYear = 0, on, batteryPaid } = price;
  const cost = paid - incentives;
  const onMs =
    on === undefined ? priced[0]!.installedMs : dayOf(zoneOf(log.zone), dayNumberOfDate(on)).fromMs;
  return { cost, upkeep: upkeepPerYear, onMs, batteryCost: batteryPaid ?? cost };
}

/** The balance of a system over the years since it was paid: what has been saved less what it cost, at the saving of the range. */
export interface PaybackFan {
  readonly cost: number;
  readonly points: readonly BalancePoint[];
  /** At the end of the range. */
  readonly today: BalancePoint;
}

export interface BalancePoint {
  readonly atMs: number;
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/** No fan goes on for longer, in years. */
const MOST_YEARS = 40;

/**
 * The balance from the day of payment until even the least of the savings has paid it back, or forty years.
 * @param figures those of money that were made of the data
 */
export function paybackFan(data: RangeData, figures: Readonly<Record<string, Figure>>): PaybackFan | null {
  const paid = paidOf(data);
  const [yearly, share] = [figures['money.savingPerYear'], figures['money.paidBackShare']];
  if (paid?.onMs == null || yearly?.value == null || share?.value == null) return null;
  const { cost, upkeep, onMs } = paid;
  const [value, low, high] = [yearly.value, yearly.low!, yearly.high!].map((saved) => saved - upkeep) as [
    number,
    number,
    number,
  ];
  const past = (data.range.toMs - onMs) / YEAR_MS;
  const years = Math.ceil(
    Math.min(MOST_YEARS, Math.max(past + 1, low > 0 ? (1.1 * cost) / low : MOST_YEARS)),
  );
  return {
    cost,
    points: Array.from({ length: years + 1 }, (_, y) => ({
      atMs: onMs + y * YEAR_MS,
      value: y * value - cost,
      low: y * low - cost,
      high: y * high - cost,
    })),
    today: {
      atMs: data.range.toMs,
      value: (share.value - 1) * cost,
      low: (share.low! - 1) * cost,
      high: (share.high! - 1) * cost,
    },
  };
}

/** When the system is paid back, and what a kWh through the battery costs. */
export function payback(
  data: RangeData,
  system: System,
  account: MoneyAccount,
  saving: Amount,
  yearly: (Amount & { readonly isWhole: boolean }) | null,
  known: Readonly<Record<string, Figure>>,
  { none, few }: Telling,
): Record<string, Figure> {
  const paid = paidOf(data);
  const noPrice =
    'What the system cost is not described; the price of a configuration in the System view would supply it.';
  if (!paid)
    return Object.fromEntries(
      (
        [
          'payback',
          'payback.discounted',
          'paidBackShare',
          'costPerStoredKWh.warranted',
          'costPerStoredKWh.projected',
        ] as const
      ).map((key) => [`money.${key}`, none(key, noPrice)]),
    );
  const { cost, upkeep, onMs, batteryCost } = paid;
  const noSaving = 'A load in the log and a tariff would give the saving a year.';
  const net = yearly ? yearly.value - upkeep : NaN;
  const [least, most] = yearly
    ? [yearly.value - yearly.half - upkeep, yearly.value + yearly.half - upkeep]
    : [NaN, NaN];
  const neverPays = 'At this saving the price is never paid back.';
  const discount = system.discountRate ?? 0;
  const rise = system.priceRise ?? 0;
  const between = (key: MoneyKey, of: (saved: number) => number, lines: readonly WorkingLine[]): Figure => {
    if (!yearly) return none(key, noSaving);
    const value = of(net);
    if (!Number.isFinite(value)) return few(key, neverPays);
    const [low, high] = [of(most), of(least)];
    return intervalFigure(key, value, low, Number.isFinite(high) ? high : 100 + value, lines);
  };
  const lines: readonly WorkingLine[] = [
    { label: 'paid, less incentives', value: cost, unit: 'currency', role: 'input' },
    { label: '÷ saving a year, less upkeep', value: net, unit: 'currency', role: 'input' },
  ];
  return {
    'money.payback': between('payback', (saved) => (saved > 0 ? cost / saved : Infinity), lines),
    'money.payback.discounted': between(
      'payback.discounted',
      (saved) => discountedYears(cost, saved, discount, rise),
      [
        ...lines,
        { label: 'discount a year', value: discount, unit: 'share', role: 'input' },
        { label: 'price rise a year', value: rise, unit: 'share', role: 'input' },
      ],
    ),
    'money.paidBackShare':
      !yearly || onMs === null || cost <= 0
        ? none('paidBackShare', noSaving)
        : paidBack(data, account, saving, yearly, onMs, cost),
    'money.costPerStoredKWh.warranted': perStored(
      data,
      'costPerStoredKWh.warranted',
      batteryCost,
      known['warranty.first'],
      account,
      onMs,
    ),
    'money.costPerStoredKWh.projected': perStored(
      data,
      'costPerStoredKWh.projected',
      batteryCost,
      known['capacity.endOfLife.70'],
      account,
      onMs,
    ),
  };
}

function intervalFigure(
  key: MoneyKey,
  value: number,
  low: number,
  high: number,
  lines: readonly WorkingLine[],
): Figure {
  const { unit, method, label } = MONEY[key];
  return estimated(
    { value, low: Math.min(value, low), high: Math.max(value, high) },
    {
      unit,
      method,
      basis: {},
      working: [
        ...lines,
        { label, value, unit, role: 'result' },
        {
          label: 'by the interval of the saving',
          value: Math.abs(high - low) / 2,
          unit,
          role: 'uncertainty',
        },
      ],
    },
  );
}

/**
 * Years until savings, each at the end of its year, growing with prices and discounted, have paid a cost.
 * @source present value of an annuity in geometric progression, any textbook of finance (from memory)
 */
export function discountedYears(cost: number, saving: number, discount: number, rise: number): number {
  if (saving <= 0) return Infinity;
  const q = (1 + rise) / (1 + discount);
  const first = saving / (1 + discount);
  if (Math.abs(q - 1) < 1e-12) return cost / first;
  const left = 1 - (cost * (1 - q)) / first;
  return left > 0 ? Math.log(left) / Math.log(q) : Infinity;
}

/** Savings since the system was paid for; before the range, and where it begins earlier, at the saving a year. */
function paidBack(
  data: RangeData,
  { bills }: MoneyAccount,
  saving: Amount,
  yearly: Amount,
  onMs: number,
  cost: number,
): Figure {
  const { range } = data;
  const days = bills.reduce((sum, bill) => sum + bill.days, 0);
  const within =
    Math.max(0, range.toMs - Math.max(range.fromMs, onMs)) / Math.max(1, range.toMs - range.fromMs);
  const before = Math.max(0, range.fromMs - onMs) / YEAR_MS;
  const value = (saving.value * within + yearly.value * before) / cost;
  const half = (saving.half * within + yearly.half * before) / cost;
  const { unit, method, label } = MONEY.paidBackShare;
  return estimated(
    { value, low: value - half, high: value + half },
    {
      unit,
      method,
      basis: { days },
      working: [
        { label: 'saved in the range', value: saving.value * within, unit: 'currency', role: 'input' },
        {
          label: 'before it, at the saving a year',
          value: yearly.value * before,
          unit: 'currency',
          role: 'input',
        },
        { label: '÷ paid, less incentives', value: cost, unit: 'currency', role: 'input' },
        { label, value, unit, role: 'result' },
        { label: 'meters', value: half, unit, role: 'uncertainty' },
      ],
    },
  );
}

/** What a kWh through the battery costs up to a date at which its life ends. */
function perStored(
  data: RangeData,
  key: 'costPerStoredKWh.warranted' | 'costPerStoredKWh.projected',
  cost: number,
  end: Figure | undefined,
  account: MoneyAccount,
  onMs: number | null,
): Figure {
  const { unit, method, label } = MONEY[key];
  if (end?.value == null)
    return insufficient(unit, method, end?.reason ?? 'The end of its life is not known.');
  const configuration = configurationAt(data.configurations, data.range.toMs - 1);
  const beginMs = configuration.installedMs ?? onMs ?? data.range.fromMs;
  const aYear = (account.dischargeKWh * YEAR_MS) / (data.range.toMs - data.range.fromMs);
  const through = (ms: number) => (aYear * Math.max(DAY_MS, ms - beginMs)) / YEAR_MS;
  const value = cost / through(end.value);
  const off = data.accuracy.battery * value;
  return estimated(
    {
      value,
      low: Math.min(value, cost / through(end.high!)) - off,
      high: Math.max(value, cost / through(end.low!)) + off,
    },
    {
      unit: unit satisfies Unit,
      method,
      basis: {},
      working: [
        { label: 'price of the battery', value: cost, unit: 'currency', role: 'input' },
        { label: '÷ throughput up to then', value: through(end.value), unit: 'kWh', role: 'input' },
        { label, value, unit, role: 'result' },
        { label: 'the date, and the battery’s meter', value: off, unit, role: 'uncertainty' },
      ],
    },
  );
}
