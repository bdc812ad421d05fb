import type { System } from '@long-tally/core';
import { z } from 'zod';
import { known, number, percent, share, text, typed, typedClock } from './typed.js';
import { typedNumber } from '../../ui/typedNumber.js';

type Tariff = NonNullable<System['tariffs']>[number];
type Rate = NonNullable<Tariff['import']>[number];
type Demand = NonNullable<Tariff['demand']>[number];

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
  months: z.string().refine((value) => monthsOf(value) !== null, {
    error: 'Write months as numbers, for example 11, 12, 1, 2 or 6-8; empty for all.',
  }),
  above: typed(0, 1e6, 'an energy in kWh'),
  dayClass: z.string().max(100),
});

/** A charge on the highest power of a bill. */
const demand = z.object({
  origin: z.string(),
  rate: z.string().refine((value) => typedNumber(value) >= 0, {
    error: 'Write the price of a kilowatt, for example 4.20.',
  }),
  window: typed(1, 1440, 'minutes'),
  days: z.enum(['all', 'week', 'weekend']),
  start: typedClock(),
  end: typedClock(),
});

/** Months of `11, 12` or `6-8`; empty for all, null for what is neither. */
function monthsOf(typedText: string): number[] | null {
  if (typedText.trim() === '') return [];
  const months: number[] = [];
  for (const part of typedText.split(',')) {
    const [, first, last = first] = /^\s*(\d{1,2})(?:\s*[-–]\s*(\d{1,2}))?\s*$/.exec(part) ?? [];
    const [from, to] = [Number(first), Number(last)];
    if (!(from >= 1 && from <= 12 && to >= 1 && to <= 12)) return null;
    // 11-2 goes over the turn of the year.
    for (let month = from; ; month = (month % 12) + 1) {
      months.push(month);
      if (month === to) break;
    }
  }
  return months;
}

/** Announced days as `dear: 2024-01-15, 2024-02-02`, a class a line; null for what is not so. */
function classesOf(typedText: string): Record<string, string[]> | null {
  const classes: Record<string, string[]> = {};
  for (const line of typedText.split('\n').filter((one) => one.trim() !== '')) {
    const [, name, dates] = /^\s*([^:]+?)\s*:(.*)$/.exec(line) ?? [];
    const days =
      dates
        ?.split(',')
        .map((one) => one.trim())
        .filter((one) => one !== '') ?? [];
    if (name === undefined || days.some((one) => !/^\d{4}-\d\d-\d\d$/.test(one))) return null;
    classes[name] = days;
  }
  return classes;
}

/** A tariff as its form holds it: prices from a date on, later lines over earlier ones where they apply. */
export const tariffSchema = z.object({
  origin: z.string(),
  from: z.string().regex(/^\d{4}-\d\d-\d\d$/, { error: 'Choose the day from which these prices hold.' }),
  standing: typed(0, 1000, 'a price a day'),
  tax: typed(0, 100, 'per cent'),
  billingDay: typed(1, 28, 'a day of the month'),
  scheme: z.enum(['paid', 'net', 'none']),
  settleMonth: typed(1, 12, 'a month'),
  settleRate: typed(0, 1000, 'a price of a kWh'),
  classes: z.string().refine((value) => classesOf(value) !== null, {
    error: 'Write a class a line, as in dear: 2024-01-15, 2024-02-02.',
  }),
  import: z.array(rate),
  export: z.array(rate),
  demand: z.array(demand),
});

export type TariffForm = z.infer<typeof tariffSchema>;
export type RateForm = z.infer<typeof rate>;

export const NEW_RATE: RateForm = {
  origin: '',
  rate: '',
  days: 'all',
  start: '',
  end: '',
  months: '',
  above: '',
  dayClass: '',
};

export const NEW_DEMAND: z.infer<typeof demand> = {
  origin: '',
  rate: '',
  window: '30',
  days: 'all',
  start: '',
  end: '',
};

/** A tariff to begin with: like the one before it, or one price for all hours. */
export function nextTariff(before: TariffForm | undefined): TariffForm {
  return before
    ? { ...before, from: '' }
    : {
        origin: '',
        from: '',
        standing: '',
        tax: '',
        billingDay: '',
        scheme: 'paid',
        settleMonth: '',
        settleRate: '',
        classes: '',
        import: [NEW_RATE],
        export: [],
        demand: [],
      };
}

/** The form of a tariff. */
export function tariffForm(tariff: Tariff, index: number): TariffForm {
  const { from, standingPerDay, import: bought = [], export: sold = [] } = tariff;
  const rateForm = (
    { rate: price, days, start, end, months, aboveKWh, dayClass }: Rate,
    i: number,
  ): RateForm => ({
    origin: String(i),
    rate: text(price),
    days: daySetOf(days),
    start: start ?? '',
    end: end ?? '',
    months: months?.join(', ') ?? '',
    above: text(aboveKWh),
    dayClass: dayClass ?? '',
  });
  return {
    origin: String(index),
    from,
    standing: text(standingPerDay),
    tax: percent(tariff.taxShare),
    billingDay: text(tariff.billingDay),
    scheme: tariff.exportScheme ?? 'paid',
    settleMonth: text(tariff.settleMonth),
    settleRate: text(tariff.settleRate),
    classes: Object.entries(tariff.dayClasses ?? {})
      .map(([name, days]) => `${name}: ${days.join(', ')}`)
      .join('\n'),
    import: bought.map(rateForm),
    export: sold.map(rateForm),
    demand: (tariff.demand ?? []).map(({ ratePerKW, windowMinutes, days, start, end }, i) => ({
      origin: String(i),
      rate: text(ratePerKW),
      window: text(windowMinutes),
      days: daySetOf(days),
      start: start ?? '',
      end: end ?? '',
    })),
  };
}

function daySetOf(days: Rate['days']): RateForm['days'] {
  return (['week', 'weekend'] as const).find((set) => DAY_SETS[set].join() === days?.join()) ?? 'all';
}

/** The tariff a form describes, with what the form does not show from the original. */
export function tariffOf(form: TariffForm, original: System | null): unknown {
  const { origin, from, standing, import: bought, export: sold } = form;
  const before = origin === '' ? undefined : original?.tariffs?.[Number(origin)];
  // Other sets of days than the form's are kept while its own choice is left alone.
  const daysOf = (own: Pick<Rate, 'days'> | undefined, days: RateForm['days']) =>
    own && daySetOf(own.days) === days ? own.days : days === 'all' ? undefined : [...DAY_SETS[days]];
  const clockOf = (typedTime: string) => (typedTime === '' ? undefined : typedTime.padStart(5, '0'));
  const demandOf = ({ origin: at, rate: price, window, days, start, end }: TariffForm['demand'][number]) => {
    const own: Demand | undefined = at === '' ? undefined : before?.demand?.[Number(at)];
    return known({
      ...own,
      ratePerKW: number(price),
      windowMinutes: number(window) ?? 30,
      days: daysOf(own, days),
      start: clockOf(start),
      end: clockOf(end),
    });
  };
  const rateOf = (rateForm: RateForm, was: Rate[] | undefined) => {
    const { origin: at, rate: price, days, start, end } = rateForm;
    const months = monthsOf(rateForm.months)!;
    const own = at === '' ? undefined : was?.[Number(at)];
    return known({
      ...own,
      rate: number(price),
      days: daysOf(own, days),
      start: clockOf(start),
      end: clockOf(end),
      months: months.length > 0 ? months : undefined,
      aboveKWh: number(rateForm.above),
      dayClass: rateForm.dayClass.trim() === '' ? undefined : rateForm.dayClass.trim(),
    });
  };
  return known({
    ...before,
    from,
    standingPerDay: number(standing),
    taxShare: share(form.tax),
    billingDay: number(form.billingDay),
    // Paid is what holds where nothing is said.
    exportScheme: form.scheme === 'paid' && before?.exportScheme === undefined ? undefined : form.scheme,
    settleMonth: number(form.settleMonth),
    settleRate: number(form.settleRate),
    dayClasses: form.classes.trim() === '' ? undefined : classesOf(form.classes)!,
    import: bought.map((one) => rateOf(one, before?.import)),
    export: sold.length > 0 ? sold.map((one) => rateOf(one, before?.export)) : undefined,
    demand: form.demand.length > 0 ? form.demand.map(demandOf) : undefined,
  });
}
