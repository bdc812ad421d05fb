import { moneyAccount } from '../books/money/account.js';
import type { Bill } from '../books/money/drawnBills.js';
import { likeWithLike, type LikeWithLike } from '../books/money/likeWithLike.js';
import { degreeDays } from '../books/money/degreeDays.js';
import { moneyFigures } from '../books/money/moneyFigures.js';
import { paybackFan, type PaybackFan } from '../books/money/payback.js';
import type { Figure } from '../model/figure.js';
import type { Range } from '../model/range.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import { report } from '../report/report.js';
import { offsetAt, zoneOf } from '../time/zone.js';

/** One bill beside what it would have been; energies in kWh, amounts in the home's currency. */
export interface BillRow extends Range {
  readonly days: number;
  readonly importKWh: number;
  readonly exportKWh: number;
  readonly bill: number;
  readonly standing: number;
  readonly withoutSystem: number;
  readonly withoutBattery: number | null;
}

/** What the Money view shows of a range. */
export interface MoneyView {
  readonly figures: Readonly<Record<string, Figure>>;
  /** Oldest first; empty where nothing is priced. */
  readonly bills: readonly BillRow[];
  /** By hour of the site's day: mean import rate where one holds, and what was bought and sold in it, kWh. */
  readonly hours: readonly {
    readonly rate: number | null;
    readonly boughtKWh: number;
    readonly soldKWh: number;
  }[];
  /** Null where price, saving or date are not known. */
  readonly payback: PaybackFan | null;
  /** The range beside the year before and the days before it, and by its weather. */
  readonly like: LikeWithLike;
}

/** Bills, savings and prices of a range. */
export function moneyView(prepared: Prepared, range: Range): MoneyView {
  const { system, columns, log } = prepared;
  const data = rangeDataOf(prepared, range);
  const known = report(prepared, range, 'days').figures;
  const account = moneyAccount(data, system, columns);
  const figures = { ...moneyFigures(data, system, account, known), ...degreeDays(data) };
  const like = likeWithLike(prepared, range);
  const payback = paybackFan(data, figures);
  if ('reason' in account) return { figures, bills: [], hours: [], like, payback };
  const { prices, bills, withoutSystem, withoutBattery } = account;
  const zone = zoneOf(log.zone);
  const hours = Array.from({ length: 24 }, () => ({ rates: 0, priced: 0, boughtKWh: 0, soldKWh: 0 }));
  const cellKWh = log.stepMs / 3_600_000 / 1000;
  for (let k = 0; k < prices.bill.length; k++) {
    const ms = log.startMs + (prices.fromCell + k) * log.stepMs;
    const hour = hours[Math.floor((ms + offsetAt(zone, ms)) / 3_600_000) % 24]!;
    const watts = columns.grid![prices.fromCell + k]!;
    if (watts > 0) hour.boughtKWh += watts * cellKWh;
    else if (watts < 0) hour.soldKWh -= watts * cellKWh;
    if (prices.buy[k] === prices.buy[k]) {
      hour.rates += prices.buy[k]!;
      hour.priced++;
    }
  }
  return {
    figures,
    like,
    payback,
    bills: bills.map((bill: Bill, b) => ({
      fromMs: bill.fromMs,
      toMs: bill.toMs,
      days: bill.days,
      importKWh: bill.importKWh,
      exportKWh: bill.exportKWh,
      bill: bill.total,
      standing: bill.standing,
      withoutSystem: withoutSystem[b]!.total,
      withoutBattery: withoutBattery ? withoutBattery[b]!.total : null,
    })),
    hours: hours.map(({ rates, priced, boughtKWh, soldKWh }) => ({
      rate: priced > 0 ? rates / priced : null,
      boughtKWh,
      soldKWh,
    })),
  };
}
