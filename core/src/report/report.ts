import { balance } from '../books/account/balance.js';
import { gridContact } from '../books/account/gridFreeDays.js';
import { flows } from '../books/account/flows.js';
import { selfSufficiency } from '../books/account/selfSufficiency.js';
import { totals } from '../books/account/totals.js';
import { coverageByQuantity } from '../books/shared/knownTotals.js';
import { capacity } from '../books/capacity/capacity.js';
import type { Correction } from '../model/correction.js';
import type { Finding } from '../model/finding.js';
import { findingsOf } from './findings.js';
import { reportDay, reportFinding, reportOutage, type RangeReport, type Report } from './reportFormat.js';
import type { Figure, FigureEntry } from '../model/figure.js';
import { endMs, type SourceLog } from '../model/log.js';
import type { Range } from '../model/range.js';
import { budget, meanLoss } from '../books/losses/budget.js';
import { idleAndConversion } from '../books/losses/idleDraw.js';
import { inverterIdle } from '../books/losses/inverterIdle.js';
import { roundTrip } from '../books/losses/roundTrip.js';
import { standby } from '../books/losses/standby.js';
import { toldOutages } from '../books/outage/toldOutages.js';
import { solarFigures, solarFindings } from '../books/solar/solarFigures.js';
import { degreeDays } from '../books/money/degreeDays.js';
import { moneyAccount } from '../books/money/account.js';
import { moneyFigures } from '../books/money/moneyFigures.js';
import { survivalOutcome } from '../books/outage/survivalFigures.js';
import { partFigures } from '../books/parts/parts.js';
import { outageFigures } from '../books/outage/outageFigures.js';
import { peakLoads, type PeakLoads } from '../books/peak/peakLoads.js';
import { peaks } from '../books/peak/peakFigures.js';
import { prepare, rangeDataOf, type Prepared } from '../passes/prepare.js';
import type { JournalNote } from '../system/journal.js';
import type { System } from '../system/schema.js';
import { countDays } from '../time/days.js';
import { isoOf } from '../time/instant.js';
import { zoneOf } from '../time/zone.js';
import { configurationNames, coverageOf, type RangeData } from '../passes/rangeData.js';
import { cycleFigures, socCycles } from '../books/wear/cycles.js';
import { stressFigures } from '../books/wear/stress.js';
import { use } from '../books/wear/usage.js';
import { warranty } from '../books/wear/warranty.js';

/** One area of the work: reads the data of a range, returns its figures by key. */
type Book = (data: RangeData) => Record<string, Figure>;

const BOOKS: readonly Book[] = [
  totals,
  balance,
  flows,
  selfSufficiency,
  gridContact,
  roundTrip,
  idleAndConversion,
  inverterIdle,
  standby,
  use,
  cycleFigures,
  stressFigures,
  capacity,
  warranty,
  outageFigures,
  peaks,
];

/**
 * Draws up the report of a home from its system and its logs: the one function behind the command line, the workers
 * and the tests.
 * @param logs as read, in any order
 * @param range whole of the logs when left out
 */
export function analyse(
  system: System,
  logs: readonly SourceLog[],
  range?: Range,
  corrections: readonly Correction[] = [],
  journal: readonly JournalNote[] = [],
): Report {
  const prepared = prepare(system, logs, corrections, journal);
  return report(prepared, range ?? { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) });
}

/**
 * The report of a range of a home that is prepared.
 * @param cost `days` leaves out what goes through the samples of the range again, and the lists of its days
 */
export function report(prepared: Prepared, range: Range): Report;
export function report(prepared: Prepared, range: Range, cost: 'days'): RangeReport;
export function report(
  prepared: Prepared,
  range: Range,
  cost: FigureEntry['cost'] = 'samples',
): Report | RangeReport {
  const data = rangeDataOf(prepared, range);
  const own = ofDays(prepared, data);
  if (cost === 'days') return own;
  const peaksOf = peakLoads(data, prepared.columns);
  const further = [...peaksOf.findings, ...solarFindings(data, prepared.system)].map(reportFinding);
  return {
    ...own,
    findings: byWeight([...own.findings, ...further]),
    figures: { ...own.figures, ...marked(data, furtherFigures(prepared, data, peaksOf, own.figures)) },
    days: data.days.map(reportDay),
    outages: toldOutages(prepared, data).map(reportOutage),
    rainflow: socCycles(data.turningPoints).map(({ fromMs, toMs, ...cycle }) => ({
      ...cycle,
      from: isoOf(fromMs),
      to: isoOf(toMs),
    })),
    capacity: data.estimates
      .filter(({ atMs }) => atMs >= range.fromMs)
      .map(({ atMs, wh, half, depth, kind, direction }) => ({
        at: isoOf(atMs),
        kWh: wh / 1000,
        low: (wh - half) / 1000,
        high: (wh + half) / 1000,
        depth,
        side: data.batterySide,
        kind,
        direction,
      })),
  };
}

/** Figures that go through the samples of the range again. */
function furtherFigures(
  { system, columns }: Prepared,
  data: RangeData,
  peaksOf: PeakLoads,
  known: Readonly<Record<string, Figure>>,
) {
  return [
    ...Object.entries(survivalOutcome(data).figures),
    ...Object.entries(peaksOf.figures),
    ...Object.entries(partFigures(data)),
    ...Object.entries(solarFigures(data, system)),
    ...Object.entries(moneyFigures(data, system, moneyAccount(data, system, columns), known)),
    ...Object.entries(degreeDays(data)),
  ];
}

/** What costs days only. */
function ofDays(prepared: Prepared, data: RangeData): RangeReport {
  const { range, log } = data;
  const figures = figuresOf(data);
  const { gaps } = data;
  const byQuantity = coverageByQuantity(data);
  const findings = byWeight([...findingsOf(data, prepared.system, figures, gaps), ...prepared.findings]);
  return {
    schema: 'long-tally/report@1',
    range: {
      from: isoOf(range.fromMs),
      to: isoOf(range.toMs),
      timeZone: log.zone,
      days: countDays(zoneOf(log.zone), range.fromMs, range.toMs),
    },
    coverage: {
      stepSeconds: log.stepMs / 1000,
      // What is known as totals is known; a charge noted now and then leaves nothing out.
      share:
        data.lumps.length > 0
          ? Math.min(
              1,
              ...Object.entries(byQuantity).flatMap(([quantity, share]) =>
                quantity === 'soc' ? [] : [share],
              ),
            )
          : coverageOf(data, data.total.allS - data.total.bridgedS),
      quantities: byQuantity,
      gaps: gaps.map(({ fromMs, toMs, quantities }) => ({
        from: isoOf(fromMs),
        to: isoOf(toMs),
        hours: (toMs - fromMs) / 3_600_000,
        quantities,
      })),
    },
    findings: findings.map(reportFinding),
    figures,
  };
}

/** The figures of all books. */
function figuresOf(data: RangeData): Record<string, Figure> {
  const own = BOOKS.flatMap((book) => Object.entries(book(data)));
  const known = Object.fromEntries(own);
  return marked(data, [...own, ...Object.entries(meanLoss(known)), ...Object.entries(budget(data, known))]);
}

/** Figures that, over a change of configuration, each name the configurations they cover. */
function marked(data: RangeData, figures: readonly (readonly [string, Figure])[]): Record<string, Figure> {
  const crossed = data.parts.length > 1 ? { configurations: configurationNames(data) } : {};
  return Object.fromEntries(
    figures.map(([key, figure]) => [key, { ...figure, basis: { ...crossed, ...figure.basis } }]),
  );
}

/** Findings with the most energy at stake first, the others in their order behind them. */
function byWeight<T extends Pick<Finding, 'kWh'>>(findings: readonly T[]): T[] {
  return [...findings].sort((a, b) => (b.kWh ?? -1) - (a.kWh ?? -1));
}
