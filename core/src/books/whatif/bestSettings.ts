import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import { YEAR_MS } from '../../time/days.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { drawnBills } from '../money/drawnBills.js';
import { WHOLE_HOME } from '../outage/scenario.js';
import { reserveAdvice } from '../outage/scenarioOutcome.js';
import { foresightBill } from './foresight.js';
import { modelHome } from './modelHome.js';
import type { Change } from './scenarioFile.js';
import { outagesOf, survivalOf } from './scenarioSurvival.js';
import { modelOf, valuesOf, type Model, type Modelled, type Values } from './scenarioValues.js';

/** Charges to which a window may fill the battery; 0 stands for none. */
const TARGETS = [0, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1] as const;
/** A month is charged from the grid only where that saves more than this, in the home's currency. */
const WORTH = 0.01;
const ALL_DAY = { start: '00:00', end: '24:00' } as const;

/** What the home's own settings could save, and what of that a rule without foresight can have. */
export interface BestSettings {
  /** Hours of the day in which a kWh costs least; null where every hour costs the same. */
  readonly cheapHours: { readonly start: string; readonly end: string } | null;
  /** By month of the year, January first: least reserve for the wanted hours, and the charge to fill to by night; null for none. */
  readonly months: readonly { readonly reserve: number; readonly toSoc: number | null }[];
  /** The settings as a change that a scenario can hold. */
  readonly change: Change;
  /** Bills of the range without the standing charge: as modelled now, with the settings, and the least with perfect foresight. */
  readonly bill: number;
  readonly bestBill: number;
  readonly foresightBill: number | null;
  /** Share of possible outages of 12 and 24 hours that are carried, now and then. */
  readonly survive: readonly [now: readonly [number, number], then: readonly [number, number]];
}

/**
 * Reserve and night charging by month that make the bill least while an outage of so many hours is carried with such a
 * chance. Each month takes the charge that made its own bills least; months are tried apart, since a battery carries little
 * from one to the next.
 * @param hours that an outage should be carried, and the chance from 0 to 1
 * @throws InputError where the home cannot be modelled, has no grid or no prices
 */
export function bestSettings(prepared: Prepared, range: Range, hours: number, chance: number): BestSettings {
  const { system } = prepared;
  // A year is enough to try every month, and years tried together would hide one that differs.
  const own = { fromMs: Math.max(range.fromMs, range.toMs - YEAR_MS), toMs: range.toMs };
  const data = rangeDataOf(prepared, own);
  const home = modelHome(data);
  const refuse = (found: string, mend: string) => new InputError([{ where: system.name, found, mend }]);
  if (!home || !data.log.channels.has('load'))
    throw refuse('Load or battery are not known.', 'Describe the battery, and bring a log with the load.');
  if (!home.hasGrid) throw refuse('This home has no grid.', 'There is no bill to make smaller.');
  const model = modelOf(prepared, data, home);
  if (!model.prices) throw refuse('No tariff is described.', 'The System view takes one.');
  if (!model.starts)
    throw refuse('The log does not tell how long the battery lasts.', 'Bring load and state of charge.');
  const advice = reserveAdvice(model.starts, WHOLE_HOME, hours, chance);
  const reserves = advice.months.map((month) => {
    const wanted = month === 'none' ? 1 : (month ?? advice.all?.value ?? 1);
    return Math.min(1, Math.max(home.cutOff, Math.ceil(20 * wanted) / 20));
  });
  const cheapHours = cheapestHours(model);
  const trial = (toSoc: number): Change => ({
    battery: reserveChange(reserves, home.cutOff),
    chargeWindows: cheapHours && toSoc > 0 ? [{ ...cheapHours, toSoc }] : [],
  });
  const tried = (cheapHours ? TARGETS : [0]).map((toSoc) => ({
    toSoc,
    byMonth: billsByMonth(model, model.run(trial(toSoc))),
  }));
  const targets = Array.from({ length: 12 }, (_, month) => {
    const none = tried[0]!.byMonth[month]!;
    const best = tried.reduce((a, b) => (b.byMonth[month]! < a.byMonth[month]! - WORTH ? b : a));
    return best.toSoc > reserves[month]! && best.byMonth[month]! < none - WORTH ? best.toSoc : null;
  });
  const change: Change = {
    battery: reserveChange(reserves, home.cutOff),
    chargeWindows: cheapHours
      ? [...new Set(targets)].flatMap((toSoc) =>
          toSoc === null ? [] : [{ ...cheapHours, toSoc, months: monthsOf(targets, toSoc) }],
        )
      : [],
  };
  const [now, then] = [{}, change].map((one) => {
    const modelled = model.run(one);
    return valuesOf(model, modelled, survivalOf(outagesOf(model, modelled)));
  }) as [Values, Values];
  return {
    cheapHours,
    months: reserves.map((reserve, month) => ({ reserve, toSoc: targets[month]! })),
    change,
    bill: now['money.bill'],
    bestBill: then['money.bill'],
    foresightBill: foresightBill(model, reserves),
    survive: [
      [now['outage.survive.12h'], now['outage.survive.24h']],
      [then['outage.survive.12h'], then['outage.survive.24h']],
    ],
  };
}

function monthsOf<T>(values: readonly T[], wanted: T): number[] {
  return values.flatMap((value, month) => (value === wanted ? [month + 1] : []));
}

/** Reserves by month: the least of them all year, the others as windows of their months. */
function reserveChange(reserves: readonly number[], cutOff: number): NonNullable<Change['battery']> {
  const least = Math.max(cutOff, Math.min(...reserves));
  return {
    reserve: least,
    reserveWindows: [...new Set(reserves)]
      .filter((reserve) => reserve > least)
      .map((reserve) => ({ ...ALL_DAY, reserve, months: monthsOf(reserves, reserve) })),
  };
}

/** Bills by month of the year, January first; 0 for months that the range has not. */
function billsByMonth({ data }: Model, { run, prices }: Modelled): number[] {
  const zone = zoneOf(data.log.zone);
  const sums = Array.from({ length: 12 }, () => 0);
  for (const { fromMs, total } of drawnBills(data.log, prices!, { bought: run.importW, sold: run.exportW }))
    sums[new Date(fromMs + offsetAt(zone, fromMs)).getUTCMonth()]! += total;
  return sums;
}

/** The longest stretch of the day whose mean price lies at the lowest; null where none stands out. */
function cheapestHours({ data, inputs, prices }: Model): { start: string; end: string } | null {
  const zone = zoneOf(data.log.zone);
  const slots = Array.from({ length: 48 }, () => ({ sum: 0, count: 0 }));
  const { buy } = prices!;
  for (let k = 0; k < buy.length; k++) {
    if (buy[k] !== buy[k]) continue;
    const ms = inputs.startMs + k * inputs.stepMs;
    const slot = slots[Math.floor((ms + offsetAt(zone, ms)) / 1_800_000) % 48]!;
    slot.sum += buy[k]!;
    slot.count++;
  }
  const means = slots.map(({ sum, count }) => (count > 0 ? sum / count : Infinity));
  const [lowest, highest] = [Math.min(...means), Math.max(...means.filter(Number.isFinite))];
  if (!(highest > lowest * 1.02 + 1e-9)) return null;
  const isCheap = means.map((mean) => mean <= lowest + 0.15 * (highest - lowest));
  let [best, length] = [0, 0];
  for (let from = 0; from < 48; from++) {
    if (!isCheap[from] || isCheap[(from + 47) % 48]) continue;
    let own = 0;
    while (own < 48 && isCheap[(from + own) % 48]) own++;
    if (own > length) [best, length] = [from, own];
  }
  const clock = (slot: number) =>
    `${String(Math.floor((slot % 48) / 2)).padStart(2, '0')}:${slot % 2 === 1 ? '30' : '00'}`;
  return length === 0 ? null : { start: clock(best), end: clock(best + length) };
}
