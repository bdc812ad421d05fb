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
}

/** A share shown as a whole per cent may be off by half of one. */
const ROUNDING = 0.005;
const MOST = 6;

/**
 * Looks for what reproduces a self-sufficiency that somebody else states: other definitions on the same range, parts left
 * out, means of days, and the usual definitions on other ranges.
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
  return [...here, ...elsewhere]
    .filter(({ value }) => Number.isFinite(value))
    .map(({ says, value }) => ({ says, value, isIt: Math.abs(value - stated) <= ROUNDING }))
    .sort((a, b) => Math.abs(a.value - stated) - Math.abs(b.value - stated))
    .slice(0, MOST);
}

/** Definitions in use, by the meter and by supply first; NaN where a flow is not known. */
function definitions({ total, days }: RangeData): (readonly [says: string, value: number])[] {
  const { loadMeter, importMeter, loadBus, importBus, solarBus } = total;
  const bus = total.busS > 0 ? loadBus : NaN;
  const losses = solarBus + importBus - loadBus - total.exportBus;
  const daily = days
    .filter(({ sums }) => sums.loadMeter > 0)
    .map(({ sums }) => Math.max(0, 1 - sums.importMeter / sums.loadMeter));
  return [
    ['by the meter: 1 − import ÷ load', 1 - importMeter / loadMeter],
    ['by supply: solar and battery to load ÷ load', (total.solarToLoadBus + total.dischargeToLoadBus) / bus],
    ['of solar origin', (total.solarToLoadOrigin + total.storedSolarToLoadOrigin) / total.loadOrigin],
    ['the grid energy that charged the battery left out', 1 - (importBus - total.gridChargedBus) / bus],
    ['the standby trickle left out', 1 - (importBus - total.trickleBus) / bus],
    [
      'trickle and grid charging both left out',
      1 - (importBus - total.trickleBus - total.gridChargedBus) / bus,
    ],
    ['losses and change in store counted as load', 1 - importBus / (bus + losses)],
    ['solar ÷ (solar + import), whatever was sold', solarBus / (solarBus + importBus) + 0 * bus],
    ['self-consumption taken for self-sufficiency', 1 - total.solarToExportBus / solarBus + 0 * bus],
    ['the mean of the days’ own figures', daily.reduce((sum, one) => sum + one, 0) / daily.length],
    ['load in discharge alone: battery to load ÷ load', total.dischargeToLoadBus / bus],
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
