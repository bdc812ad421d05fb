import { busChannel } from '../../import/merge/derive.js';
import type { Unit } from '../../model/figure.js';
import type { Quantity } from '../../model/quantity.js';
import { isoOf } from '../../time/instant.js';
import { digitOf, energiesOf, type TrialMaterial, type TrialSource } from './trialMaterial.js';
import type { TrialCounter, TrialReading } from './trialFile.js';

/** What was typed in a trial beside what the log says of the same: an energy over all of it, or a value reading by reading. */
export interface TypedBesideLogged {
  readonly what: string;
  readonly unit: Unit;
  /** How many readings could be held against the log. */
  readonly readings: number;
  /** Over all of the trial for an energy; where they differ most for a value. */
  readonly typed: number;
  readonly logged: number;
  /** When they differ most; null for an energy. */
  readonly at: string | null;
  /** Mean of typed − logged. */
  readonly difference: number;
  /** Whether they agree within their digits, the log's step and the meters' accuracy. */
  readonly agrees: boolean;
  /** Which of them counts; null where neither enters a figure. */
  readonly leads: TrialSource | null;
}

const COUNTERS: readonly (readonly [key: TrialCounter, what: string])[] = [
  ['dischargeKWh', 'discharge'],
  ['chargeKWh', 'charge'],
  ['solarKWh', 'solar'],
  ['importKWh', 'import'],
  ['exportKWh', 'export'],
  ['loadKWh', 'load'],
];

interface Value {
  readonly key: keyof TrialReading & ('soc' | 'loadW' | 'solarW' | 'batteryW' | 'hz' | 'batteryC');
  readonly what: string;
  readonly quantity: Quantity;
  readonly unit: Unit;
  /** They may lie apart by a share of the reading, or by so much. */
  readonly share: number;
  readonly least: number;
}

const VALUES: readonly Value[] = [
  { key: 'soc', what: 'state of charge', quantity: 'soc', unit: 'share', share: 0, least: 0.01 },
  { key: 'loadW', what: 'load', quantity: 'load', unit: 'W', share: 0.1, least: 50 },
  { key: 'solarW', what: 'solar', quantity: 'solar', unit: 'W', share: 0.1, least: 50 },
  { key: 'batteryW', what: 'battery', quantity: 'battery', unit: 'W', share: 0.1, least: 50 },
  { key: 'hz', what: 'frequency', quantity: 'islandHz', unit: 'Hz', share: 0, least: 0.1 },
  {
    key: 'batteryC',
    what: 'temperature of the battery',
    quantity: 'batteryTemp',
    unit: '°C',
    share: 0,
    least: 2,
  },
];

/** Everything that was both typed and logged over a trial, side by side; empty without a log of its hours. */
export function typedBesideLogged(material: TrialMaterial): TypedBesideLogged[] {
  return [
    ...COUNTERS.flatMap(([key, what]) => {
      const { typed, logged, leads, isApart } = energiesOf(material, key);
      if (!typed || !logged) return [];
      return {
        what,
        unit: 'kWh' as const,
        readings: material.trial.readings.filter((one) => one[key] !== undefined).length,
        typed: typed.kWh,
        logged: logged.kWh,
        at: null,
        difference: typed.kWh - logged.kWh,
        agrees: !isApart,
        leads: leads!.source,
      };
    }),
    ...VALUES.flatMap((value) => besideLogged(material, value)),
  ];
}

function besideLogged(
  { trial, log, fromMs, toMs }: TrialMaterial,
  { key, what, quantity, unit, share, least }: Value,
): TypedBesideLogged[] {
  const channel = log && (busChannel(log.channels, quantity) ?? log.channels.get(quantity));
  if (!log || !channel) return [];
  const typedValues = trial.readings.flatMap((one) => one[key] ?? []);
  const digit = digitOf(typedValues.map((one) => (key === 'soc' ? one * 100 : one)));
  const scale = key === 'soc' ? 0.01 : 1;
  const pairs = trial.readings.flatMap((one) => {
    const typed = one[key];
    if (typed === undefined || one.atMs < fromMs || one.atMs > toMs) return [];
    const cell = Math.min(log.count - 1, Math.floor((one.atMs - log.startMs) / log.stepMs));
    const near = [-1, 0, 1].flatMap((by) => {
      const logged = channel.values[cell + by];
      return logged === undefined || Number.isNaN(logged) ? [] : [logged];
    });
    const logged = channel.values[cell];
    if (logged === undefined || Number.isNaN(logged)) return [];
    // A display shows a moment, the log a step or its beginning: what the neighbouring steps reach agrees too.
    const off = Math.max(0, typed - Math.max(...near), Math.min(...near) - typed);
    const most = Math.max(least, share * Math.abs(typed)) + digit * scale + channel.resolution;
    return [{ atMs: one.atMs, typed, logged, off, agrees: off <= most }];
  });
  if (pairs.length === 0) return [];
  const worst = pairs.reduce((a, b) => (b.off > a.off ? b : a));
  const agrees = pairs.every((pair) => pair.agrees);
  return [
    {
      what,
      unit,
      readings: pairs.length,
      typed: worst.typed,
      logged: worst.logged,
      at: isoOf(worst.atMs),
      difference: pairs.reduce((sum, { typed, logged }) => sum + typed - logged, 0) / pairs.length,
      agrees,
      leads: key !== 'soc' ? null : agrees && channel.resolution < digit * scale ? 'log' : 'readings',
    },
  ];
}
