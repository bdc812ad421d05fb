import { z } from 'zod';
import { parseJson } from '../../model/validation.js';
import { parseInstant } from '../../time/instant.js';

/** What a reader knows of a short run: readings at its start and end. Energies in kWh, SOC as shares. */
export interface ShortRun {
  readonly hours: number;
  readonly socStart: number;
  readonly socEnd: number;
  /** Into and out of the battery by its counters. */
  readonly inKWh: number;
  readonly outKWh: number;
  readonly usableKWh: number;
  /** Idle draw in W and conversion loss as a share of the discharge, each from least to most. */
  readonly idleW: readonly [low: number, high: number];
  readonly conversion: readonly [low: number, high: number];
  /** How far a reading of SOC may be off, and the counters, as shares. */
  readonly socError: number;
  readonly counterError: number;
  /** Readings on the way, oldest first, the first and the last among them. */
  readonly readings?: readonly RunReading[];
}

/** What the displays show at one moment of a run: SOC as a share, the battery's counters in kWh as they stand. */
export interface RunReading {
  readonly atMs: number;
  readonly soc: number;
  readonly chargeKWh: number;
  readonly dischargeKWh: number;
}

/** What is taken where nothing is known of the home: a battery with its converter, displays and counters as they come. */
export const USUAL = {
  idleW: [5, 80],
  conversion: [0.04, 0.15],
  socError: 0.03,
  counterError: 0.02,
} as const satisfies Partial<ShortRun>;

const share = z.number().min(0).max(1);
const span = (most: number) =>
  z
    .tuple([z.number().min(0), z.number().max(most)])
    .refine(([low, high]) => low <= high, { error: 'write the least first' });

/** Readings of a short run as a file, `long-tally/run@1`; what it leaves out is taken as is usual. */
const counter = z.number().min(0).max(1e9);
const reading = z.looseObject({
  at: z.string().refine((text) => !Number.isNaN(parseInstant(text)), {
    error: 'write the date and time with its offset, for example "2024-03-01T18:00:00+13:00"',
  }),
  soc: share,
  chargeKWh: counter.default(0),
  dischargeKWh: counter.default(0),
});
const ENDS = ['hours', 'socStart', 'socEnd', 'inKWh', 'outKWh'] as const;
const runSchema = z
  .object({
    schema: z.literal('long-tally/run@1'),
    /** Rows with their time, from which hours and energies follow; or what they come to, without rows. */
    readings: z.array(reading).min(2).optional(),
    hours: z.number().min(0.5).max(240).optional(),
    socStart: share.optional(),
    socEnd: share.optional(),
    inKWh: z.number().min(0).max(1e6).optional(),
    outKWh: z.number().min(0).max(1e6).optional(),
    usableKWh: z.number().min(0.01).max(1e5),
    /** Inverters or battery units that draw for themselves: the usual draw is that of one. */
    units: z.number().int().min(1).max(100).default(1),
    idleW: span(20_000).optional(),
    conversion: span(0.9).default([...USUAL.conversion]),
    socError: share.default(USUAL.socError),
    counterError: share.default(USUAL.counterError),
  })
  .superRefine((run, context) => {
    for (const key of ENDS)
      if (!run.readings && run[key] === undefined)
        context.addIssue({ code: 'custom', path: [key], message: 'write it, or rows under "readings"' });
    const times = (run.readings ?? []).map(({ at }) => parseInstant(at));
    const early = times.findIndex((ms, i) => i > 0 && !(ms > times[i - 1]!));
    if (early > 0)
      context.addIssue({
        code: 'custom',
        path: ['readings', early, 'at'],
        message: 'let each reading be later than the one before it',
      });
    for (const key of ['chargeKWh', 'dischargeKWh'] as const)
      (run.readings ?? []).forEach((one, i) => {
        if (i > 0 && one[key] < run.readings![i - 1]![key])
          context.addIssue({
            code: 'custom',
            path: ['readings', i, key],
            message: 'a counter does not fall',
          });
      });
  });

/**
 * A short run from the text of its file.
 * @param text JSON of `long-tally/run@1`: energies in kWh, shares 0–1
 * @throws InputError with one problem for each key that is wrong
 */
export function parseRun(text: string, where: string): ShortRun {
  const run = parseJson(runSchema, text, where, 'the readings of a short run, schema long-tally/run@1');
  const { readings: rows, units, idleW, hours, socStart, socEnd, inKWh, outKWh, ...rest } = run;
  const more = { ...rest, idleW: idleW ?? usualIdleW(units) };
  if (rows)
    return runOf(
      rows.map(({ at, soc, chargeKWh, dischargeKWh }) => ({
        atMs: parseInstant(at),
        soc,
        chargeKWh,
        dischargeKWh,
      })),
      more,
    );
  return {
    ...more,
    hours: hours!,
    socStart: socStart!,
    socEnd: socEnd!,
    inKWh: inKWh!,
    outKWh: outKWh!,
  };
}

/** The usual idle draw of so many units, W. */
export function usualIdleW(units: number): [low: number, high: number] {
  return [USUAL.idleW[0] * units, USUAL.idleW[1] * units];
}

/** A run from its rows: hours worked out, counters subtracted. */
export function runOf(
  readings: readonly RunReading[],
  more: Pick<ShortRun, 'usableKWh' | 'idleW' | 'conversion' | 'socError' | 'counterError'>,
): ShortRun {
  const [first, last] = [readings[0]!, readings.at(-1)!];
  return {
    ...more,
    readings,
    hours: (last.atMs - first.atMs) / 3_600_000,
    socStart: first.soc,
    socEnd: last.soc,
    inKWh: last.chargeKWh - first.chargeKWh,
    outKWh: last.dischargeKWh - first.dischargeKWh,
  };
}

/** JSON Schema of the file of a short run. */
export function runJsonSchema(): object {
  return z.toJSONSchema(runSchema, { io: 'input', unrepresentable: 'any' });
}

/** A part of the missing energy, kWh. */
export interface Explanation {
  readonly key: 'idle' | 'conversion' | 'soc' | 'counters' | 'capacity';
  readonly says: string;
  readonly low: number;
  readonly high: number;
}

/** The budget of a short run. */
export interface RunBudget {
  /** The draw of its own with which the run closes, W. */
  readonly ownW: { readonly value: number; readonly low: number; readonly high: number };
  /** True of a run that ends at the charge it began with: what the display is off by cancels. */
  readonly isClosed: boolean;
  /** The same between its rows, and whether each agrees with the whole. */
  readonly parts: readonly RunPart[];
  /** In − out − change in store by the nameplate: what seems to be missing. */
  readonly missingKWh: number;
  readonly explanations: readonly Explanation[];
  /** What the expected draws leave, with everything that may be off. */
  readonly restKWh: { readonly value: number; readonly low: number; readonly high: number };
  /** Usable capacity at which nothing would be left, kWh; null where the store hardly moved. */
  readonly capacityKWh: number | null;
  readonly verdict: string;
}

/** The own draw between two readings of a run, W. */
export interface RunPart {
  readonly fromMs: number;
  readonly toMs: number;
  readonly ownW: { readonly value: number; readonly low: number; readonly high: number };
  readonly agrees: boolean;
}

/** Between charges alike within so much a display errs alike; so much is left, by its last digit. */
const CLOSED = 0.02;
const CLOSED_ERROR = 0.01;
/** A part shorter than this is too short to tell a draw. */
const LEAST_PART_H = 2;

/** The draw with which in − out − change in store − conversion comes to nothing. */
function ownDraw(run: ShortRun): RunBudget['ownW'] {
  const { hours, inKWh, outKWh, usableKWh, socStart, socEnd } = run;
  const change = socEnd - socStart;
  const missing = inKWh - outKWh - change * usableKWh;
  const conversion = conversionOf(run);
  const value = ((missing - (conversion[0] + conversion[1]) / 2) / hours) * 1000;
  const half = (Math.hypot((conversion[1] - conversion[0]) / 2, ...readingErrors(run)) / hours) * 1000;
  return { value, low: value - half, high: value + half };
}

/** Conversion, kWh: half of its share falls on what goes in, half on what comes out. */
function conversionOf({ conversion, inKWh, outKWh }: ShortRun): [low: number, high: number] {
  return conversion.map((share) => (share * (inKWh + outKWh)) / 2) as [number, number];
}

/** How far charge and counters may be off, kWh. */
function readingErrors({ socStart, socEnd, socError, usableKWh, counterError, inKWh, outKWh }: ShortRun) {
  const isClosed = Math.abs(socEnd - socStart) <= CLOSED;
  const soc = Math.SQRT2 * (isClosed ? Math.min(socError, CLOSED_ERROR) : socError) * usableKWh;
  return [soc, counterError * Math.hypot(inKWh, outKWh)] as const;
}

/** The run cut between its readings, parts of two hours or more. */
function partsOf(run: ShortRun, whole: RunBudget['ownW']): RunPart[] {
  const parts: RunPart[] = [];
  let first = 0;
  const rows = run.readings ?? [];
  rows.forEach((row, i) => {
    if (i === 0 || row.atMs - rows[first]!.atMs < LEAST_PART_H * 3_600_000) return;
    const ownW = ownDraw(runOf([rows[first]!, row], run));
    const agrees = ownW.low <= whole.high && ownW.high >= whole.low;
    parts.push({ fromMs: rows[first]!.atMs, toMs: row.atMs, ownW, agrees });
    first = i;
  });
  return parts;
}

/** A store that moves by less than this share says nothing of its capacity. */
const LEAST_SWING = 0.15;

/**
 * Where the energy of a day or two went: in − out − change in store against idle draw, conversion, what SOC and counters
 * may be off, and a capacity below the nameplate.
 * @source energy balance of the battery: common practice, no published source
 */
export function runBudget(run: ShortRun): RunBudget {
  const { hours, socStart, socEnd, inKWh, outKWh, usableKWh } = run;
  const change = socEnd - socStart;
  const missingKWh = inKWh - outKWh - change * usableKWh;
  const idle = run.idleW.map((watts) => (watts * hours) / 1000) as [number, number];
  const conversion = conversionOf(run);
  const [soc, counters] = readingErrors(run);
  const ownW = ownDraw(run);
  const expected = (idle[0] + idle[1] + conversion[0] + conversion[1]) / 2;
  const half = Math.hypot((idle[1] - idle[0]) / 2, (conversion[1] - conversion[0]) / 2, soc, counters);
  const rest = missingKWh - expected;
  const told = Math.abs(change) >= LEAST_SWING ? (inKWh - outKWh - expected) / change : null;
  // Counters and state of charge that contradict each other tell of no capacity at all.
  const capacityKWh = told !== null && told > 0 ? told : null;
  // Of a fall the store gave out less than the nameplate says when its capacity is lower.
  const lower = capacityKWh !== null ? Math.abs(change) * (usableKWh - capacityKWh) : null;
  const kWh = (value: number) => `${value.toFixed(2)} kWh`;
  const verdict =
    Math.abs(rest) <= half
      ? `Nothing is left that needs another cause: ${kWh(missingKWh)} seem to be missing, idle draw and conversion explain ${kWh(expected)}, and the readings may be off by ${kWh(half)}.`
      : rest > 0
        ? `${kWh(rest)} stay unexplained, more than the readings may be off (${kWh(half)}). A draw that is not metered, or${change < 0 ? ' a battery that held less than its nameplate' : ' a monitor that counts too little'}, is likely; a longer run tells them apart.`
        : `The run gives ${kWh(-rest)} more than its draws allow. The state of charge or a counter is off, or the draws are smaller than taken here.`;
  return {
    ownW,
    isClosed: Math.abs(change) <= CLOSED,
    parts: partsOf(run, ownW),
    missingKWh,
    explanations: [
      { key: 'idle', says: `idle draw over ${hours.toFixed(1)} h`, low: idle[0], high: idle[1] },
      {
        key: 'conversion',
        says: 'conversion of what went in and came out',
        low: conversion[0],
        high: conversion[1],
      },
      { key: 'soc', says: 'state of charge at both ends', low: -soc, high: soc },
      { key: 'counters', says: 'the counters', low: -counters, high: counters },
      ...(lower !== null && change < 0
        ? [
            {
              key: 'capacity',
              says: 'a capacity below the nameplate, if all that is left were its',
              low: Math.min(0, lower),
              high: Math.max(0, lower),
            } as const,
          ]
        : []),
    ],
    restKWh: { value: rest, low: rest - half, high: rest + half },
    capacityKWh,
    verdict,
  };
}
