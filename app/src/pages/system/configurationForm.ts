import {
  instantOfLocal,
  offsetAt,
  parseInstant,
  zoneOf,
  type System,
  type SystemConfiguration,
} from '@long-tally/core';
import { z } from 'zod';
import { known, knownOrNone, number, percent, share, text, typed, typedClock } from './typed.js';
import { typedNumber } from '../../ui/typedNumber.js';

const warranty = z.object({
  years: typed(0.5, 50, 'years'),
  throughputKWh: typed(1, 1e7, 'kWh'),
  cycles: typed(1, 1e6, 'a count'),
  cycleDepthPct: typed(1, 100, 'per cent'),
  capacityKWh: typed(0.1, 1e5, 'kWh'),
  endCapacityPct: typed(1, 100, 'per cent'),
});

/** `origin` is the place in the file, from which what the form does not show is kept; empty where it is new. */
const array = z.object({
  origin: z.string(),
  name: z.string(),
  kWp: z.string().refine((value) => typedNumber(value) > 0, {
    error: 'Write the size in kWp, for example 4.8.',
  }),
  tilt: typed(0, 90, 'degrees'),
  azimuth: typed(0, 360, 'degrees'),
});

const chargeWindow = z.object({
  origin: z.string(),
  start: typedClock(),
  end: typedClock(),
  toPct: typed(1, 100, 'per cent'),
});

/** A configuration as its form holds it: text, so that nothing typed is lost while it is not yet right. */
export const configurationSchema = z.object({
  /** Which configuration of the original it was, so that what the form does not show goes with it. */
  origin: z.string(),
  from: z
    .string()
    .regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d/, { error: 'Choose the date and time from which this holds.' }),
  name: z.string(),
  modules: typed(0, 200, 'a count'),
  moduleKWh: typed(0.05, 500, 'kWh'),
  usablePct: typed(1, 100, 'per cent'),
  chemistry: z.string(),
  maxChargeKW: typed(0.05, 1000, 'kW'),
  maxDischargeKW: typed(0.05, 1000, 'kW'),
  reservePct: typed(0, 100, 'per cent'),
  cutOffPct: typed(0, 100, 'per cent'),
  units: typed(1, 100, 'a count'),
  continuousKW: typed(0.05, 1000, 'kW'),
  batteryOnlyKW: typed(0.05, 1000, 'kW'),
  surgeKW: typed(0.05, 3000, 'kW'),
  legs: z.enum(['', '1', '2', '3']),
  perLegKW: typed(0.05, 1000, 'kW'),
  lowChargeKW: typed(0.05, 1000, 'kW'),
  lowChargePct: typed(0, 100, 'per cent'),
  statedIdleW: typed(0, 5000, 'W'),
  coupling: z.enum(['', 'ac', 'dc']),
  grid: z.enum(['connected', 'none']),
  exportLimitKW: typed(0, 1000, 'kW'),
  arrays: z.array(array),
  /** True of a home that is said to have no panels, which is more than none described. */
  hasNoPanels: z.boolean(),
  chargeWindows: z.array(chargeWindow),
  warranty,
  warrantyOffGrid: warranty,
});

export type ConfigurationForm = z.infer<typeof configurationSchema>;

/** A configuration to begin with: like the one before it, or empty. */
export function nextConfiguration(before: ConfigurationForm | undefined): ConfigurationForm {
  const empty = configurationForm({ from: '2024-01-01T00:00:00Z' }, 'UTC', '');
  return before ? { ...before, from: '', name: '' } : { ...empty, from: '' };
}

/** How many things a part of the form says: what is typed, chosen or ticked in it, however deep. */
export function countKnown(value: unknown): number {
  if (Array.isArray(value)) return value.length;
  if (value && typeof value === 'object')
    return Object.values(value).reduce<number>((sum, one) => sum + countKnown(one), 0);
  return value === true || (typeof value === 'string' && value.trim() !== '') ? 1 : 0;
}

/** The form of a configuration. */
export function configurationForm(
  one: SystemConfiguration,
  timeZone: string,
  origin: string,
): ConfigurationForm {
  const { battery = {}, inverter = {}, arrays = [], chargeWindows = [] } = one;
  return {
    origin,
    from: localText(parseInstant(one.from), timeZone),
    name: one.name ?? '',
    modules: text(battery.modules),
    moduleKWh: text(battery.moduleKWh),
    usablePct: percent(battery.usableShare),
    chemistry: battery.chemistry ?? '',
    maxChargeKW: text(battery.maxChargeKW),
    maxDischargeKW: text(battery.maxDischargeKW),
    reservePct: percent(battery.reserve),
    cutOffPct: percent(battery.cutOff),
    units: text(inverter.units),
    continuousKW: text(inverter.continuousKW),
    batteryOnlyKW: text(inverter.batteryOnlyKW),
    surgeKW: text(inverter.surgeKW),
    legs: text(inverter.legs) as ConfigurationForm['legs'],
    perLegKW: text(inverter.perLegKW),
    lowChargeKW: text(inverter.lowChargeKW),
    lowChargePct: percent(inverter.lowCharge),
    statedIdleW: text(inverter.statedIdleW),
    coupling: one.coupling ?? '',
    grid: one.grid ?? 'connected',
    exportLimitKW: text(one.exportLimitKW),
    hasNoPanels: one.arrays?.length === 0,
    arrays: arrays.map(({ name, kWp, tilt, azimuth }, i) => ({
      origin: String(i),
      name: name ?? '',
      kWp: text(kWp),
      tilt: text(tilt),
      azimuth: text(azimuth),
    })),
    chargeWindows: chargeWindows.map(({ start, end, toSoc }, i) => ({
      origin: String(i),
      start,
      end,
      toPct: percent(toSoc),
    })),
    warranty: warrantyForm(one.warranty),
    warrantyOffGrid: warrantyForm(one.warrantyOffGrid),
  };
}

function warrantyForm(terms: SystemConfiguration['warranty'] = {}): ConfigurationForm['warranty'] {
  return {
    years: text(terms.years),
    throughputKWh: text(terms.throughputKWh),
    cycles: text(terms.cycles),
    cycleDepthPct: percent(terms.cycleDepth),
    capacityKWh: text(terms.capacityKWh),
    endCapacityPct: percent(terms.endCapacity),
  };
}

/** The configuration a form describes, with what the form does not show from the original. */
export function configurationOf(one: ConfigurationForm, original: System | null, timeZone: string): unknown {
  const before = one.origin === '' ? undefined : original?.configurations?.[Number(one.origin)];
  return known({
    ...before,
    from: instantText(one.from, timeZone),
    name: one.name.trim() || undefined,
    battery: known({
      ...before?.battery,
      modules: number(one.modules),
      moduleKWh: number(one.moduleKWh),
      usableShare: share(one.usablePct),
      chemistry: one.chemistry || undefined,
      maxChargeKW: number(one.maxChargeKW),
      maxDischargeKW: number(one.maxDischargeKW),
      reserve: share(one.reservePct),
      cutOff: share(one.cutOffPct),
    }),
    inverter: known({
      ...before?.inverter,
      units: number(one.units),
      continuousKW: number(one.continuousKW),
      batteryOnlyKW: number(one.batteryOnlyKW),
      surgeKW: number(one.surgeKW),
      legs: number(one.legs),
      perLegKW: number(one.perLegKW) ?? before?.inverter?.perLegKW,
      lowChargeKW: number(one.lowChargeKW),
      lowCharge: share(one.lowChargePct),
      statedIdleW: number(one.statedIdleW),
    }),
    coupling: one.coupling || undefined,
    grid: one.grid,
    exportLimitKW: number(one.exportLimitKW),
    // An empty list says that there are none.
    arrays:
      one.hasNoPanels && one.arrays.length === 0
        ? []
        : orNone(
            one.arrays.map(({ origin, name, kWp, tilt, azimuth }) =>
              known({
                ...(origin === '' ? undefined : before?.arrays?.[Number(origin)]),
                name: name.trim() || undefined,
                kWp: number(kWp),
                tilt: number(tilt),
                azimuth: number(azimuth),
              }),
            ),
          ),
    chargeWindows: orNone(
      one.chargeWindows
        .filter(({ start, end }) => start !== '' && end !== '')
        .map(({ origin, start, end, toPct }) =>
          known({
            ...(origin === '' ? undefined : before?.chargeWindows?.[Number(origin)]),
            start: padded(start),
            end: padded(end),
            toSoc: share(toPct),
          }),
        ),
    ),
    warranty: warrantyOf(one.warranty),
    warrantyOffGrid: warrantyOf(one.warrantyOffGrid),
  });
}

function warrantyOf(terms: ConfigurationForm['warranty']): Record<string, unknown> | undefined {
  return knownOrNone({
    years: number(terms.years),
    throughputKWh: number(terms.throughputKWh),
    cycles: number(terms.cycles),
    cycleDepth: share(terms.cycleDepthPct),
    capacityKWh: number(terms.capacityKWh),
    endCapacity: share(terms.endCapacityPct),
  });
}

function orNone<T>(list: readonly T[]): readonly T[] | undefined {
  return list.length > 0 ? list : undefined;
}

function padded(clock: string): string {
  return clock.padStart(5, '0');
}

/** Wall-clock text of an instant, as a date and time field holds it. */
function localText(ms: number, timeZone: string): string {
  return new Date(ms + offsetAt(zoneOf(timeZone), ms)).toISOString().slice(0, 16);
}

/** ISO 8601 with offset of a wall-clock reading at the site. */
function instantText(local: string, timeZone: string): string {
  const zone = zoneOf(timeZone);
  const ms = instantOfLocal(zone, Date.parse(`${local}Z`));
  const minutes = offsetAt(zone, ms) / 60_000;
  const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
  const offset = `${minutes < 0 ? '-' : '+'}${two(Math.abs(minutes) / 60)}:${two(Math.abs(minutes) % 60)}`;
  return `${local.slice(0, 16)}:00${offset}`;
}
