import type {
  Figure,
  LossesView,
  PaybackFan,
  PowerSeries,
  ScenarioOutcome,
  WearView,
} from '@long-tally/core';
import {
  betweenText,
  clockText,
  dateText,
  decimal,
  intervalText,
  localDateText,
  momentText,
  monthText,
} from '../ui/format.js';
import { FLOW_ROWS } from './flowRows.js';
import { LOSS_PARTS } from './LossBudget.js';
import { CLOCK_NAMES } from './WarrantyClocks.js';
import type { DrawnRun } from './ScenarioCourses.js';
import type { SweptPoint } from './SweepCurve.js';

/** What a chart shows, as a table: to be read out, and to be copied. */
export interface ChartRows {
  readonly head: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const percent = (share: number | null | undefined, digits = 1) =>
  share == null || Number.isNaN(share) ? '' : decimal(100 * share, digits);
const kilo = (amount: number | null | undefined, digits: number) =>
  amount == null || Number.isNaN(amount) ? '' : decimal(amount / 1000, digits);

/** Where each source went, kWh. */
export function flowRows(figures: Readonly<Record<string, Figure>>): ChartRows {
  return {
    head: ['source', 'to', 'kWh', 'interval, kWh'],
    rows: FLOW_ROWS.flatMap(({ source, flows }) =>
      flows.flatMap(([key, to]) => {
        const figure = figures[key];
        return figure?.value == null ? [] : [[source, to, decimal(figure.value, 1), intervalText(figure)]];
      }),
    ),
  };
}

const BUDGET = [
  ['account.solar', 'solar'],
  ['account.import', 'import'],
  ['account.load', 'load'],
  ['account.export', 'export'],
  ['account.storeChange', 'into the store'],
  ['account.losses', 'losses'],
  ...LOSS_PARTS.map(([key, name]) => [key, `of them ${name}`] as const),
] as const;

/** What came in, what went out, and the losses by their parts, kWh. */
export function lossRows(figures: Readonly<Record<string, Figure>>): ChartRows {
  return {
    head: ['energy', 'kWh', 'interval, kWh'],
    rows: BUDGET.flatMap(([key, name]) => {
      const figure = figures[key];
      return figure?.value == null ? [] : [[name, decimal(figure.value, 1), intervalText(figure)]];
    }),
  };
}

/** Full-to-full windows with what they discharged and lost. */
export function windowRows({ stretches }: LossesView, timeZone: string): ChartRows {
  return {
    head: ['from', 'until', 'discharged, kWh a day', 'lost, kWh a day'],
    rows: stretches.flatMap(({ windows }) =>
      windows.map(({ fromMs, toMs, dischargeADay, lossADay }) => [
        momentText(fromMs, timeZone),
        momentText(toMs, timeZone),
        decimal(dischargeADay, 2),
        decimal(lossADay, 2),
      ]),
    ),
  };
}

/** Round trip by month with its quartiles. */
export function roundTripRows({ months }: LossesView): ChartRows {
  return {
    head: ['month', 'round trip, %', 'lower quartile, %', 'upper quartile, %'],
    rows: months.map(({ fromMs, toMs, value, quartiles }) => [
      monthText((fromMs + toMs) / 2),
      percent(value),
      percent(quartiles?.[0]),
      percent(quartiles?.[2]),
    ]),
  };
}

/** Half hours of the tare line, kW. */
export function tareRows({ points }: NonNullable<LossesView['tare']>): ChartRows {
  return {
    head: ['home takes, kW', 'battery gives, kW DC'],
    rows: points.map(([served, drawn]) => [kilo(served, 3), kilo(drawn, 3)]),
  };
}

/** What an estimate of the capacity is from. */
export function estimateText({
  kind,
  direction,
}: Pick<WearView['estimates'][number], 'kind' | 'direction'>): string {
  return { segment: direction, 'full-run': 'full to cut-off', trial: 'trial' }[kind];
}

/** Capacity estimates, and the course ahead beneath them, kWh. */
export function capacityRows({ estimates, trend }: WearView, timeZone: string): ChartRows {
  return {
    head: ['date', 'kind', 'kWh', 'low, kWh', 'high, kWh'],
    rows: [
      ...estimates.map((estimate) => [
        localDateText(estimate.atMs, timeZone),
        estimateText(estimate),
        ...[estimate.kWh, estimate.low, estimate.high].map((kWh) => decimal(kWh, 2)),
      ]),
      ...(trend?.fan ?? []).map(({ atMs, value, low, high }) => [
        localDateText(atMs, timeZone),
        'if the trend continues',
        decimal(value, 2),
        decimal(low, 2),
        decimal(high, 2),
      ]),
    ],
  };
}

/** Cycles by tenths of depth, and the share of the cycle life used that each tenth takes. */
export function depthRows({ depths }: WearView): ChartRows {
  const all = depths.reduce((sum, { damage }) => sum + damage, 0);
  return {
    head: ['depth, %', 'cycles', 'share of the cycle life used, %'],
    rows: depths.map(({ from, count, damage }) => [
      betweenText(100 * from, 100 * from + 10, 0),
      decimal(count, 1),
      all > 0 ? percent(damage / all) : '',
    ]),
  };
}

/** The warranty's limits: how far each is used, and when it is reached. */
export function clockRows({ clocks }: NonNullable<WearView['warranty']>): ChartRows {
  return {
    head: ['limit', 'used, %', 'reached', 'earliest', 'latest'],
    rows: clocks.map(({ limit, used, runsOutMs }) => [
      CLOCK_NAMES[limit],
      percent(used.value),
      ...(runsOutMs ? [runsOutMs.value, runsOutMs.low, runsOutMs.high].map(monthText) : ['', '', '']),
    ]),
  };
}

/** The balance of the system over the years. */
export function paybackRows({ points }: PaybackFan, currency: string): ChartRows {
  const unit = currency && `, ${currency}`;
  return {
    head: ['date', `saved less paid${unit}`, `low${unit}`, `high${unit}`],
    rows: points.map(({ atMs, value, low, high }) => [
      dateText(new Date(atMs).toISOString(), 'plain'),
      decimal(value, 0),
      decimal(low, 0),
      decimal(high, 0),
    ]),
  };
}

/** Share of starts that last longer, at every sixth hour of the first two days and at every twelfth from then on. */
export function survivalRows(courses: readonly ScenarioOutcome[], horizonH: number): ChartRows {
  const hours = [0, 6, 12, 18, 24, 30, 36, 42];
  for (let hour = 48; hour <= horizonH; hour += 12) hours.push(hour);
  return {
    head: ['hours', ...courses.map(({ scenario }) => `${scenario.name}, % last longer`)],
    rows: hours.map((hour) => [
      decimal(hour, 0),
      ...courses.map(({ curve }) => percent(curve.findLast((step) => step.hours < hour)?.share ?? 1)),
    ]),
  };
}

/** Self-sufficiency by a quantity that is swept, with its interval. */
export function sweepRows(points: readonly SweptPoint[], unit: string, what: string): ChartRows {
  return {
    head: [unit, `${what}, %`, 'low, %', 'high, %'],
    rows: points.map(({ at, share, low, high }) => [
      decimal(at, 0),
      percent(share),
      percent(low),
      percent(high),
    ]),
  };
}

/** Runs hour by hour: charge, and what the home lacks. */
export function courseRows(
  runs: readonly DrawnRun[],
  missing: string,
  hourText: (hour: number) => string,
): ChartRows {
  const hours = Math.max(0, ...runs.map((run) => run.hours.soc.length));
  return {
    head: ['hour', ...runs.flatMap(({ name }) => [`${name}: charge, %`, `${name}: ${missing}, kW`])],
    rows: Array.from({ length: hours }, (_, hour) => [
      hourText(hour),
      ...runs.flatMap((run) => [percent(run.hours.soc[hour], 0), kilo(run.hours.missingW[hour], 2)]),
    ]),
  };
}

/** Power and charge interval by interval. */
export function powerRows(course: PowerSeries, timeZone: string): ChartRows {
  const { startMs, stepMs } = course;
  const flows = (['solar', 'load', 'grid', 'battery'] as const).flatMap((name) => {
    const values = course[name];
    return values ? [{ name, values }] : [];
  });
  const cells = Math.max(0, course.soc?.length ?? 0, ...flows.map(({ values }) => values.length));
  return {
    head: ['from', ...flows.map(({ name }) => `${name}, kW`), ...(course.soc ? ['charge, %'] : [])],
    rows: Array.from({ length: cells }, (_, cell) => [
      clockText(startMs + cell * stepMs, timeZone, stepMs),
      ...flows.map(({ values }) => kilo(values[cell], 3)),
      ...(course.soc ? [percent(course.soc[cell], 1)] : []),
    ]),
  };
}
