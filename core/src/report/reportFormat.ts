import { dayEnergies, type DayEnergies, type DaySums } from '../passes/dailySums.js';
import type { Correction } from '../model/correction.js';
import type { Finding } from '../model/finding.js';
import type { Figure } from '../model/figure.js';
import type { ToldOutage } from '../books/outage/toldOutages.js';
import { isoOf } from '../time/instant.js';

/** What the report says of a range, without the list of its days. */
export interface RangeReport {
  readonly schema: 'long-tally/report@1';
  readonly range: {
    readonly from: string;
    readonly to: string;
    readonly timeZone: string;
    readonly days: number;
  };
  readonly coverage: {
    readonly stepSeconds: number;
    readonly share: number;
    /** Share of the range for which each quantity is known, with or without its course. */
    readonly quantities: Readonly<Partial<Record<'solar' | 'load' | 'grid' | 'battery' | 'soc', number>>>;
    readonly gaps: readonly {
      readonly from: string;
      readonly to: string;
      readonly hours: number;
      readonly quantities: readonly string[];
    }[];
  };
  readonly findings: readonly ReportFinding[];
  readonly figures: Readonly<Record<string, Figure>>;
}

/** The report, `long-tally/report@1`. Energies in kWh, shares 0–1, instants as ISO text in UTC. */
export interface Report extends RangeReport {
  readonly days: readonly ReportDay[];
  readonly outages: readonly ReportOutage[];
  readonly rainflow: readonly {
    readonly depth: number;
    readonly mean: number;
    readonly count: number;
    readonly from: string;
    readonly to: string;
  }[];
  readonly capacity: readonly {
    readonly at: string;
    readonly kWh: number;
    readonly low: number;
    readonly high: number;
    readonly depth: number;
    readonly side: 'ac' | 'dc';
    readonly kind: 'segment' | 'full-run' | 'trial';
    readonly direction: 'discharge' | 'charge';
  }[];
}

/** An interruption of the grid; null where a quantity is not logged. */
export interface ReportOutage {
  readonly from: string;
  readonly to: string;
  readonly hours: number;
  readonly evidence: 'flag' | 'voltage' | 'frequency' | 'inferred' | 'journal';
  readonly socStart: number | null;
  readonly socEnd: number | null;
  readonly socLowest: number | null;
  readonly lowestAt: string | null;
  readonly load: number | null;
  readonly solar: number | null;
  readonly battery: number | null;
  readonly peakKW: number | null;
  readonly unservedHours: number;
  readonly heldBack: boolean;
  readonly restart: string | null;
  readonly planned: boolean;
  /** Hours it could be expected to last in its first minute; null where that cannot be told. */
  readonly expectedHours: { readonly value: number; readonly low: number; readonly high: number } | null;
  /** Hours the home was carried, and how that ended: the grid came back, the charge ran out, or it went dark. */
  readonly carriedHours: number | null;
  readonly end: 'grid' | 'empty' | 'dark' | null;
}

/** A finding with its instants as text. */
export interface ReportFinding {
  readonly code: string;
  readonly severity: Finding['severity'];
  readonly from: string | null;
  readonly to: string | null;
  readonly message: string;
  readonly source: string | null;
  readonly kWh: number | null;
  readonly proposal?: Correction;
}

/** One day of the report; null where nothing of a quantity was measured that day. */
export interface ReportDay extends DayEnergies {
  readonly date: string;
  readonly socMin: number | null;
  readonly socMax: number | null;
  readonly coverage: number;
  readonly gridFree: boolean | null;
}

/** A finding as the report has it. */
export function reportFinding({ fromMs, toMs, ...rest }: Finding): ReportFinding {
  return {
    ...rest,
    from: fromMs === null ? null : isoOf(fromMs),
    to: toMs === null ? null : isoOf(toMs),
  };
}

/** A number as JSON has it: unknown is null. */
function known(value: number): number | null {
  return Number.isNaN(value) ? null : value;
}

/** An interruption as the report has it. */
export function reportOutage(outage: ToldOutage): ReportOutage {
  const { fromMs, toMs, evidence, unservedS, restartMs, heldBack, isPlanned, expected } = outage;
  return {
    from: isoOf(fromMs),
    to: isoOf(toMs),
    hours: (toMs - fromMs) / 3_600_000,
    evidence,
    socStart: known(outage.socStart),
    socEnd: known(outage.socEnd),
    socLowest: known(outage.socLowest),
    lowestAt: Number.isNaN(outage.lowestMs) ? null : isoOf(outage.lowestMs),
    load: known(outage.loadWh / 1000),
    solar: known(outage.solarWh / 1000),
    battery: known(outage.batteryWh / 1000),
    peakKW: known(outage.peakW / 1000),
    unservedHours: unservedS / 3600,
    heldBack,
    restart: restartMs === null ? null : isoOf(restartMs),
    planned: isPlanned,
    expectedHours: expected?.expectedH ?? null,
    carriedHours: expected?.lastedH ?? null,
    end: expected?.end ?? null,
  };
}

/** A day as the report has it. */
export function reportDay(daySums: DaySums): ReportDay {
  const { day, sums, coverage, gridFree } = daySums;
  return {
    date: day.date,
    ...dayEnergies(daySums),
    socMin: known(sums.socMin),
    socMax: known(sums.socMax),
    coverage,
    gridFree,
  };
}
