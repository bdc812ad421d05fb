import type { Day } from '../time/days.js';
import type { DayEntry } from './dayEntries.js';
import type { SettledEnergy } from '../model/log.js';
import type { Flow } from '../model/quantity.js';
import { addSums, noSums, type Sums } from './sums.js';

const DAY_COVERAGE = 0.9;

/** A calendar day with its sums, whatever configurations it touches. */
export interface DaySums {
  readonly day: Day;
  readonly sums: Sums;
  /** Energies of the day whose course is not known. */
  readonly lumps: readonly SettledEnergy[];
  /** Wh bought, by its course and by totals of the day. */
  readonly importWh: number;
  /** Share of the day in which every logged flow is known. */
  readonly coverage: number;
  /** Null where the day is too thinly covered to say, the grid is not measured, or there is none. */
  readonly gridFree: boolean | null;
  /** Wh bought for the home on a day on which the grid carried it with the battery down to its floor; null on others. */
  readonly emptiedWh: number | null;
}

/** Entries of one day. */
interface DayOfEntries {
  readonly day: Day;
  sums: Sums;
  hasGrid: boolean;
  /** The one that makes the day; null where several do. */
  entry: DayEntry | null;
}

/** Days of one entry and without totals, which are the same in every range that holds them. */
const plainDays = new WeakMap<DayEntry, { readonly gridFreeWh: number; readonly day: DaySums }>();

/**
 * Entries joined to days.
 * @param lumps in order of time; a day has those that lie in it
 * @param gridFreeWh import up to which a day counts as grid-free
 */
export function dailySums(
  entries: readonly DayEntry[],
  lumps: readonly SettledEnergy[],
  gridFreeWh: number,
): DaySums[] {
  let next = 0;
  return byDay(entries).map((one) => {
    const { day, entry } = one;
    while (next < lumps.length && lumps[next]!.fromMs < day.fromMs) next++;
    const own: SettledEnergy[] = [];
    for (let l = next; l < lumps.length && lumps[l]!.fromMs < day.toMs; l++)
      if (lumps[l]!.toMs <= day.toMs) own.push(lumps[l]!);
    if (entry === null || own.length > 0) return summedDay(one, own, gridFreeWh);
    let known = plainDays.get(entry);
    if (known?.gridFreeWh !== gridFreeWh)
      plainDays.set(entry, (known = { gridFreeWh, day: summedDay(one, own, gridFreeWh) }));
    return known.day;
  });
}

function byDay(entries: readonly DayEntry[]): DayOfEntries[] {
  const days: DayOfEntries[] = [];
  for (const entry of entries) {
    const { day, sums, configuration } = entry;
    const { hasGrid } = configuration;
    const last = days.at(-1);
    if (last?.day.date !== day.date) {
      days.push({ day, sums, hasGrid, entry });
      continue;
    }
    last.hasGrid ||= hasGrid;
    // Only a day with several entries is added up; the sums of an entry stay as they are.
    if (last.entry !== null) {
      const both = noSums();
      addSums(both, last.sums);
      last.sums = both;
      last.entry = null;
    }
    addSums(last.sums, sums);
  }
  return days;
}

function summedDay(
  { day, sums, hasGrid }: DayOfEntries,
  lumps: readonly SettledEnergy[],
  gridFreeWh: number,
): DaySums {
  const wholeS = (day.toMs - day.fromMs) / 1000;
  const coverage = Math.min(1, sums.allS / wholeS);
  const bought = lumps.filter(({ flow }) => flow === 'import');
  const judgedS = sums.gridS + bought.reduce((sum, { unknownS }) => sum + unknownS, 0);
  const importWh = sums.importWh + bought.reduce((sum, { wh }) => sum + wh, 0);
  const concluded =
    (coverage >= DAY_COVERAGE && sums.gridS > 0) || (bought.length > 0 && judgedS >= DAY_COVERAGE * wholeS);
  return {
    day,
    sums,
    lumps,
    importWh,
    coverage,
    gridFree: concluded && hasGrid ? importWh <= gridFreeWh : null,
    emptiedWh: Number.isNaN(sums.emptyMs) ? null : sums.importWh - sums.gridChargedBus,
  };
}

/** Energies of a day in kWh; null where nothing of a quantity was measured. */
export function dayEnergies({ sums, lumps }: DaySums) {
  const kWh = (flow: Flow, wh: number, knownS: number) => {
    const own = lumps.filter((lump) => lump.flow === flow);
    if (knownS === 0 && own.length === 0) return null;
    return own.reduce((sum, lump) => sum + lump.wh, wh) / 1000;
  };
  return {
    solar: kWh('solar', sums.solarWh, sums.solarS),
    load: kWh('load', sums.loadWh, sums.loadS),
    import: kWh('import', sums.importWh, sums.gridS),
    export: kWh('export', sums.exportWh, sums.gridS),
    charge: kWh('charge', sums.chargeWh, sums.batteryS),
    discharge: kWh('discharge', sums.dischargeWh, sums.batteryS),
  };
}

export type DayEnergies = Readonly<ReturnType<typeof dayEnergies>>;
