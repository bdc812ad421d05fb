import type { Figure } from '../model/figure.js';
import { endMs } from '../model/log.js';
import type { Range } from '../model/range.js';
import { moneyAccount } from '../books/money/account.js';
import { moneyFigures } from '../books/money/moneyFigures.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import { report } from '../report/report.js';
import { meanImportRate } from '../system/tariffs.js';

const DAY_MS = 86_400_000;
/** So much before and after a change is set side by side: a year, as far as there is one. */
const MOST_MS = 365 * DAY_MS;
const LEAST_MS = 14 * DAY_MS;

/** What is set side by side, in the order in which it is told. */
export const COMPARED = [
  'losses.idle.battery',
  'losses.idle.inverter',
  'losses.roundTrip.fullToFull',
  'losses.conversion.discharge',
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'money.savingPerYear',
  'money.pricePerKWh',
] as const;

/** One side of a change of the configuration. */
export interface ChangeSide extends Range {
  readonly figures: Readonly<Record<string, Figure>>;
  /** What the idle draws come to in a year, kWh, and at the mean import rate; null where not known. */
  readonly idleKWhAYear: number | null;
  readonly idleCostAYear: number | null;
}

/** A change of the configuration within a range, before and after. */
export interface ConfigurationChange {
  readonly atMs: number;
  readonly name: string;
  readonly before: ChangeSide;
  readonly after: ChangeSide;
}

/** The changes of the configuration in a range of which both sides have two weeks of log. */
export function configurationChanges(prepared: Prepared, range: Range): ConfigurationChange[] {
  const { configurations, log } = prepared;
  return configurations.flatMap(({ fromMs: atMs, toMs, name }, k) => {
    const earlier = configurations[k - 1];
    if (!earlier || atMs <= range.fromMs || atMs >= range.toMs) return [];
    const before = { fromMs: Math.max(earlier.fromMs, log.startMs, atMs - MOST_MS), toMs: atMs };
    const after = { fromMs: atMs, toMs: Math.min(toMs, endMs(log), atMs + MOST_MS) };
    return [before, after].some((side) => side.toMs - side.fromMs < LEAST_MS)
      ? []
      : [{ atMs, name, before: sideOf(prepared, before), after: sideOf(prepared, after) }];
  });
}

function sideOf(prepared: Prepared, range: Range): ChangeSide {
  const known = report(prepared, range, 'days').figures;
  const figures = prepared.system.tariffs ? { ...known, ...moneyOf(prepared, range, known) } : known;
  const draws = (['losses.idle.battery', 'losses.idle.inverter'] as const).flatMap(
    (key) => figures[key]?.value ?? [],
  );
  const idleKWhAYear = draws.length > 0 ? (draws.reduce((sum, watts) => sum + watts, 0) * 8766) / 1000 : null;
  const rate = meanImportRate(prepared.system, range.toMs - 1);
  return {
    ...range,
    figures: Object.fromEntries(
      COMPARED.flatMap((key) => (figures[key] ? [[key, figures[key]] as const] : [])),
    ),
    idleKWhAYear,
    idleCostAYear: idleKWhAYear !== null && rate !== null ? idleKWhAYear * rate : null,
  };
}

function moneyOf(
  prepared: Prepared,
  range: Range,
  known: Readonly<Record<string, Figure>>,
): Record<string, Figure> {
  const { system, columns } = prepared;
  const data = rangeDataOf(prepared, range);
  return moneyFigures(data, system, moneyAccount(data, system, columns), known);
}
