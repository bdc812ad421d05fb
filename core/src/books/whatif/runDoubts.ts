import { cellAt } from '../../model/log.js';
import { channelOf } from '../../passes/rangeData.js';
import { lostSun } from '../solar/lostSun.js';
import { joiningOf } from '../shared/joining.js';
import { worthOfExport, type PriceSeries } from '../shared/priceSeries.js';
import type { ModelRun } from './modelRun.js';
import type { Change } from './scenarioFile.js';
import {
  KEYS,
  valuesOf,
  type Model,
  type Modelled,
  type Otherwise,
  type Values,
  type WhatifKey,
} from './scenarioValues.js';

/** How far a value may move: half-width of what is as likely either way, and what can only lie below or above. */
export interface Move {
  readonly half: number;
  /** 0 or less, and 0 or more. */
  readonly below: number;
  readonly above: number;
}

/** How far the figures of a run, and what they differ from the base by, may move. */
export interface Moves {
  readonly value: (key: WhatifKey) => Move;
  readonly difference: (key: WhatifKey) => Move;
}

/** Of what is known for certain. */
export const STILL: Move = { half: 0, below: 0, above: 0 };
/** Of what was held back or clipped where the log does not tell how much. */
const UNTOLD_SUN = 0.5;

/** How far one thing that is not known moves the figures; one that is `sided` shows the way in which they are off. */
interface Doubt {
  readonly moved: Values;
  readonly sided: boolean;
}

/**
 * What the figures of runs may be off by beside the capacity: gains of the meters of sun and load, sun that was rebuilt where
 * something held it back, what a step of the log hides ({@link joiningOf}), whether a battery draws on while it stands empty, where the log does not say that it does not, and below a
 * reserve that the home never had.
 * @param base the home as it is
 * @source The gains: classes of the meters
 */
export function runDoubts(
  model: Model,
  base: Modelled,
  baseValues: Values,
): (change: Change, modelled: Modelled, values: Values) => Moves {
  const least = leastSun(model);
  const baseRates = base.prices && meanRates(base.run, base.prices);
  // What the base pays for a kWh is near enough what a change of it does, unless it is the prices that change.
  const ratesOf = ({ run, prices }: Modelled) =>
    prices === base.prices ? baseRates : prices && meanRates(run, prices);
  const ofBase = lazily(() => doubtsOf(model, {}, base, baseValues, baseRates, least));
  return (change, modelled, values) => {
    const own =
      modelled === base
        ? ofBase
        : lazily(() => doubtsOf(model, change, modelled, values, ratesOf(modelled), least));
    return {
      value: (key) => moveOf(own(), (doubt) => doubt.moved[key]),
      difference: (key) => moveOf(own(), (doubt, k) => doubt.moved[key] - (ofBase()[k]?.moved[key] ?? 0)),
    };
  };
}

function lazily<T>(make: () => T): () => T {
  let made: T | null = null;
  return () => (made ??= make());
}

function moveOf(doubts: readonly Doubt[], by: (doubt: Doubt, k: number) => number): Move {
  return doubts.reduce<Move>((sum, doubt, k) => {
    const moved = by(doubt, k) || 0;
    return doubt.sided
      ? { ...sum, below: sum.below + Math.min(0, moved), above: sum.above + Math.max(0, moved) }
      : { ...sum, half: Math.hypot(sum.half, moved) };
  }, STILL);
}

/** What moves the figures of a change, in the same order for every change; the last only where it raises the reserve. */
function doubtsOf(
  model: Model,
  change: Change,
  modelled: Modelled,
  values: Values,
  rates: MeanRates | null,
  least: Float64Array | null,
): Doubt[] {
  const { data, inputs, home } = model;
  const { cells, hides } = joiningOf(inputs.stepMs);
  const runOf = model.joined(change, cells);
  const pricedOf = priced(modelled.run, values, rates);
  const valuesWith = (otherwise: Otherwise) => {
    const run = runOf(otherwise);
    return pricedOf(run.run, valuesOf(model, run, null));
  };
  const asItIs = valuesWith({});
  const beside = (otherwise: Otherwise, sided: boolean): Doubt => ({
    moved: movedBy(valuesWith(otherwise), asItIs, 1),
    sided,
  });
  const isUntold = home.hasGrid && !home.drawsBelowReserve && home.reserve <= home.cutOff;
  return [
    beside({ sunGain: 1 - data.accuracy.solar }, false),
    beside({ loadGain: 1 - data.accuracy.load }, false),
    ...(cells > 1 ? [{ moved: movedBy(values, asItIs, hides), sided: true }] : []),
    ...(least ? [beside({ solar: least }, false)] : []),
    ...(home.drawsWhenEmpty ? [beside({ drawsWhenEmpty: false }, true)] : []),
    ...(isUntold && modelled.home.reserve > home.reserve ? [beside({ drawsBelowReserve: true }, true)] : []),
  ];
}

function movedBy(values: Values, from: Values, times: number): Values {
  return Object.fromEntries(KEYS.map((key) => [key, times * (values[key] - from[key]) || 0])) as Values;
}

/** Values of a run beside this one with a bill that moves by mean rates. */
function priced(
  run: ModelRun,
  asItIs: Values,
  rates: MeanRates | null,
): (other: ModelRun, values: Values) => Values {
  const [bill, saving] = [asItIs['money.bill'], asItIs['money.saving']];
  if (!rates || Number.isNaN(bill)) return (_, values) => values;
  const { bought, sold } = rates;
  return (other, values) => {
    const moved =
      bill + bought * (other.importKWh - run.importKWh) - sold * (other.exportKWh - run.exportKWh);
    // A load that is read too high would have cost as much too much without the system.
    const without = ((saving + bill) * other.loadKWh) / run.loadKWh;
    return { ...values, 'money.bill': moved, 'money.saving': without - moved };
  };
}

/** What a kWh cost and earned in a run on average, tax included. */
interface MeanRates {
  readonly bought: number;
  readonly sold: number;
}

function meanRates({ importW, exportW }: ModelRun, prices: PriceSeries): MeanRates {
  let [cost, bought, earned, sold] = [0, 0, 0, 0];
  for (let k = 0; k < importW.length; k++) {
    const [taken, given, rate] = [importW[k]!, exportW[k]!, prices.buy[k]!];
    if (taken !== taken || rate !== rate) continue;
    const { taxShare = 0 } = prices.bills[prices.bill[k]!]!.tariff;
    cost += taken * rate * (1 + taxShare);
    bought += taken;
    earned += given * worthOfExport(prices, k);
    sold += given;
  }
  return { bought: bought > 0 ? cost / bought : 0, sold: sold > 0 ? earned / sold : 0 };
}

/**
 * The sun of the range at the foot of what was held back and clipped, W by cell; null where nothing was rebuilt.
 */
function leastSun({ data, system, inputs }: Model): Float64Array | null {
  const lost = lostSun(data, system);
  const made = channelOf(data, 'solar')?.values;
  if (!lost || !made) return null;
  const from = cellAt(data.log, data.range.fromMs);
  const parts = [lost.clipped, lost.heldBack];
  const whole = parts.reduce((sum, part) => sum + (part?.wh ?? 0), 0);
  const half = Math.hypot(...parts.map((part) => (part ? (part.high - part.low) / 2 : 0)));
  const isTold = parts.every((part) => part !== null);
  const off = !isTold || whole === 0 ? UNTOLD_SUN : Math.min(1, half / whole);
  const least = inputs.solar.map((watts, i) => {
    const own = Math.max(0, made[from + i]!);
    if (!(watts > own)) return watts;
    return watts - off * (watts - own);
  });
  return least.some((watts, i) => watts < inputs.solar[i]!) ? least : null;
}
