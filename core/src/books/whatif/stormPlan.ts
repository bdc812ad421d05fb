import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import { kaplanMeier } from '../../statistics/kaplanMeier.js';
import { quantile, quantileOf } from '../../statistics/quantile.js';
import type { Run } from '../../storage/replay.js';
import { instantOfLocal, offsetAt, zoneOf } from '../../time/zone.js';
import { scenarioOf, WHOLE_HOME, type Held, type Scenario } from '../outage/scenario.js';
import {
  demandOf,
  doubtsOf,
  EXACT,
  heldHours,
  heldShare,
  replayed,
  type ThreeCurves,
} from '../outage/scenarioOutcome.js';
import { modelRun, type ModelInputs, type ModelRun } from './modelRun.js';
import { startsOfRun } from './scenarioSurvival.js';
import { homeModel, type Model, type Modelled } from './scenarioValues.js';

const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;
/** Days of the year to either side of the named one whose use, sun and charge are taken for it. */
const SEASON_DAYS = 21;
/** So long after the storm's beginning the energy that was bought for it is still of use. */
const AFTER_DAYS = 5;
/** Charging may begin so long before, h. */
const BEFORE_H = 24;
const LEAST_DAYS = 5;

/** A value with the range in which nine of ten days of the season lie. */
export interface Spread {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/** How long an outage of the whole home is carried: hours that nine of ten, and half, outlast; null beyond what is followed. */
export interface StormHours {
  readonly p10: Held | null;
  readonly p50: Held | null;
  readonly survive24: Held;
}

/** What it takes to be full before a storm, by the days of the same season in the log. */
export interface StormPlan {
  readonly at: string;
  /** Days of the log that were tried. */
  readonly days: number;
  /** Charge at that hour as it would be otherwise, share of full. */
  readonly soc: Spread;
  /** Bought for it, kWh; and hours before the storm at which charging has to begin on nine of ten days. */
  readonly boughtKWh: Spread;
  readonly hoursBefore: number;
  /**
   * What it costs if the storm does not come, in the home's currency: what is bought, less what it saves in the days after.
   * Null without prices.
   */
  readonly cost: Spread | null;
  readonly asUsual: StormHours;
  readonly full: StormHours;
}

/**
 * A plan to be full at a named moment: every day of the log within three weeks of that day of the year is run as it was, and
 * charged from the grid to 100 % before that hour; outages begun then are followed from either charge. Common practice, no
 * published source.
 * @param atLocal the moment by the site's clock, `2026-12-03T18:00`
 * @throws InputError where the home cannot be modelled, has no grid, or the log has too few days of that season
 */
export function stormPlan(prepared: Prepared, range: Range, atLocal: string): StormPlan {
  const localMs = Date.parse(`${atLocal}Z`);
  const refuse = (found: string, mend: string) =>
    new InputError([{ where: prepared.system.name, found, mend }]);
  if (Number.isNaN(localMs))
    throw refuse(`"${atLocal}" is not a date with a time.`, 'Write it as 2026-12-03T18:00.');
  const data = rangeDataOf(prepared, range);
  const model = homeModel(prepared, data);
  const { home } = model;
  if (!home.hasGrid) throw refuse('This home has no grid.', 'There is nothing to charge from.');
  const usual = model.run({});
  const starts = startsOfRun(model, usual);
  if (!starts)
    throw refuse('The log does not tell how long the battery lasts.', 'Bring load and state of charge.');
  const moments = seasonMoments(model, range, localMs);
  const tried = moments.flatMap((ms) => triedAt(model, usual, ms) ?? []);
  if (tried.length < LEAST_DAYS)
    throw refuse(
      `The log has ${tried.length} usable days within three weeks of that day of the year; ${LEAST_DAYS} are needed.`,
      'Choose a day of a season that the log holds, or a longer range.',
    );
  const hoursOf = (scenario: Scenario) => {
    const demand = demandOf(starts, scenario);
    const curves = [EXACT, ...doubtsOf(starts)].map((doubt) => {
      const { runs } = replayed(starts, scenario, demand, doubt);
      return kaplanMeier(
        moments.flatMap((ms): Run[] => {
          const run = runs[Math.round((ms - starts.startMs) / HOUR_MS)];
          return run ? [run] : [];
        }),
      );
    }) as unknown as ThreeCurves;
    return { p10: heldHours(curves, 0.1), p50: heldHours(curves, 0.5), survive24: heldShare(curves, 24) };
  };
  const spread = (values: readonly number[]): Spread => {
    const sorted = Float64Array.from(values).sort();
    const mean = sorted.reduce((sum, one) => sum + one, 0) / sorted.length;
    return { value: mean, low: quantile(sorted, 0.05), high: quantile(sorted, 0.95) };
  };
  const costs = tried.map(({ cost }) => cost);
  return {
    at: atLocal,
    days: tried.length,
    soc: spread(tried.map(({ soc }) => soc)),
    boughtKWh: spread(tried.map(({ boughtKWh }) => boughtKWh)),
    hoursBefore: Math.ceil(quantileOf(Float64Array.from(tried.map(({ hours }) => hours)), 0.9)),
    cost: costs.some(Number.isNaN) ? null : spread(costs),
    asUsual: hoursOf(WHOLE_HOME),
    full: hoursOf(scenarioOf({ startSoc: 1 })),
  };
}

/** That hour of every day of the range which lies within some days of that day of the year. */
function seasonMoments({ data }: Model, { fromMs, toMs }: Range, localMs: number): number[] {
  const zone = zoneOf(data.log.zone);
  const moments: number[] = [];
  const years = [fromMs, toMs].map((ms) => new Date(ms + offsetAt(zone, ms)).getUTCFullYear());
  for (let year = years[0]! - 1; year <= years[1]! + 1; year++) {
    const named = new Date(localMs);
    named.setUTCFullYear(year);
    for (let day = -SEASON_DAYS; day <= SEASON_DAYS; day++) {
      const ms = instantOfLocal(zone, named.getTime() + day * DAY_MS);
      // Outages are begun at full hours.
      const hour = Math.round(ms / HOUR_MS) * HOUR_MS;
      if (hour - BEFORE_H * HOUR_MS >= fromMs && hour + AFTER_DAYS * DAY_MS <= toMs) moments.push(hour);
    }
  }
  return moments;
}

/** One day run as it was, and charged before the moment; null where something of it is not known. */
function triedAt({ inputs, home, prices }: Model, whole: Modelled, ms: number) {
  const { startMs, stepMs } = inputs;
  const hours = stepMs / HOUR_MS;
  const cellOf = (at: number) => Math.round((at - startMs) / stepMs);
  const [from, moment, to] = [ms - BEFORE_H * HOUR_MS, ms, ms + AFTER_DAYS * DAY_MS].map(cellOf) as [
    number,
    number,
    number,
  ];
  const socStart = whole.run.courses.soc[from]!;
  const between = (first: number, last: number, soc: number): ModelInputs => ({
    ...inputs,
    startMs: startMs + first * stepMs,
    load: inputs.load.subarray(first, last),
    solar: inputs.solar.subarray(first, last),
    buy: inputs.buy && inputs.buy.subarray(first, last),
    socStart: soc,
  });
  const usual = modelRun(home, between(from, to, socStart));
  if (socStart !== socStart || usual.importW.some((watts) => watts !== watts)) return null;
  const socAt = (cell: number) => usual.courses.soc[cell - from]!;
  // Charging begins as late as its power allows.
  const perCell =
    (Math.min(home.chargeW, home.gridChargeLimitW) * home.chargeEfficiency * hours) / home.fullWh;
  let begin = moment;
  while (begin > from && (moment - begin) * perCell < 1 - socAt(begin)) begin--;
  const allDay = [{ start: '00:00', end: '24:00', toSoc: 1, months: null, chargeW: null }];
  const charged = modelRun(
    { ...home, windows: allDay, datedCharges: [] },
    between(begin, moment, socAt(begin)),
  );
  const after = modelRun(
    home,
    between(moment, to, socAt(begin) + (1000 * charged.storeChangeKWh) / home.fullWh),
  );
  const usualW = usual.importW.subarray(begin - from, moment - from);
  const usualKWh = usualW.reduce((sum, watts) => sum + watts, 0) * (hours / 1000);
  const costOf = (run: ModelRun, first: number, skipped: number) => {
    let cost = 0;
    for (let i = skipped; i < run.importW.length; i++) {
      const cell = first + i;
      const { taxShare = 0, exportScheme = 'paid' } = prices!.bills[prices!.bill[cell]!]!.tariff;
      const sell = exportScheme === 'paid' ? prices!.sell[cell]! : 0;
      const income = sell === sell ? run.exportW[i]! * sell : 0;
      cost += (run.importW[i]! * prices!.buy[cell]! - income) * (1 + taxShare);
    }
    return (cost * hours) / 1000;
  };
  const cost =
    prices === null
      ? NaN
      : costOf(charged, begin, 0) + costOf(after, moment, 0) - costOf(usual, from, begin - from);
  return {
    soc: socAt(moment),
    hours: (moment - begin) * hours,
    boughtKWh: charged.importKWh - usualKWh,
    cost,
  };
}
