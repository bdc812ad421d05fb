import { busChannel } from '../../import/merge/derive.js';
import { cellAt, endMs, type Log } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import type { Prepared } from '../../passes/prepare.js';
import {
  accuracyOf,
  configurationAt,
  configurationsOf,
  type Configuration,
  type MeterAccuracy,
} from '../../system/configuration.js';
import type { System } from '../../system/schema.js';
import type { Trial, TrialCounter, TrialReading } from './trialFile.js';

/** Where a quantity of a trial comes from. */
export type TrialSource = 'readings' | 'log';

/** An energy of a trial, kWh, with the half-width that its digits leave. */
export interface TrialEnergy {
  readonly kWh: number;
  readonly half: number;
  readonly source: TrialSource;
}

/** A trial with everything that speaks about it: what was typed, and the part of a log. */
export interface TrialMaterial {
  readonly trial: Trial;
  readonly fromMs: number;
  readonly toMs: number;
  readonly hours: number;
  readonly system: System;
  readonly configuration: Configuration;
  readonly accuracy: MeterAccuracy;
  readonly side: 'ac' | 'dc';
  readonly log: Log | null;
  readonly prepared: Prepared | null;
}

/** A log leads over readings where it covers so much of the trial in steps this fine. */
const COVERS = 0.98;
const FINE_MS = 15 * 60_000;
const FLOW: Readonly<Record<TrialCounter, readonly [quantity: Quantity, sign: 1 | -1]>> = {
  dischargeKWh: ['battery', 1],
  chargeKWh: ['battery', -1],
  solarKWh: ['solar', 1],
  importKWh: ['grid', 1],
  exportKWh: ['grid', -1],
  loadKWh: ['load', 1],
};

/** Lays a trial beside the home's description and its log, where there is one. */
export function materialOf(trial: Trial, system: System, prepared: Prepared | null): TrialMaterial | null {
  const { fromMs, toMs } = trial;
  if (fromMs === null || toMs === null || toMs <= fromMs) return null;
  const log = prepared && prepared.log.startMs < toMs && endMs(prepared.log) > fromMs ? prepared.log : null;
  const side = log && !log.channels.has('battery') && log.channels.has('batteryDc') ? 'dc' : 'ac';
  return {
    trial,
    fromMs,
    toMs,
    hours: (toMs - fromMs) / 3_600_000,
    system,
    configuration: configurationAt(configurationsOf(system), fromMs),
    accuracy: accuracyOf(system.accuracy, side),
    side,
    log,
    prepared,
  };
}

/** Values of a quantity of the log within the trial, with their instants; empty where it is not logged. */
export function loggedCourse(
  { log, fromMs, toMs }: TrialMaterial,
  quantity: Quantity,
): { atMs: number; value: number }[] {
  const values = log && (busChannel(log.channels, quantity) ?? log.channels.get(quantity))?.values;
  if (!log || !values) return [];
  const course = [];
  for (let i = cellAt(log, fromMs); i < cellAt(log, toMs); i++)
    if (values[i] === values[i]) course.push({ atMs: log.startMs + i * log.stepMs, value: values[i]! });
  return course;
}

/** A key of the readings with their instants, in order of time. */
export function typedCourse(
  { trial, fromMs, toMs }: TrialMaterial,
  key: 'soc' | 'loadW' | 'solarW' | 'batteryW' | 'hz' | 'batteryC',
): { atMs: number; value: number }[] {
  return trial.readings.flatMap((one) => {
    const value = one[key];
    return value === undefined || one.atMs < fromMs || one.atMs > toMs ? [] : [{ atMs: one.atMs, value }];
  });
}

/** Last digit of typed values: the finest that any of them shows. */
export function digitOf(values: readonly number[]): number {
  let digits = 0;
  for (const value of values) {
    const text = String(Number(value.toFixed(6)));
    digits = Math.max(digits, text.includes('.') ? text.length - text.indexOf('.') - 1 : 0);
  }
  return 10 ** -digits;
}

/** Counters that stand on one display show as many digits, though one of them may end in noughts. */
const DISPLAYS: readonly (readonly TrialCounter[])[] = [
  ['dischargeKWh', 'chargeKWh'],
  ['importKWh', 'exportKWh'],
  ['solarKWh', 'loadKWh'],
];

function displayDigit({ readings }: Trial, key: TrialCounter): number {
  const together = DISPLAYS.find((display) => display.includes(key))!;
  return Math.min(...together.map((one) => digitOf(readings.flatMap((reading) => reading[one] ?? []))));
}

function typedEnergy({ trial }: TrialMaterial, key: TrialCounter): TrialEnergy | null {
  const values = trial.readings.flatMap((one) => one[key] ?? []);
  const [first, last] = [values[0], values.at(-1)];
  if (first === undefined || last === undefined || values.length < 2) return null;
  // Half of the last digit at either end, each anywhere within it.
  return { kWh: last - first, half: displayDigit(trial, key) * Math.SQRT1_2, source: 'readings' };
}

function loggedEnergy(material: TrialMaterial, key: TrialCounter): TrialEnergy | null {
  const { log, hours } = material;
  if (!log) return null;
  const [quantity, sign] = FLOW[key];
  const course = loggedCourse(material, quantity);
  const stepH = log.stepMs / 3_600_000;
  if (course.length * stepH < COVERS * hours - stepH) return null;
  const kWh = course.reduce((sum, { value }) => sum + Math.max(0, sign * value), 0) * (stepH / 1000);
  // Each end lies somewhere in its step.
  const ends = [course[0]!, course.at(-1)!].reduce(
    (sum, { value }) => sum + Math.max(0, sign * value) ** 2,
    0,
  );
  return { kWh, half: (Math.sqrt(ends) * stepH) / 1000 / 2, source: 'log' };
}

/** Typed and logged energies further apart than this share of them, and their digits, are not of one thing. */
const APART = 0.1;
/** A charge typed and one logged further apart than this are not of one moment. */
const SOC_AGREES = 0.02;

/** An energy as it was typed and as it was logged, and which of them counts; null where it was not. */
export interface TrialEnergies {
  readonly typed: TrialEnergy | null;
  readonly logged: TrialEnergy | null;
  /** True where they differ too much to be of one thing. */
  readonly isApart: boolean;
  readonly leads: TrialEnergy | null;
}

/** What was typed and what was logged of an energy: the finer leads, and what was typed where they are not of one thing. */
export function energiesOf(material: TrialMaterial, key: TrialCounter): TrialEnergies {
  const typed = typedEnergy(material, key);
  const logged = loggedEnergy(material, key);
  if (!typed || !logged) return { typed, logged, isApart: false, leads: typed ?? logged };
  const most = APART * Math.max(typed.kWh, logged.kWh) + 2 * (typed.half + logged.half);
  const isApart = Math.abs(typed.kWh - logged.kWh) > most;
  const isFine = material.log!.stepMs <= FINE_MS && logged.half <= typed.half;
  return { typed, logged, isApart, leads: isFine && !isApart ? logged : typed };
}

/** An energy over the trial, as that which leads has it; null where nothing tells. */
export function energyOf(material: TrialMaterial, key: TrialCounter): TrialEnergy | null {
  return energiesOf(material, key).leads;
}

/** True where a counter falls between two readings. */
export function fallingCounter({ trial }: TrialMaterial): { key: TrialCounter; atMs: number } | null {
  for (const key of Object.keys(FLOW) as TrialCounter[]) {
    let before = -Infinity;
    for (const one of trial.readings) {
      const value = one[key];
      if (value === undefined) continue;
      if (value < before) return { key, atMs: one.atMs };
      before = value;
    }
  }
  return null;
}

/** The state of charge at both ends of a trial. */
export interface ChargeSwing {
  readonly from: number;
  readonly to: number;
  /** Last digit of the display, a share. */
  readonly digit: number;
  readonly source: TrialSource;
}

/** The charge at both ends, as that of display and log which shows the finer digit; null where neither tells it twice. */
export function swingOf(material: TrialMaterial): ChargeSwing | null {
  const [typed, logged] = [typedSwing(material), loggedSwing(material)];
  if (!typed || !logged) return typed ?? logged;
  const agree = (a: number, b: number) => Math.abs(a - b) <= typed.digit + SOC_AGREES;
  const isFiner = logged.digit < typed.digit && agree(typed.from, logged.from) && agree(typed.to, logged.to);
  return isFiner ? logged : typed;
}

function typedSwing(material: TrialMaterial): ChargeSwing | null {
  const typed = typedCourse(material, 'soc');
  if (typed.length < 2) return null;
  const digit = digitOf(typed.map(({ value }) => value * 100)) / 100;
  return { from: typed[0]!.value, to: typed.at(-1)!.value, digit, source: 'readings' };
}

function loggedSwing(material: TrialMaterial): ChargeSwing | null {
  const { log, toMs } = material;
  const values = log?.channels.get('soc');
  const course = loggedCourse(material, 'soc');
  if (!log || !values || course.length < 2) return null;
  const after = values.values[Math.min(log.count - 1, cellAt(log, toMs))]!;
  return {
    from: course[0]!.value,
    to: after === after ? after : course.at(-1)!.value,
    digit: values.resolution,
    source: 'log',
  };
}

/** Readings within a trial that hold something. */
export function readingsWith<K extends keyof TrialReading>(
  { trial }: TrialMaterial,
  key: K,
): (TrialReading & { readonly [P in K]-?: NonNullable<TrialReading[P]> })[] {
  return trial.readings.filter((one) => one[key] !== undefined) as never;
}
