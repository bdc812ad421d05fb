import { z } from 'zod';
import { TRIAL_KINDS, type TrialKind } from '../../model/trialRecord.js';
import { parseJson } from '../../model/validation.js';
import { parseInstant } from '../../time/instant.js';

/** What may happen at a reading. */
export const TRIAL_EVENTS = [
  'none',
  'dimming',
  'transfer',
  'trip',
  'low-charge',
  'restart',
  'solar-off',
  'solar-on',
] as const;
export type TrialEvent = (typeof TRIAL_EVENTS)[number];

/** Counters of a display, in the order in which they are asked for. */
export const TRIAL_COUNTERS = [
  'dischargeKWh',
  'chargeKWh',
  'solarKWh',
  'importKWh',
  'exportKWh',
  'loadKWh',
] as const;
export type TrialCounter = (typeof TRIAL_COUNTERS)[number];

const share = z.number().min(0).max(1, { error: 'write the charge as a share from 0 to 1: 0.85 for 85 %' });
const counter = z.number().min(0).max(1e8);
/** A home draws no more than this; kW typed as W, or W as mW, are met here. */
const power = z.number().min(-1e6).max(1e6);
const instant = z.string().refine((text) => !Number.isNaN(parseInstant(text)), {
  error: 'write the date and time with its offset, for example "2024-03-01T18:00:00+13:00"',
});

const reading = z.object({
  at: instant,
  soc: share.optional(),
  dischargeKWh: counter.optional(),
  chargeKWh: counter.optional(),
  solarKWh: counter.optional(),
  importKWh: counter.optional(),
  exportKWh: counter.optional(),
  loadKWh: counter.optional(),
  loadW: power.optional(),
  solarW: power.optional(),
  /** + discharge, − charge. */
  batteryW: power.optional(),
  legW: z.array(power).min(1).max(3).optional(),
  /** Share of its rating that each inverter gives. */
  perUnit: z.array(z.number().min(0).max(5)).max(100).optional(),
  hz: z.number().min(0).max(500).optional(),
  batteryC: z.number().min(-60).max(120).optional(),
  /** Whether the charging had died down when the display said full. */
  isTapered: z.boolean().optional(),
  appliance: z.string().max(200).optional(),
  event: z.enum(TRIAL_EVENTS).optional(),
  note: z.string().max(2000).optional(),
});

/** The trial file, `long-tally/trial@1`. Keys that are not known do not matter. */
export const trialSchema = z
  .looseObject({
    schema: z.literal('long-tally/trial@1'),
    kind: z.enum(TRIAL_KINDS),
    from: instant.optional(),
    to: instant.optional(),
    name: z.string().max(200).optional(),
    goal: z
      .looseObject({
        until: instant.optional(),
        soc: share.optional(),
        hours: z.number().min(0.1).max(10_000).optional(),
      })
      .optional(),
    readings: z
      .array(reading)
      .max(20_000, { error: 'give at most 20 000 readings; a longer course is a log' })
      .default([]),
    journal: z.enum(['leave', 'test']).optional(),
  })
  .refine(({ from, to }) => from === undefined || to === undefined || parseInstant(from) < parseInstant(to), {
    path: ['to'],
    error: 'let the trial end after it begins',
  });
export type TrialFile = z.infer<typeof trialSchema>;

/** One reading of a trial: instants as epoch ms, energies in kWh as displayed, shares 0–1. */
export type TrialReading = Omit<TrialFile['readings'][number], 'at'> & { readonly atMs: number };

/** A trial as it is evaluated. */
export interface Trial {
  readonly kind: TrialKind;
  /** Null where neither it nor a reading tells. */
  readonly fromMs: number | null;
  readonly toMs: number | null;
  readonly name: string | null;
  readonly goal: {
    readonly untilMs: number | null;
    readonly soc: number | null;
    readonly hours: number | null;
  } | null;
  /** In order of time, whatever their order in the file. */
  readonly readings: readonly TrialReading[];
}

/**
 * A trial file from its text, as it stands.
 * @param where name of the file, for the messages
 * @throws InputError with one problem for each key that is wrong
 */
export function parseTrialFile(text: string, where: string): TrialFile {
  return parseJson(trialSchema, text, where, 'a trial file, schema long-tally/trial@1');
}

/**
 * A trial from the text of its file.
 * @param where name of the file, for the messages
 * @throws InputError with one problem for each key that is wrong
 */
export function parseTrial(text: string, where: string): Trial {
  return trialOf(parseTrialFile(text, where));
}

/** A trial as it is evaluated, from its file. */
export function trialOf({ kind, from, to, name, goal, readings }: TrialFile): Trial {
  const sorted = readings
    .map(({ at, ...rest }): TrialReading => ({ ...rest, atMs: parseInstant(at) }))
    .sort((one, other) => one.atMs - other.atMs);
  const instantOf = (text: string | undefined) => (text === undefined ? null : parseInstant(text));
  return {
    kind,
    fromMs: instantOf(from) ?? sorted[0]?.atMs ?? null,
    toMs: instantOf(to) ?? sorted.at(-1)?.atMs ?? null,
    name: name ?? null,
    goal: goal ? { untilMs: instantOf(goal.until), soc: goal.soc ?? null, hours: goal.hours ?? null } : null,
    readings: sorted,
  };
}

/** JSON Schema of the trial file. */
export function trialJsonSchema(): object {
  return z.toJSONSchema(trialSchema, { io: 'input', unrepresentable: 'any' });
}
