import { dayEnergies } from '../../passes/dailySums.js';
import { knownTotals } from '../shared/knownTotals.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import { endMs } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import { dayNumberAt, dayNumberOfDate, dayOf } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';
import type { RangeData } from '../../passes/rangeData.js';

/** A way of reckoning self-sufficiency that gives about what somebody states. */
export interface Reckoning {
  /** In words: which definition, range or omission. */
  readonly says: string;
  readonly value: number;
  /** True when it gives the stated figure as it would be shown, rounded to a per cent. */
  readonly isIt: boolean;
  /** True of what would have had to be bought for it, told where no reckoning gives the stated figure. */
  readonly isInverse?: true;
}

/** A share shown as a whole per cent may be off by half of one. */
const ROUNDING = 0.005;
const MOST = 6;

/**
 * Looks for what reproduces a self-sufficiency that somebody else states: other definitions on the same range, parts left
 * out, means of days, and the usual definitions on other ranges; energies known as totals count like those with a course.
 * Where nothing gives it, what import would.
 * @param stated share, 0 to 1
 * @returns the nearest ways of reckoning, best first
 */
export function reconcile(prepared: Prepared, range: Range, stated: number): Reckoning[] {
  const data = rangeDataOf(prepared, range);
  const here = definitions(data).map(([says, value]) => ({ says: `${says}, this range`, value }));
  const elsewhere = otherRanges(prepared, range).flatMap(({ name, ...other }) => {
    const there = definitions(rangeDataOf(prepared, other)).slice(0, 2);
    return there.map(([says, value]) => ({ says: `${says}, ${name}`, value }));
  });
  const ways: Reckoning[] = [...here, ...elsewhere]
    .filter(({ value }) => Number.isFinite(value))
    .map(({ says, value }) => ({ says, value, isIt: Math.abs(value - stated) <= ROUNDING }))
    .sort((a, b) => Math.abs(a.value - stated) - Math.abs(b.value - stated))
    .slice(0, MOST);
  return ways.some(({ isIt }) => isIt) ? ways : [...ways, ...inverse(data, stated)];
}

/** The import with which 1 − import ÷ load would give the stated figure. */
function inverse(data: RangeData, stated: number): Reckoning[] {
  const { loadWh, importWh } = byMeterOf(data);
  if (!(loadWh > 0)) return [];
  const kWh = (wh: number) => `${(wh / 1000).toFixed(1)} kWh`;
  const needed = (1 - stated) * loadWh;
  const says = `1 − import ÷ load gives it with an import of ${kWh(needed)}, in place of the ${kWh(importWh)} counted: ${kWh(Math.abs(importWh - needed))} ${needed < importWh ? 'less' : 'more'}`;
  return [{ says, value: stated, isIt: false, isInverse: true }];
}

/** Load and import over the same time, Wh, by their course or by totals, whichever knows more of the range. */
function byMeterOf(data: RangeData): { loadWh: number; importWh: number } {
  const { loadMeter, importMeter, meterS } = data.total;
  const totals = knownTotals(data, ['load', 'import']);
  return totals && data.lumps.length > 0 && totals.seconds > meterS
    ? { loadWh: totals.wh.load, importWh: totals.wh.import }
    : { loadWh: loadMeter, importWh: importMeter };
}

/** Definitions in use, by the meter and by supply first; NaN where a flow is not known. */
function definitions(data: RangeData): (readonly [says: string, value: number])[] {
  const { total, days } = data;
  const { loadWh, importWh } = byMeterOf(data);
  const known = total.busS > 0 ? null : knownTotals(data, ['solar', 'load', 'import', 'export']);
  const {
    load: loadBus,
    import: importBus,
    solar: solarBus,
    export: exportBus,
  } = known?.wh ?? {
    load: total.loadBus,
    import: total.importBus,
    solar: total.solarBus,
    export: total.exportBus,
  };
  const bus = total.busS > 0 || known ? loadBus : NaN;
  const course = total.busS > 0 ? bus : NaN;
  const losses = solarBus + importBus - loadBus - exportBus;
  const solarSold = known ? Math.min(exportBus, solarBus) : total.solarToExportBus;
  const daily = days.flatMap((day) => {
    const { load, import: bought } = dayEnergies(day);
    return load !== null && bought !== null && load > 0 ? [Math.max(0, 1 - bought / load)] : [];
  });
  return [
    ['by the meter: 1 − import ÷ load', 1 - importWh / loadWh],
    [
      'by supply: solar and battery to load ÷ load',
      (total.solarToLoadBus + total.dischargeToLoadBus) / course,
    ],
    ['of solar origin', (total.solarToLoadOrigin + total.storedSolarToLoadOrigin) / total.loadOrigin],
    ['the grid energy that charged the battery left out', 1 - (importBus - total.gridChargedBus) / course],
    ['the standby trickle left out', 1 - (importBus - total.trickleBus) / course],
    [
      'trickle and grid charging both left out',
      1 - (importBus - total.trickleBus - total.gridChargedBus) / course,
    ],
    ['losses and change in store counted as load', 1 - importBus / (bus + losses)],
    ['solar ÷ (solar + import), whatever was sold', solarBus / (solarBus + importBus) + 0 * bus],
    ['self-consumption taken for self-sufficiency', 1 - solarSold / solarBus + 0 * bus],
    ['the mean of the days’ own figures', daily.reduce((sum, one) => sum + one, 0) / daily.length],
    ['load in discharge alone: battery to load ÷ load', total.dischargeToLoadBus / course],
  ];
}

function otherRanges({ log }: Prepared, { fromMs, toMs }: Range): (Range & { readonly name: string })[] {
  const zone = zoneOf(log.zone);
  const last = dayNumberAt(zone, toMs - 1);
  const daysBack = (days: number) => ({ fromMs: dayOf(zone, last - days + 1).fromMs, toMs });
  const month = dayOf(zone, last).date.slice(0, 7);
  const year = month.slice(0, 4);
  const from = (date: string) => dayOf(zone, dayNumberOfDate(date)).fromMs;
  const ranges = [
    { name: 'the month of its last day so far', fromMs: from(`${month}-01`), toMs },
    { name: 'the year of its last day so far', fromMs: from(`${year}-01-01`), toMs },
    { name: 'its last day alone', ...daysBack(1) },
    { name: 'its last 7 days', ...daysBack(7) },
    { name: 'its last 30 days', ...daysBack(30) },
    { name: 'its last 365 days', ...daysBack(365) },
    { name: 'the whole log', fromMs: log.startMs, toMs: endMs(log) },
    { name: 'as long a range before it', fromMs: 2 * fromMs - toMs, toMs: fromMs },
  ];
  return ranges
    .map((one) => ({
      ...one,
      fromMs: Math.max(log.startMs, one.fromMs),
      toMs: Math.min(endMs(log), one.toMs),
    }))
    .filter((one) => one.fromMs < one.toMs && (one.fromMs !== fromMs || one.toMs !== toMs));
}
