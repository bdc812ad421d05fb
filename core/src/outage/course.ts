import { peakCourse, type PeakCourse } from '../peak/course.js';
import { viewOf, type Prepared } from '../prepare.js';
import { endMs, type Range } from '../series/log.js';
import { configurationAt, type Configuration } from '../system/configuration.js';
import type { View } from '../view.js';
import { expectedOf, type Expected } from './expected.js';
import { lastingCourse, type LastingCourse } from './lasting.js';
import type { Outage } from './ledger.js';
import { supplyOf, type Supply } from './supply.js';

/** An interruption with what could be expected of it, where the battery it met is described. */
export type ToldOutage = Outage & { readonly expected: Expected | null };

/** What the Outages view shows of a range. */
export interface OutageCourse extends LastingCourse {
  readonly outages: readonly ToldOutage[];
  readonly peaks: PeakCourse;
  /** Reserve that is set, as a share; null where it is not described. */
  readonly reserveSet: number | null;
}

/** The interruptions of a range, and how long the home would last in the next one. */
export function outageCourse(prepared: Prepared, range: Range): OutageCourse {
  const view = viewOf(prepared, range);
  const { described } = configurationAt(view.configurations, range.toMs - 1);
  return {
    ...lastingCourse(view),
    outages: toldOutages(prepared, view),
    peaks: peakCourse(view, prepared.columns),
    reserveSet: described?.battery?.reserve ?? null,
  };
}

/** The interruptions of a view, each set against what the battery it met, as measured over its time, let expect. */
export function toldOutages(prepared: Prepared, { outages, accuracy }: View): ToldOutage[] {
  const { log, columns, configurations } = prepared;
  const supplies = new Map<Configuration, Supply | null>();
  return outages.map((outage) => {
    const configuration = configurationAt(configurations, outage.fromMs);
    let supply = supplies.get(configuration);
    if (supply === undefined) {
      const fromMs = Math.max(log.startMs, configuration.fromMs);
      const toMs = Math.min(endMs(log), configuration.toMs);
      supply = supplyOf(viewOf(prepared, { fromMs, toMs }));
      supplies.set(configuration, supply);
    }
    return {
      ...outage,
      expected: supply && expectedOf(log, columns, outage, supply, accuracy.load, accuracy.soc),
    };
  });
}
