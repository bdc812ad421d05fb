import { endMs, type Channel, type Log, type SettledEnergy } from '../model/log.js';
import { dayNumberOfDate, dayOf, YEAR_MS } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { Estimate } from './capacityEstimates.js';
import { estimated, measured } from '../model/figure.js';
import type { DaySums } from './dailySums.js';
import { busChannel } from '../import/merge/derive.js';
import type { CutOff } from './cutOffs.js';
import type { DayEntry, Part } from './dayEntries.js';
import type { Gap } from '../model/finding.js';
import type { Range } from '../model/range.js';
import type { Flow, Quantity } from '../model/quantity.js';
import type { Discharge } from './depthOfDischarge.js';
import type { StressHistogram } from './stressHistogram.js';
import type { Sums } from './sums.js';
import type { Rest } from './rests.js';
import type { Reset } from './capacitySegments.js';
import type { TarePoints } from './tare.js';
import type { TrialRecord } from '../model/trialRecord.js';
import type { TurningPoint } from './turningPoints.js';
import type { FullWindow } from './fullWindows.js';
import type { IdleStep, IdleStretch } from './idleFit.js';
import type { Outage } from './outages.js';
import type { Configuration, DegreeBases, MeterAccuracy } from '../system/configuration.js';

/** What the books read: a range of days with everything already added up. */
export interface RangeData {
  readonly range: Range;
  readonly log: Log;
  readonly configurations: readonly Configuration[];
  readonly accuracy: MeterAccuracy;
  readonly bases: DegreeBases;
  readonly batterySide: 'ac' | 'dc';
  /** Import up to which a day counts as grid-free. */
  readonly gridFreeWh: number;
  readonly days: readonly DaySums[];
  readonly total: Sums;
  /** Configurations met in the range, in order, with their sums. */
  readonly parts: readonly Part[];
  /** Energies without a course that lie wholly in the range. */
  readonly lumps: readonly SettledEnergy[];
  /** Those of which only a part lies in it. */
  readonly lumpsAcross: readonly SettledEnergy[];
  /** Those of the whole log that end by the end of the range. */
  readonly lumpsBefore: readonly SettledEnergy[];
  readonly windows: readonly FullWindow[];
  readonly nights: readonly Discharge[];
  /** Turning points of the state of charge, the range's own ends among them. */
  readonly turningPoints: readonly TurningPoint[];
  /** Those of the whole log up to the end of the range. */
  readonly turningPointsBefore: readonly TurningPoint[];
  readonly stress: StressHistogram;
  /** Whole days of the log up to the end of the range, whatever its beginning: what a warranty counts. */
  readonly history: readonly DayEntry[];
  readonly steps: readonly IdleStep[];
  readonly stretches: readonly IdleStretch[];
  readonly rests: readonly Rest[];
  readonly gaps: readonly Gap[];
  readonly tare: TarePoints | null;
  readonly floorW: number;
  /** Of the capacity, from the beginning of the log to the end of the range, in order of time. */
  readonly estimates: readonly Estimate[];
  /** Trials up to the end of the range, in order of time. */
  readonly trials: readonly TrialRecord[];
  readonly resets: readonly Reset[];
  readonly cutOffs: readonly CutOff[];
  /** Interruptions of the grid that begin in the range. */
  readonly outages: readonly Outage[];
  /** Share of the time in which one would show. */
  readonly outagesSeenShare: number;
}

/** Hours from seconds. */
export function hoursOf(seconds: number): number {
  return seconds / 3600;
}

/** What an amount that was counted over so many seconds comes to in a year. */
export function perYear(amount: number, seconds: number): number {
  return seconds > 0 ? (amount * YEAR_MS) / 1000 / seconds : 0;
}

/** Share of the range that so many seconds cover; an interval counts whole to the range in which it starts. */
export function coverageOf({ range }: RangeData, seconds: number): number {
  const rangeS = (range.toMs - range.fromMs) / 1000;
  return rangeS > 0 ? Math.min(1, Math.max(0, seconds) / rangeS) : 0;
}

/** The channel that stands at the home's bus. */
export function channelOf({ log }: RangeData, quantity: Quantity): Channel | undefined {
  return busChannel(log.channels, quantity);
}

/** Sum over the configurations of a change of SOC, each by its own usable capacity, in Wh. */
export function storedChangeWh({ parts }: RangeData, change: 'socChangeStore' | 'socChangeCell'): number {
  return parts.reduce((wh, { configuration, sums }) => wh + sums[change] * (configuration.usableWh ?? 0), 0);
}

/** How a figure of these flows is to be made: estimated when one of them is derived, else measured. */
export function gradeOf(data: RangeData, ...quantities: Quantity[]): typeof measured {
  return quantities.some((quantity) => channelOf(data, quantity)?.origin === 'derived')
    ? estimated
    : measured;
}

/** Names of the configurations in the range, for the basis of figures that cross a change. */
export function configurationNames(data: RangeData): string[] {
  return data.parts.map(({ configuration }) => configuration.name);
}

/** Energy whose shape is not known. */
export interface UnshapedTotal {
  readonly wh: number;
  readonly seconds: number;
  readonly sources: readonly string[];
}

/** What the unshaped energies of the range hold of a flow. */
export function unshapedOf(lumps: readonly SettledEnergy[], flow: Flow): UnshapedTotal {
  const own = lumps.filter((lump) => lump.flow === flow);
  return {
    wh: own.reduce((sum, { wh }) => sum + wh, 0),
    seconds: own.reduce((sum, { unknownS }) => sum + unknownS, 0),
    sources: [...new Set(own.map(({ source }) => source))],
  };
}

/**
 * Unshaped energies of those stretches for which every one of these flows is known as long, so that they can be set against
 * each other: a month of one flow against a month of another that is known by its weeks and what they leave over.
 */
export function unshapedTogether(lumps: readonly SettledEnergy[], flows: readonly Flow[]): SettledEnergy[] {
  const own = lumps.filter(({ flow }) => flows.includes(flow));
  return [...apart(own)].flatMap((cluster) => {
    const seconds = flows.map((flow) => unshapedOf(cluster, flow).seconds);
    const most = Math.max(...seconds);
    return Math.min(...seconds) >= most * ALIKE ? cluster : ofSameStretch(cluster, flows);
  });
}

/** Stretches are as long as each other up to so much. */
const ALIKE = 0.99;

/** Energies in groups whose stretches do not overlap those of another. */
export function* apart(lumps: readonly SettledEnergy[]): Generator<SettledEnergy[]> {
  let group: SettledEnergy[] = [];
  let endMs = -Infinity;
  for (const lump of [...lumps].sort((a, b) => a.fromMs - b.fromMs)) {
    if (lump.fromMs >= endMs && group.length > 0) {
      yield group;
      group = [];
    }
    group.push(lump);
    endMs = Math.max(endMs, lump.toMs);
  }
  if (group.length > 0) yield group;
}

function ofSameStretch(lumps: readonly SettledEnergy[], flows: readonly Flow[]): SettledEnergy[] {
  const stretch = ({ fromMs, toMs, unknownS }: SettledEnergy) => `${fromMs} ${toMs} ${unknownS}`;
  const counts = new Map<string, number>();
  for (const lump of lumps) counts.set(stretch(lump), (counts.get(stretch(lump)) ?? 0) + 1);
  return lumps.filter((lump) => counts.get(stretch(lump)) === flows.length);
}

/**
 * The instants of a range of days, held to the log; null when nothing of it is left.
 * @param from first and @param to last day, ISO dates, both included
 */
export function rangeOfDates(log: Log, from: string, to: string): Range | null {
  const zone = zoneOf(log.zone);
  const fromMs = Math.max(log.startMs, dayOf(zone, dayNumberOfDate(from)).fromMs);
  const toMs = Math.min(endMs(log), dayOf(zone, dayNumberOfDate(to)).toMs);
  return fromMs < toMs ? { fromMs, toMs } : null;
}
