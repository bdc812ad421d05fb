import { powerSeries, type PowerSeries } from './powerSeries.js';
import { peakLoads, type PeakLoads } from '../books/peak/peakLoads.js';
import { lostSun, type LostSun } from '../books/solar/lostSun.js';
import { reportFinding, type ReportFinding } from '../report/reportFormat.js';
import { solarFigures, solarFindings } from '../books/solar/solarFigures.js';
import type { Figure } from '../model/figure.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import { endMs } from '../model/log.js';
import type { Range } from '../model/range.js';
import { configurationAt } from '../system/configuration.js';
import { toldOutages, type ToldOutage } from '../books/outage/toldOutages.js';
import { survivalOutcome, type SurvivalOutcome } from '../books/outage/survivalFigures.js';
import { reserveCosts, type ReserveCost } from '../books/outage/reserveCost.js';
import { startsOf, type Starts } from '../books/outage/outageStarts.js';
import { homeStorage } from '../books/shared/homeStorage.js';
import { loadParts, type LoadPart } from '../books/outage/typicalRuntime.js';

/** What is shown before and after an outage, as a share of its length, and at least. */
const AROUND = 0.25;
const LEAST_AROUND_MS = 3_600_000;

/** What the Outages view shows of a range. */
export interface OutagesView extends SurvivalOutcome {
  readonly outages: readonly ToldOutage[];
  readonly peaks: PeakLoads;
  readonly sun: { readonly figures: Readonly<Record<string, Figure>>; readonly months: LostSun['months'] };
  /** What the samples of the range give to look at. */
  readonly findings: readonly ReportFinding[];
  readonly parts: readonly LoadPart[];
  /** What other reserves would have meant; empty where there is none to set. */
  readonly costs: readonly ReserveCost[];
  /** Reserve that is set, as a share; null where it is not described. */
  readonly reserveSet: number | null;
}

/** From what the Outages view begins an outage in every hour; null where something is missing for it. */
export function outageStarts(prepared: Prepared, range: Range): Starts | null {
  const starts = startsOf(rangeDataOf(prepared, range));
  return 'reason' in starts ? null : starts;
}

/** The interruptions of a range, and how long the home would last in the next one. */
export function outagesView(prepared: Prepared, range: Range): OutagesView {
  const data = rangeDataOf(prepared, range);
  const { reserve } = configurationAt(data.configurations, range.toMs - 1);
  const storage = homeStorage(data);
  const peaks = peakLoads(data, prepared.columns);
  return {
    ...survivalOutcome(data),
    outages: toldOutages(prepared, data),
    peaks,
    findings: [...peaks.findings, ...solarFindings(data, prepared.system)].map(reportFinding),
    sun: {
      figures: solarFigures(data, prepared.system),
      months: lostSun(data, prepared.system)?.months ?? [],
    },
    parts: loadParts(data),
    costs: storage ? reserveCosts(data, storage, prepared.system) : [],
    reserveSet: reserve,
  };
}

/** One outage opened: what was told of it, the power around it, and its neighbours by their beginning. */
export interface OpenedOutage {
  readonly outage: ToldOutage;
  readonly course: PowerSeries;
  readonly beforeMs: number | null;
  readonly afterMs: number | null;
}

/** The outage that begins at an instant; null where none does. */
export function openedOutage(prepared: Prepared, fromMs: number): OpenedOutage | null {
  const { log, outages } = prepared;
  const index = outages.findIndex((one) => one.fromMs === fromMs);
  if (index < 0) return null;
  const { toMs } = outages[index]!;
  // Whole intervals, else half of one would look as if it were missing.
  const around = Math.ceil(Math.max(LEAST_AROUND_MS, AROUND * (toMs - fromMs)) / log.stepMs) * log.stepMs;
  const range = {
    fromMs: Math.max(log.startMs, fromMs - around),
    toMs: Math.min(endMs(log), toMs + around),
  };
  const data = rangeDataOf(prepared, { fromMs, toMs: fromMs + log.stepMs });
  return {
    outage: toldOutages(prepared, data)[0]!,
    course: powerSeries(prepared, range),
    beforeMs: outages[index - 1]?.fromMs ?? null,
    afterMs: outages[index + 1]?.fromMs ?? null,
  };
}
