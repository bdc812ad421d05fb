import { z } from 'zod';
import { parseJson } from '../../model/validation.js';

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
const runSchema = z.object({
  schema: z.literal('long-tally/run@1'),
  hours: z.number().min(0.5).max(240),
  socStart: share,
  socEnd: share,
  inKWh: z.number().min(0).max(1e6),
  outKWh: z.number().min(0).max(1e6),
  usableKWh: z.number().min(0.01).max(1e5),
  idleW: span(2000).default([...USUAL.idleW]),
  conversion: span(0.9).default([...USUAL.conversion]),
  socError: share.default(USUAL.socError),
  counterError: share.default(USUAL.counterError),
});

/**
 * A short run from the text of its file.
 * @param text JSON of `long-tally/run@1`: energies in kWh, shares 0–1
 * @throws InputError with one problem for each key that is wrong
 */
export function parseRun(text: string, where: string): ShortRun {
  return parseJson(runSchema, text, where, 'the readings of a short run, schema long-tally/run@1');
}

/** JSON Schema of the file of a short run. */
export function runJsonSchema(): object {
  return z.toJSONSchema(runSchema, { io: 'input' });
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
  /** In − out − change in store by the nameplate: what seems to be missing. */
  readonly missingKWh: number;
  readonly explanations: readonly Explanation[];
  /** What the expected draws leave, with everything that may be off. */
  readonly restKWh: { readonly value: number; readonly low: number; readonly high: number };
  /** Usable capacity at which nothing would be left, kWh; null where the store hardly moved. */
  readonly capacityKWh: number | null;
  readonly verdict: string;
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
  const conversion = run.conversion.map((share) => share * outKWh) as [number, number];
  const soc = Math.SQRT2 * run.socError * usableKWh;
  const counters = run.counterError * Math.hypot(inKWh, outKWh);
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
    missingKWh,
    explanations: [
      { key: 'idle', says: `idle draw over ${hours.toFixed(1)} h`, low: idle[0], high: idle[1] },
      { key: 'conversion', says: 'conversion of what came out', low: conversion[0], high: conversion[1] },
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
