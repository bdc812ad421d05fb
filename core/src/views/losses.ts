import type { FullWindow } from '../passes/fullWindows.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import type { Range } from '../model/range.js';
import { quantile } from '../statistics/quantile.js';
import { offsetAt, zoneOf } from '../time/zone.js';
import { isTold, tareLines } from '../books/shared/tareLine.js';
import type { RangeData } from '../passes/rangeData.js';
import { QUARTILE_DEPTH } from '../books/losses/roundTrip.js';
import type { IdleStep } from '../passes/idleFit.js';
import { configurationChanges, type ConfigurationChange } from './configurationChanges.js';

/** Windows of a month that are enough for quartiles. */
const LEAST_OF_MONTH = 4;
const MOST_POINTS = 1200;
/** Bands of served power, W. */
const BANDS = [0, 150, 300, 600, 1200, 2400, Infinity] as const;

/** Windows between two steps of the idle draw, with the line through them where there is one. */
export interface IdleStretchView extends Range {
  readonly configuration: string;
  readonly windows: readonly {
    readonly fromMs: number;
    readonly toMs: number;
    /** kWh a day. */
    readonly lossADay: number;
    readonly dischargeADay: number;
  }[];
  readonly idleW: number | null;
  /** What the scatter of the windows allows; the meter's own part stands with the figure. */
  readonly idleBounds: readonly [low: number, high: number] | null;
  readonly lambda: number | null;
  /** Σ discharge ÷ Σ charge over the windows. */
  readonly roundTrip: number;
}

/** Round trip of the windows that end in a month: all of them together, and their quartiles where they are enough. */
export interface MonthOfWindows extends Range {
  readonly windows: number;
  readonly value: number;
  readonly quartiles: readonly [number, number, number] | null;
}

/** What the Losses view draws of a range beside the figures. */
export interface LossesView {
  readonly stretches: readonly IdleStretchView[];
  readonly steps: readonly IdleStep[];
  readonly months: readonly MonthOfWindows[];
  readonly configurations: readonly { readonly name: string; readonly fromMs: number }[];
  readonly changes: readonly ConfigurationChange[];
  readonly tare: {
    readonly points: readonly (readonly [servedW: number, drawnW: number])[];
    readonly idleW: number;
    readonly slope: number;
  } | null;
  /** Round trip of windows by their mean power of discharge. */
  readonly windowBands: readonly {
    readonly fromW: number;
    readonly toW: number;
    readonly windows: number;
    readonly roundTrip: number;
  }[];
  /** Served ÷ drawn by night in bands of served power; empty where the DC side is not logged. */
  readonly bands: readonly {
    readonly fromW: number;
    readonly toW: number;
    readonly hours: number;
    readonly efficiency: number;
  }[];
}

/** The course of the losses over a range. */
export function lossesView(prepared: Prepared, range: Range): LossesView {
  const data = rangeDataOf(prepared, range);
  return {
    stretches: data.stretches.map(({ configuration, windows, dischargeWh, lossWh, fit }) => ({
      fromMs: windows[0]!.fromMs,
      toMs: windows.at(-1)!.toMs,
      configuration: configuration.name,
      windows: windows.map(perDay),
      idleW: fit?.first ?? null,
      idleBounds: fit?.firstInterval ?? null,
      lambda: fit?.second ?? null,
      roundTrip: dischargeWh / (dischargeWh + lossWh),
    })),
    steps: data.steps,
    months: monthsOf(data.windows, prepared.log.zone),
    windowBands: bandsOf(data.windows),
    configurations: prepared.configurations
      .filter(({ fromMs }) => fromMs > range.fromMs && fromMs < range.toMs)
      .map(({ name, fromMs }) => ({ name, fromMs })),
    changes: configurationChanges(prepared, range),
    ...tareView(data),
  };
}

function perDay({ fromMs, toMs, chargeWh, dischargeWh }: FullWindow) {
  const days = (toMs - fromMs) / 86_400_000;
  return {
    fromMs,
    toMs,
    lossADay: (chargeWh - dischargeWh) / 1000 / days,
    dischargeADay: dischargeWh / 1000 / days,
  };
}

function monthsOf(windows: readonly FullWindow[], zoneName: string): MonthOfWindows[] {
  const zone = zoneOf(zoneName);
  const groups = new Map<string, FullWindow[]>();
  for (const window of windows) {
    const month = new Date(window.toMs + offsetAt(zone, window.toMs)).toISOString().slice(0, 7);
    const own = groups.get(month);
    if (own) own.push(window);
    else groups.set(month, [window]);
  }
  return [...groups.values()].map((own) => {
    const sum = (of: (window: FullWindow) => number) => own.reduce((total, one) => total + of(one), 0);
    const single = Float64Array.from(
      own.filter(
        ({ chargeWh, dischargeWh, configuration: { usableWh } }) =>
          chargeWh > 0 && dischargeWh >= QUARTILE_DEPTH * (usableWh ?? 0),
      ),
      ({ chargeWh, dischargeWh }) => dischargeWh / chargeWh,
    ).sort();
    return {
      fromMs: own[0]!.toMs,
      toMs: own.at(-1)!.toMs,
      windows: own.length,
      value: sum(({ dischargeWh }) => dischargeWh) / sum(({ chargeWh }) => chargeWh),
      quartiles:
        single.length >= LEAST_OF_MONTH
          ? ([quantile(single, 0.25), quantile(single, 0.5), quantile(single, 0.75)] as const)
          : null,
    };
  });
}

function bandsOf(windows: readonly FullWindow[]): LossesView['windowBands'] {
  const meanW = ({ dischargeWh, dischargeOnS }: FullWindow) =>
    (dischargeWh * 3600) / Math.max(1, dischargeOnS);
  return BANDS.slice(1).flatMap((toW, b) => {
    const fromW = BANDS[b]!;
    const own = windows.filter((window) => meanW(window) >= fromW && meanW(window) < toW);
    const charge = own.reduce((sum, { chargeWh }) => sum + chargeWh, 0);
    const discharge = own.reduce((sum, { dischargeWh }) => sum + dischargeWh, 0);
    return own.length >= LEAST_OF_MONTH && charge > 0
      ? [{ fromW, toW, windows: own.length, roundTrip: discharge / charge }]
      : [];
  });
}

function tareView(data: RangeData): Pick<LossesView, 'tare' | 'bands'> {
  const { range } = data;
  const line = tareLines(data).at(-1);
  if (!data.tare || !line) return { tare: null, bands: [] };
  // A change of the inverter makes another line: the one at the end of the range is drawn, with its own points.
  const drawnFromMs = Math.max(range.fromMs, line.configuration.fromMs);
  const { fromMs, servedW, drawnW } = data.tare;
  const inside = Array.from(fromMs.keys()).filter(
    (i) => fromMs[i]! >= drawnFromMs && fromMs[i]! < range.toMs,
  );
  const every = Math.max(1, Math.ceil(inside.length / MOST_POINTS));
  const bands = BANDS.slice(1).flatMap((toW, b) => {
    const own = inside.filter((i) => servedW[i]! >= BANDS[b]! && servedW[i]! < toW);
    const total = (values: Float64Array) => own.reduce((sum, i) => sum + values[i]!, 0);
    return own.length >= 10
      ? [{ fromW: BANDS[b]!, toW, hours: own.length / 2, efficiency: total(servedW) / total(drawnW) }]
      : [];
  });
  return {
    tare: isTold(line)
      ? {
          points: inside.filter((_, k) => k % every === 0).map((i) => [servedW[i]!, drawnW[i]!] as const),
          idleW: line.fit.first,
          slope: line.fit.second,
        }
      : null,
    bands,
  };
}
