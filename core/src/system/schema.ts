import { z } from 'zod';
import { parseDate, parseInstant } from '../time/instant.js';
import { isZone } from '../time/zone.js';

const share = z.number().min(0).max(1);
/** Sizes no home is smaller or larger than, so that a slip of the unit is met at the door and no figure overflows. */
const size = z.number().min(0.001).max(100_000);
const powerLimit = z.number().min(0).max(100_000);
const money = z.number().min(0).max(1e9);
const years = z.number().min(0.1).max(100);
const cycleCount = z.number().min(1).max(1e6);
const instant = z.string().refine((text) => !Number.isNaN(parseInstant(text)), {
  error: 'write the date and time with its offset, for example "2024-03-01T00:00:00+13:00"',
});
const date = z.string().refine((text) => !Number.isNaN(parseDate(text)), {
  error: 'write a date that exists as year-month-day, for example "2024-03-01"',
});
const clock = z.string().regex(/^([01]\d|2[0-4]):[0-5]\d$/, {
  error: 'write the time of day as hours:minutes, for example "23:00"',
});
const month = z.number().int().min(1).max(12);
const weekday = z.enum(['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']);

/** A floor of the state of charge that is kept through a part of the day, over the reserve. */
const reserveWindow = z.looseObject({
  start: clock,
  end: clock,
  reserve: share,
  months: z.array(month).min(1).optional(),
});

const battery = z.looseObject({
  modules: z.number().int().min(0).max(10_000).optional(),
  moduleKWh: size.optional(),
  usableShare: share.gt(0).optional(),
  chemistry: z.string().optional(),
  maxChargeKW: size.optional(),
  maxDischargeKW: size.optional(),
  reserve: share.optional(),
  reserveWindows: z.array(reserveWindow).optional(),
  cutOff: share.optional(),
  /** Cycles to the end of life at a depth of discharge, as the data sheet has them. */
  cycleLife: z.array(z.looseObject({ depth: share.gt(0), cycles: cycleCount })).optional(),
});

const inverter = z.looseObject({
  units: z.number().int().min(1).max(1000).optional(),
  continuousKW: size.optional(),
  batteryOnlyKW: size.optional(),
  surgeKW: size.optional(),
  legs: z.number().int().min(1).max(3).optional(),
  perLegKW: size.nullish(),
  /** What it still gives from the battery at little charge, and the charge below which that begins. */
  lowChargeKW: size.optional(),
  lowCharge: share.optional(),
  statedIdleW: powerLimit.optional(),
});

const array = z.looseObject({
  name: z.string().optional(),
  kWp: size,
  tilt: z.number().min(0).max(90).optional(),
  azimuth: z.number().min(0).max(360).optional(),
  /** AC rating of the array's own inverter, where it has one. */
  inverterKW: size.optional(),
});

const warranty = z.looseObject({
  years: years.optional(),
  throughputKWh: z.number().min(1).max(1e9).optional(),
  cycles: cycleCount.optional(),
  cycleDepth: share.gt(0).optional(),
  /** Capacity that the document names, where its cycles are counted by it. */
  capacityKWh: size.optional(),
  endCapacity: share.optional(),
});

/** When the battery is charged from the grid on purpose, and up to which state of charge. */
const chargeWindow = z.looseObject({
  start: clock,
  end: clock,
  toSoc: share.optional(),
  months: z.array(month).min(1).optional(),
});

/** How the home is built from a date on. Anything left out is not known, and what needs it says so. */
export const configurationSchema = z.looseObject({
  from: instant,
  name: z.string().optional(),
  battery: battery.optional(),
  inverter: inverter.optional(),
  coupling: z.enum(['ac', 'dc']).optional(),
  grid: z.enum(['connected', 'none']).optional(),
  arrays: z.array(array).optional(),
  exportLimitKW: powerLimit.optional(),
  warranty: warranty.optional(),
  /** Terms that hold where the battery is used without a grid; they are often shorter. */
  warrantyOffGrid: warranty.optional(),
  chargeWindows: z.array(chargeWindow).optional(),
  price: z
    .looseObject({
      paid: money.optional(),
      incentives: money.optional(),
      on: date.optional(),
      upkeepPerYear: money.optional(),
      /** The battery's part of what was paid. */
      batteryPaid: money.optional(),
    })
    .optional(),
});

const rate = z
  .looseObject({
    rate: z.number().min(-10_000).max(10_000),
    days: z.array(weekday).optional(),
    months: z.array(month).min(1).optional(),
    start: clock.optional(),
    end: clock.optional(),
    /** A class of days that the supplier announces, named in `dayClasses`. */
    dayClass: z.string().min(1).optional(),
    /** A block: it holds for what is bought beyond so many kWh of the billing month. */
    aboveKWh: z.number().min(0).max(1e6).optional(),
  })
  .refine(({ start, end }) => (start === undefined) === (end === undefined), {
    error: 'a window needs both its start and its end, for example "start": "23:00", "end": "07:00"',
  });

const demandCharge = z.looseObject({
  ratePerKW: money,
  windowMinutes: z.number().int().min(1).max(1440).default(30),
  days: z.array(weekday).optional(),
  months: z.array(month).min(1).optional(),
  start: clock.optional(),
  end: clock.optional(),
});

const tariff = z
  .looseObject({
    from: date,
    standingPerDay: money.optional(),
    import: z.array(rate).optional(),
    export: z.array(rate).optional(),
    dayClasses: z.record(z.string(), z.array(date).max(10_000)).optional(),
    /** Day of the month on which a bill begins. */
    billingDay: z.number().int().min(1).max(28).optional(),
    demand: z.array(demandCharge).max(20).optional(),
    /** `paid`: each exported kWh earns its rate; `net`: it is credited against import; `none`: it earns nothing. */
    exportScheme: z.enum(['paid', 'net', 'none']).optional(),
    /** Month whose last bill settles what credit is left, and what a kWh of it is then worth. */
    settleMonth: month.optional(),
    settleRate: money.optional(),
    /** On all of the bill; rates are then without it. */
    taxShare: share.optional(),
  })
  .superRefine(({ import: rates, export: sold, dayClasses }, context) => {
    for (const [list, name] of [
      [rates, 'import'],
      [sold, 'export'],
    ] as const)
      (list ?? []).forEach(({ dayClass }, k) => {
        if (dayClass !== undefined && dayClasses?.[dayClass] === undefined)
          context.addIssue({
            code: 'custom',
            path: [name, k, 'dayClass'],
            message: `list the days of this class under "dayClasses": {"${dayClass}": ["2024-01-15"]}`,
          });
      });
  });

/** Accuracy of the home's meters: gains as shares (0.02 = 2 %), SOC in shares of full, the zero offset in W. */
const accuracySchema = z.looseObject({
  solar: share.optional(),
  load: share.optional(),
  grid: share.optional(),
  battery: share.optional(),
  soc: share.optional(),
  offsetW: powerLimit.optional(),
});

/** The system file, `long-tally/system@1`. Unknown keys are kept, not refused. */
export const systemSchema = z.looseObject({
  schema: z.literal('long-tally/system@1'),
  name: z.string().min(1),
  timeZone: z.string().refine(isZone, {
    error: 'this zone is not known; write an IANA name such as "Europe/Lisbon" or "Pacific/Auckland"',
  }),
  currency: z.string().optional(),
  latitude: z.number().min(-90).max(90).optional(),
  longitude: z.number().min(-180).max(180).optional(),
  configurations: z.array(configurationSchema).optional(),
  tariffs: z.array(tariff).max(1000).optional(),
  /** Shares a year, for what later savings are worth today. */
  discountRate: z.number().min(-0.5).max(1).optional(),
  priceRise: z.number().min(-0.5).max(1).optional(),
  accuracy: accuracySchema.optional(),
  /** A day that buys no more than this counts as free of the grid, kWh. */
  gridFreeKWh: z.number().min(0).max(100).optional(),
  /** Outdoor temperatures, °C, below which the home is heated and above which it is cooled. */
  degreeDays: z
    .looseObject({
      heatingBaseC: z.number().min(-20).max(40).optional(),
      coolingBaseC: z.number().min(-20).max(50).optional(),
    })
    .optional(),
});

export type System = z.infer<typeof systemSchema>;
export type SystemConfiguration = z.infer<typeof configurationSchema>;
export type Accuracy = z.infer<typeof accuracySchema>;
