import type { System } from '@long-tally/core';
import { z } from 'zod';
import { known, number, text, typed, typedClock } from './typed.js';
import { typedNumber } from '../../ui/typedNumber.js';

type Tariff = NonNullable<System['tariffs']>[number];
type Rate = NonNullable<Tariff['import']>[number];

const DAY_SETS = {
  all: ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'],
  week: ['mon', 'tue', 'wed', 'thu', 'fri'],
  weekend: ['sat', 'sun'],
} as const satisfies Record<string, Rate['days']>;

const rate = z.object({
  rate: z.string().refine((value) => !Number.isNaN(typedNumber(value)), {
    error: 'Write the price of a kWh, for example 0.21.',
  }),
  days: z.enum(['all', 'week', 'weekend']),
  start: typedClock(),
  end: typedClock(),
});

/** A tariff as its form holds it: prices from a date on, later lines over earlier ones where they apply. */
export const tariffSchema = z.object({
  from: z.string().regex(/^\d{4}-\d\d-\d\d$/, { error: 'Choose the day from which these prices hold.' }),
  standing: typed(0, 1000, 'a price a day'),
  import: z.array(rate),
  export: z.array(rate),
});

export type TariffForm = z.infer<typeof tariffSchema>;
export type RateForm = z.infer<typeof rate>;

export const NEW_RATE: RateForm = { rate: '', days: 'all', start: '', end: '' };

/** A tariff to begin with: like the one before it, or one price for all hours. */
export function nextTariff(before: TariffForm | undefined): TariffForm {
  return before ? { ...before, from: '' } : { from: '', standing: '', import: [NEW_RATE], export: [] };
}

/** The form of a tariff. */
export function tariffForm({
  from,
  standingPerDay,
  import: bought = [],
  export: sold = [],
}: Tariff): TariffForm {
  const rateForm = ({ rate: price, days, start, end }: Rate): RateForm => ({
    rate: text(price),
    days: (['week', 'weekend'] as const).find((set) => DAY_SETS[set].join() === days?.join()) ?? 'all',
    start: start ?? '',
    end: end ?? '',
  });
  return { from, standing: text(standingPerDay), import: bought.map(rateForm), export: sold.map(rateForm) };
}

/** The tariff a form describes. */
export function tariffOf({ from, standing, import: bought, export: sold }: TariffForm): unknown {
  const rateOf = ({ rate: price, days, start, end }: RateForm) =>
    known({
      rate: number(price),
      days: days === 'all' ? undefined : [...DAY_SETS[days]],
      start: start === '' ? undefined : start.padStart(5, '0'),
      end: end === '' ? undefined : end.padStart(5, '0'),
    });
  return known({
    from,
    standingPerDay: number(standing),
    import: bought.map(rateOf),
    export: sold.length > 0 ? sold.map(rateOf) : undefined,
  });
}
