import type { Interval } from '../../model/figure.js';
import { YEAR_DAYS } from '../../time/days.js';

/** What a change costs, against what it would have saved. */
export interface ChangePayback {
  /** In the home's currency, as what follows. */
  readonly price: number;
  /** Null where no tariff tells it, or the range is no year. */
  readonly savedPerYear: Interval | null;
  /** Null where it is never paid back or not told; `high` is null where it may never be. */
  readonly years: (Omit<Interval, 'high'> & { readonly high: number | null }) | null;
  readonly says: string;
}

/** Less is no year: winter and summer save differently. */
const LEAST_DAYS = 330;

/**
 * How long a change takes to be paid back, at the use, the weather and the prices of the range: price ÷ saving a year.
 * Common practice, no published source.
 * @param bill difference of the bill over the range; null where it is not known
 * @param days of the range
 * @param billedDays so much of it as is known and billed
 */
export function changePayback(
  price: number,
  bill: Interval | null,
  days: number,
  billedDays: number,
  currency: string,
): ChangePayback {
  const amount = (value: number) =>
    `${Math.round(value).toLocaleString('en-GB').replace('-', '−')} ${currency}`.trim();
  const none = (says: string, savedPerYear: Interval | null = null) => ({
    ...{ price, savedPerYear, years: null },
    says: `${amount(price)}: ${says}`,
  });
  if (!bill) return none('what it saves in money needs a load in the log and a tariff.');
  if (days < LEAST_DAYS)
    return none(
      `${Math.round(days)} days do not tell what it saves in a year, for winter and summer differ. Choose a range of a year.`,
    );
  const yearly = (difference: number) => (-difference * YEAR_DAYS) / billedDays;
  const saved = { value: yearly(bill.value), low: yearly(bill.high), high: yearly(bill.low) };
  const held = `${amount(saved.value)} a year (${amount(saved.low)} to ${amount(saved.high)})`;
  if (saved.value <= 0) return none(`it saves nothing, so it is never paid back: ${held}.`, saved);
  const years = {
    value: price / saved.value,
    low: price / saved.high,
    high: saved.low > 0 ? price / saved.low : null,
  };
  const [value, low, high] = [years.value, years.low, years.high].map((one) => one?.toFixed(1));
  return {
    price,
    savedPerYear: saved,
    years,
    says: `${amount(price)} for ${held}: paid back in ${value} years, ${low} at best, ${high ? `${high} at worst` : 'at worst never'}, at the use and prices of this range.`,
  };
}
