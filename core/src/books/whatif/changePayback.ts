import { plural } from '../../model/counted.js';
import type { Interval } from '../../model/figure.js';
import { WHOLE_YEAR_DAYS, YEAR_DAYS } from '../../time/days.js';

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
  const number = (value: number) => Math.round(value).toLocaleString('en-GB').replace('-', '−');
  const amount = (value: number) => `${number(value)} ${currency}`.trim();
  const none = (says: string, savedPerYear: Interval | null = null) => ({
    ...{ price, savedPerYear, years: null },
    says: `It costs ${amount(price)}${says}`,
  });
  if (!bill) return none('; what it saves needs a load in the log and a tariff.');
  if (days < WHOLE_YEAR_DAYS)
    return none(
      `; ${plural(Math.round(days), 'a single day does', `${Math.round(days)} days do`)} not tell what it saves in a year, for winter and summer differ. Choose a range of a year.`,
    );
  const yearly = (difference: number) => (-difference * YEAR_DAYS) / billedDays;
  const saved = { value: yearly(bill.value), low: yearly(bill.high), high: yearly(bill.low) };
  if (saved.value <= 0)
    return none(
      ` and saves nothing, so it is never paid back: the bill is higher by ${amount(-saved.value)} a year (${number(-saved.high)} to ${number(-saved.low)}).`,
      saved,
    );
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
    says: `It costs ${amount(price)} and saves ${amount(saved.value)} a year (${number(saved.low)} to ${number(saved.high)}): paid back in ${value} years, ${low} at best, ${high ? `${high} at worst` : 'at worst never'}, at the use and prices of this range.`,
  };
}
