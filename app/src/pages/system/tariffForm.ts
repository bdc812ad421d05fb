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

/** `origin` is the place in the file, from which what the form does not show is kept; empty where it is new. */
const rate = z.object({
  origin: z.string(),
  rate: z.string().refine((value) => !Number.isNaN(typedNumber(value)), {
    error: 'Write the price of a kWh, for example 0.21.',
  }),
  days: z.enum(['all', 'week', 'weekend']),
  start: typedClock(),
  end: typedClock(),
});

/** A tariff as its form holds it: prices from a date on, later lines over earlier ones where they apply. */
export const tariffSchema = z.object({
  origin: z.string(),
  from: z.string().regex(/^\d{4}-\d\d-\d\d$/, { error: 'Choose the day from which these prices hold.' }),
  standing: typed(0, 1000, 'a price a day'),
  import: z.array(rate),
  export: z.array(rate),
});

export type TariffForm = z.infer<typeof tariffSchema>;
export type RateForm = z.infer<typeof rate>;

export const NEW_RATE: RateForm = { origin: '', rate: '', days: 'all', start: '', end: '' };

/** A tariff to begin with: like the one before it, or one price for all hours. */
export function nextTariff(before: TariffForm | undefined): TariffForm {
  return before
    ? { ...before, from: '' }
    : { origin: '', from: '', standing: '', import: [NEW_RATE], export: [] };
}

/** The form of a tariff. */
export function tariffForm(
  { from, standingPerDay, import: bought = [], export: sold = [] }: Tariff,
  index: number,
): TariffForm {
  const rateForm = ({ rate: price, days, start, end }: Rate, i: number): RateForm => ({
    origin: String(i),
    rate: text(price),
    days: daySetOf(days),
    start: start ?? '',
    end: end ?? '',
  });
  return {
    origin: String(index),
    from,
    standing: text(standingPerDay),
    import: bought.map(rateForm),
    export: sold.map(rateForm),
  };
}

function daySetOf(days: Rate['days']): RateForm['days'] {
  return (['week', 'weekend'] as const).find((set) => DAY_SETS[set].join() === days?.join()) ?? 'all';
}

/** The tariff a form describes, with what the form does not show from the original. */
export function tariffOf(
  { origin, from, standing, import: bought, export: sold }: TariffForm,
  original: System | null,
): unknown {
  const before = origin === '' ? undefined : original?.tariffs?.[Number(origin)];
  const rateOf = ({ origin: at, rate: price, days, start, end }: RateForm, was: Rate[] | undefined) => {
    const own = at === '' ? undefined : was?.[Number(at)];
    return known({
      ...own,
      rate: number(price),
      // Other sets of days than the form's are kept while its own choice is left alone.
      days: own && daySetOf(own.days) === days ? own.days : days === 'all' ? undefined : [...DAY_SETS[days]],
      start: start === '' ? undefined : start.padStart(5, '0'),
      end: end === '' ? undefined : end.padStart(5, '0'),
    });
  };
  return known({
    ...before,
    from,
    standingPerDay: number(standing),
    import: bought.map((one) => rateOf(one, before?.import)),
    export: sold.length > 0 ? sold.map((one) => rateOf(one, before?.export)) : undefined,
  });
}
