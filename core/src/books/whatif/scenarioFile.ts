import { z } from 'zod';
import { parseJson } from '../../model/validation.js';
import { systemSchema } from '../../system/schema.js';

const share = z.number().min(0).max(1);
const size = z.number().min(0.001).max(100_000);
const power = z.number().min(0).max(100_000);
const factor = z.number().min(0).max(100);
const clock = z.string().regex(/^([01]\d|2[0-4]):[0-5]\d$/, {
  error: 'write the time of day as hours:minutes, for example "23:00"',
});

const change = z
  .strictObject({
    battery: z
      .strictObject({
        modules: z.number().int().min(0).max(10_000).optional(),
        moduleKWh: size.optional(),
        usableShare: share.gt(0).optional(),
        reserve: share.optional(),
        /** Floors by time of day and month, over the reserve. */
        reserveWindows: z
          .array(
            z.strictObject({
              start: clock,
              end: clock,
              reserve: share,
              months: z.array(z.number().int().min(1).max(12)).min(1).optional(),
            }),
          )
          .max(50)
          .optional(),
        cutOff: share.optional(),
        maxChargeKW: size.optional(),
        maxDischargeKW: size.optional(),
      })
      .optional(),
    inverter: z
      .strictObject({
        units: z.number().int().min(1).max(1000).optional(),
        continuousKW: size.optional(),
        batteryOnlyKW: size.optional(),
        surgeKW: size.optional(),
        legs: z.number().int().min(1).max(3).optional(),
        perLegKW: size.nullish(),
        statedIdleW: power.optional(),
      })
      .optional(),
    exportLimitKW: power.optional(),
    chargeWindows: z
      .array(
        z.strictObject({
          start: clock,
          end: clock,
          toSoc: share.default(1),
          months: z.array(z.number().int().min(1).max(12)).min(1).optional(),
        }),
      )
      .optional(),
    gridChargeLimitKW: power.optional(),
    arraysScale: z.record(z.string(), factor).optional(),
    tariffs: systemSchema.shape.tariffs,
    noBattery: z.boolean().optional(),
    noSolar: z.boolean().optional(),
    coupling: z.enum(['ac', 'dc']).optional(),
    idleW: z.number().min(0).max(20_000).optional(),
    strategy: z.enum(['self-use', 'cheap-charge', 'peak-shave', 'none']).optional(),
    /** With `cheap-charge`: tomorrow's sun and load are known, and cheap hours fill the battery for what they lack. */
    knowsTomorrow: z.boolean().optional(),
    addLoads: z
      .array(
        z.strictObject({
          name: z.string().max(200).default('load'),
          kWhPerDay: z.number().min(0).max(10_000),
          start: clock.default('00:00'),
          end: clock.default('24:00'),
          kW: size,
        }),
      )
      .max(50)
      .optional(),
    /** A heat pump: what it takes for each kelvin below its base in a day, up to its power. */
    heatPump: z
      .strictObject({
        kWhPerDegreeDay: z.number().min(0).max(100),
        baseC: z.number().min(-20).max(40).default(15.5),
        kW: size,
      })
      .optional(),
    shiftLoads: z
      .array(z.strictObject({ name: z.string(), to: z.enum(['surplus', 'night']) }))
      .max(50)
      .optional(),
    removeLoads: z.array(z.string()).max(50).optional(),
    /** What of the home is carried in an outage: a share of the load, no more than a power, without loads logged by name. */
    outage: z
      .strictObject({
        share: share.optional(),
        capKW: size.optional(),
        without: z.array(z.string()).max(50).optional(),
      })
      .optional(),
    surplusLoad: z.strictObject({ kW: size, aboveSoc: share.default(0.95) }).optional(),
  })
  .refine(
    ({ battery }) =>
      battery?.reserve === undefined || battery.cutOff === undefined || battery.reserve >= battery.cutOff,
    {
      path: ['battery', 'reserve'],
      error: 'let the reserve be no lower than the cut-off',
    },
  );

/** The scenario file, `long-tally/scenario@1`: what would be changed. A key that is not known is refused. */
export const scenarioSchema = z.looseObject({
  schema: z.literal('long-tally/scenario@1'),
  name: z.string().min(1).max(200).default('scenario'),
  change: change.default({}),
  /** What the change costs, in the home's currency. */
  price: z.number().min(0).max(1e9).optional(),
});
export type ScenarioFile = z.infer<typeof scenarioSchema>;
export type Change = ScenarioFile['change'];

/**
 * A scenario from the text of its file.
 * @throws InputError with one problem for each key that is wrong
 */
export function parseScenario(text: string, where: string): ScenarioFile {
  return parseJson(scenarioSchema, text, where, 'a scenario file, schema long-tally/scenario@1');
}

/** JSON Schema of the scenario file. */
export function scenarioJsonSchema(): object {
  return z.toJSONSchema(scenarioSchema, { io: 'input', unrepresentable: 'any' });
}
