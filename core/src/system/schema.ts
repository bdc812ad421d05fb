import { z } from 'zod';
import { parseInstant } from '../time/instant.js';
import { isZone } from '../time/zone.js';

const share = z.number().min(0).max(1);
const positive = z.number().positive();
const notNegative = z.number().min(0);
const instant = z.string().refine((text) => !Number.isNaN(parseInstant(text)), {
  error: 'write the date and time with its offset, for example "2024-03-01T00:00:00+13:00"',
});
const date = z.string().refine((text) => /^\d{4}-\d\d-\d\d$/.test(text) && !Number.isNaN(Date.parse(text)), {
  error: 'write the date as year-month-day, for example "2024-03-01"',
});
const clock = z.string().regex(/^([01]\d|2[0-4]):[0-5]\d$/, {
  error: 'write the time of day as hours:minutes, for example "23:00"',
});
const weekday = z.enum(['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']);

const battery = z.looseObject({
  modules: z.number().int().min(0).optional(),
  moduleKWh: positive.optional(),
  usableShare: share.gt(0).optional(),
  chemistry: z.string().optional(),
  maxChargeKW: positive.optional(),
  maxDischargeKW: positive.optional(),
  reserve: share.optional(),
  cutOff: share.optional(),
  /** Cycles to the end of life at a depth of discharge, as the data sheet has them. */
  cycleLife: z.array(z.looseObject({ depth: share.gt(0), cycles: positive })).optional(),
});

const inverter = z.looseObject({
  units: z.number().int().min(1).optional(),
  continuousKW: positive.optional(),
  batteryOnlyKW: positive.optional(),
  surgeKW: positive.optional(),
  legs: z.number().int().min(1).max(3).optional(),
  perLegKW: positive.nullish(),
  /** What it still gives from the battery at little charge, and the charge below which that begins. */
  lowChargeKW: positive.optional(),
  lowCharge: share.optional(),
  statedIdleW: notNegative.optional(),
});

const array = z.looseObject({
  name: z.string().optional(),
  kWp: positive,
  tilt: z.number().min(0).max(90).optional(),
  azimuth: z.number().min(0).max(360).optional(),
});

const warranty = z.looseObject({
  years: positive.optional(),
  throughputKWh: positive.optional(),
  cycles: positive.optional(),
  cycleDepth: share.gt(0).optional(),
  /** Capacity that the document names, where its cycles are counted by it. */
  capacityKWh: positive.optional(),
  endCapacity: share.optional(),
});

/** When the battery is charged from the grid on purpose, and up to which state of charge. */
const chargeWindow = z.looseObject({ start: clock, end: clock, toSoc: share.optional() });

/** How the home is built from a date on. Anything left out is not known, and what needs it says so. */
export const configurationSchema = z.looseObject({
  from: instant,
  name: z.string().optional(),
  battery: battery.optional(),
  inverter: inverter.optional(),
  coupling: z.enum(['ac', 'dc']).optional(),
  grid: z.enum(['connected', 'none']).optional(),
  arrays: z.array(array).optional(),
  exportLimitKW: notNegative.optional(),
  warranty: warranty.optional(),
  /** Terms that hold where the battery is used without a grid; they are often shorter. */
  warrantyOffGrid: warranty.optional(),
  chargeWindows: z.array(chargeWindow).optional(),
  price: z.looseObject({ paid: notNegative.optional(), incentives: notNegative.optional() }).optional(),
});

const rate = z.looseObject({
  rate: z.number(),
  days: z.array(weekday).optional(),
  start: clock.optional(),
  end: clock.optional(),
});

const tariff = z.looseObject({
  from: date,
  standingPerDay: notNegative.optional(),
  import: z.array(rate).optional(),
  export: z.array(rate).optional(),
});

/** Accuracy of the home's meters: gains as shares (0.02 = 2 %), SOC in shares of full, the zero offset in W. */
export const accuracySchema = z.looseObject({
  solar: share.optional(),
  load: share.optional(),
  grid: share.optional(),
  battery: share.optional(),
  soc: share.optional(),
  offsetW: notNegative.optional(),
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
  tariffs: z.array(tariff).optional(),
  accuracy: accuracySchema.optional(),
});

export type System = z.infer<typeof systemSchema>;
export type SystemConfiguration = z.infer<typeof configurationSchema>;
export type Accuracy = z.infer<typeof accuracySchema>;
