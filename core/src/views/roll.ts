import { isOnDc } from '../passes/bypass.js';
import { configurationAt } from '../system/configuration.js';
import { type Prepared, rangeDataOf } from '../passes/prepare.js';
import type { NoteKind } from '../system/journal.js';
import { isOfTotals } from '../books/shared/lacking.js';
import { channelOf, type RangeData } from '../passes/rangeData.js';
import { endMs, type Fill } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Flow, Quantity } from '../model/quantity.js';
import { dailyWeather, weatherNotes, type DayWeather, type WeatherNote } from './dayWeather.js';
import { dayEnergies, type DayEnergies, type DaySums } from '../passes/dailySums.js';

/** Grid energy put into the battery on one day that is worth a word, in Wh. */
const GRID_CHARGED_WH = 500;
/** Missing time of one day that is worth a word, in s. */
const MISSING_S = 1800;
/** A day of which less is known is compared with no other. */
const KNOWN_SHARE = 0.9;

/** Something that explains a day. Instants are epoch ms. */
export type DayNote =
  | { readonly kind: 'outage'; readonly hours: number; readonly atMs: number; readonly isPlanned: boolean }
  | { readonly kind: 'battery-empty'; readonly atMs: number }
  | { readonly kind: 'over-limit'; readonly atMs: number; readonly kW: number }
  | { readonly kind: 'leg-overload'; readonly atMs: number; readonly kW: number }
  | { readonly kind: 'grid-charged'; readonly kWh: number }
  | { readonly kind: 'missing'; readonly hours: number }
  | {
      readonly kind: 'filled';
      readonly quantity: Quantity;
      readonly source: string;
      readonly hours: number;
    }
  | WeatherNote
  | { readonly kind: 'configuration'; readonly name: string }
  | { readonly kind: 'journal'; readonly about: NoteKind; readonly text: string; readonly leaveOut: boolean };

/** One line of the roll of days; energies in kWh, null where nothing was measured. */
export interface RollDay extends DayEnergies {
  readonly date: string;
  readonly fromMs: number;
  readonly toMs: number;
  /** Sources less uses at the bus; null where a flow is missing or derived. */
  readonly closing: number | null;
  /** True where the closing holds the inverter's own draw and conversion: solar or battery is measured on its DC side. */
  readonly holdsOwnDraw: boolean;
  /** What came in on the same intervals, for the closing share. */
  readonly inflow: number;
  readonly coverage: number;
  readonly gridFree: boolean | null;
  readonly notes: readonly DayNote[];
  /** Null where the log has none. */
  readonly weather: DayWeather | null;
  /** Energies of longer periods that begin on this day: a month's of a statement. */
  readonly longer: readonly LongerEnergy[];
}

/** An energy of several days, of which no day's own is known. */
export interface LongerEnergy {
  readonly flow: Flow;
  readonly kWh: number;
  readonly toMs: number;
}

/** The roll of all days of a home, oldest first, each with what explains it. */
export function rollOf(prepared: Prepared): RollDay[] {
  const data = rangeDataOf(prepared, { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) });
  const flows = (['solar', 'grid', 'battery', 'load'] as const).map((quantity) => channelOf(data, quantity));
  const closes = flows.every((channel) => channel && channel.origin !== 'derived');
  const longer = new Map<number, LongerEnergy[]>();
  for (const { flow, fromMs, toMs, wh } of data.lumps) {
    const day = data.days.findLast(({ day: one }) => one.fromMs <= fromMs)?.day;
    if (!day || toMs <= day.toMs) continue;
    longer.set(day.fromMs, [...(longer.get(day.fromMs) ?? []), { flow, kWh: wh / 1000, toMs }]);
  }
  const weather = dailyWeather(data);
  const days = data.days.map((daySums, i) => ({
    ...rollDay(data, daySums, closes, longer.get(daySums.day.fromMs) ?? []),
    weather: weather[i]!,
  }));
  const causes = weatherNotes(
    days.map((day, i) => ({
      ...day,
      isKnown: day.coverage >= KNOWN_SHARE || data.days[i]!.lumps.length > 0,
    })),
  );
  return days.map((day, i) =>
    causes[i]!.length > 0 ? { ...day, notes: [...day.notes, ...causes[i]!] } : day,
  );
}

function rollDay(
  data: RangeData,
  daySums: DaySums,
  closes: boolean,
  longer: readonly LongerEnergy[],
): Omit<RollDay, 'weather'> {
  const { day, sums, coverage, gridFree } = daySums;
  const inflowWh = sums.solarBus + sums.importBus + sums.dischargeBus;
  const closingWh = inflowWh - sums.loadBus - sums.exportBus - sums.chargeBus;
  return {
    date: day.date,
    fromMs: day.fromMs,
    toMs: day.toMs,
    ...dayEnergies(daySums),
    closing: closes && sums.busS > 0 ? closingWh / 1000 : null,
    holdsOwnDraw: isOnDc(data.log, configurationAt(data.configurations, day.fromMs)),
    inflow: inflowWh / 1000,
    coverage,
    gridFree,
    notes: notesOf(data, daySums),
    longer,
  };
}

function notesOf(data: RangeData, { day, sums }: DaySums): DayNote[] {
  const notes: DayNote[] = [];
  const change = data.configurations.find(
    ({ fromMs }) => fromMs > data.range.fromMs && fromMs >= day.fromMs && fromMs < day.toMs,
  );
  if (change) notes.push({ kind: 'configuration', name: change.name });
  for (const isPlanned of [false, true]) {
    const own = data.outages.filter(
      (one) => one.isPlanned === isPlanned && one.fromMs < day.toMs && one.toMs > day.fromMs,
    );
    if (own.length === 0) continue;
    const ms = own.reduce((sum, { fromMs, toMs }) => sum + overlapMs(day, fromMs, toMs), 0);
    const atMs = Math.max(day.fromMs, own[0]!.fromMs);
    notes.push({ kind: 'outage', hours: ms / 3_600_000, atMs, isPlanned });
  }
  if (!Number.isNaN(sums.emptyMs)) notes.push({ kind: 'battery-empty', atMs: sums.emptyMs });
  if (sums.gridChargedBus >= GRID_CHARGED_WH)
    notes.push({ kind: 'grid-charged', kWh: sums.gridChargedBus / 1000 });
  if (!Number.isNaN(sums.overLimitW))
    notes.push({ kind: 'over-limit', atMs: sums.overLimitMs, kW: sums.overLimitW / 1000 });
  if (!Number.isNaN(sums.overLegW))
    notes.push({ kind: 'leg-overload', atMs: sums.overLegMs, kW: sums.overLegW / 1000 });
  const wholeS = (Math.min(day.toMs, data.range.toMs) - Math.max(day.fromMs, data.range.fromMs)) / 1000;
  const missingS = wholeS - (sums.allS - sums.bridgedS);
  const isTotalled = data.lumps.some(({ fromMs, toMs }) => fromMs <= day.fromMs && toMs >= day.toMs);
  if (missingS >= MISSING_S && !isTotalled && !isOfTotals(data))
    notes.push({ kind: 'missing', hours: missingS / 3600 });
  for (const { quantity, source, ms } of filledOn(day, data.log.fills))
    notes.push({ kind: 'filled', quantity, source, hours: ms / 3_600_000 });
  return notes;
}

function overlapMs(day: Range, fromMs: number, toMs: number): number {
  return Math.min(toMs, day.toMs) - Math.max(fromMs, day.fromMs);
}

/** What others gave for a source on a day: how long, by quantity and source. */
function filledOn(
  day: Range,
  fills: readonly Fill[],
): (Pick<Fill, 'quantity' | 'source'> & { ms: number })[] {
  const found = new Map<string, Pick<Fill, 'quantity' | 'source'> & { ms: number }>();
  for (const { quantity, source, fromMs, toMs } of fills) {
    const ms = overlapMs(day, fromMs, toMs);
    if (ms <= 0) continue;
    const before = found.get(`${quantity} ${source}`)?.ms ?? 0;
    found.set(`${quantity} ${source}`, { quantity, source, ms: before + ms });
  }
  return [...found.values()];
}
