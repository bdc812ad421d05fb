import {
  type Interpreted,
  doubledText,
  eachOnce,
  inOrder,
  isCounter,
  isFlow,
  sayer,
  type Course,
  type Rows,
  type Say,
} from './rows.js';
import { plural } from '../../model/counted.js';
import type { Finding } from '../../model/finding.js';
import { ONE_WAY, type Mapping, type Role } from '../read/mapping.js';
import type { RawColumn, RawTable, TableColumn } from '../read/table.js';
import type { UnshapedEnergy } from '../../model/log.js';
import { isAmount, isOfInterval, isPower, type Flow, type Quantity } from '../../model/quantity.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import { coarse, isCoarse, spansOf } from './coarse.js';
import { settleLines, type CounterLines } from './counterLines.js';
import { counterPower, fillFromLines } from './counterPower.js';
import { batteryDcFromCurrent, meansOfSamples, meterEnergies, netOf, shifted, summed } from './flows.js';
import { instantsOf } from './instants.js';
import { isSocAtEnd } from './socStamp.js';
import { findStep } from './step.js';
import { withoutStrays } from './strays.js';

/** Which flow feeds or drains a quantity of the log. */
const PAIRS: readonly (readonly [Quantity, plus: Role, minus: Role | null])[] = [
  ['solar', 'solar', null],
  ['load', 'load', null],
  ['grid', 'import', 'export'],
  ['battery', 'discharge', 'charge'],
  ['batteryDc', 'dischargeDc', 'chargeDc'],
];

/**
 * Reads raw rows as a mapping says: instants of the clock, starts of intervals, energies and counters as powers.
 * @param zone the site's zone, in which days begin
 */
export function interpret(raw: RawTable, { time }: Pick<Mapping, 'time'>, zone: string): Interpreted {
  const findings: Finding[] = [];
  const say = sayer(raw.name, findings);
  const ordered = withoutStrays(inOrder(instants(raw, time, zone, say), raw.columns), say);
  const plain = time.marks === 'start' && raw.columns.every(isPlain) && noneTwice(raw.columns);
  const apart = isCoarse(ordered.timeMs, raw.columns);
  if (plain && !apart) {
    const columns = ordered.columns.map(({ rule, ...column }): TableColumn => ({
      quantity: rule.quantity as Quantity,
      ...column,
    }));
    batteryDcFromCurrent(columns);
    settleSocStamp(ordered.timeMs, columns, say);
    return { table: { name: raw.name, timeMs: ordered.timeMs, columns }, lumps: [], findings };
  }
  const { rows, doubled } = eachOnce(ordered);
  if (doubled > 0) say('doubled-rows', 'warning', doubledText(doubled));
  const counted = raw.columns.some(({ rule }) => isCounter(rule.kind));
  return apart
    ? coarse(raw.name, rows, findings, say, spansOf(rows.timeMs, time.marks, zone))
    : fine(raw.name, rows, time.marks, counted, findings, say);
}

/** A file read as it stands: a power or state that the log holds under the same name. */
function isPlain({ rule }: RawColumn): boolean {
  const role = rule.quantity;
  const isOneWay = (ONE_WAY as readonly string[]).includes(role);
  return !isOneWay && rule.sample === 'mean' && (rule.kind === 'power' || rule.kind === 'state');
}

function noneTwice(columns: readonly RawColumn[]): boolean {
  return new Set(columns.map(({ rule }) => rule.quantity)).size === columns.length;
}

function instants(raw: RawTable, time: Mapping['time'], zone: string, say: Say): Float64Array {
  if (time.zone === 'offset' || time.format.startsWith('unix')) return raw.timeMs;
  const { timeMs, skipped, repeated } = instantsOf(raw.timeMs, time.zone);
  if (skipped.count > 0) {
    const at = siteTimeOf(zoneOf(zone), skipped.firstMs);
    say(
      'clock-skips-not',
      'warning',
      `${skipped.count} ${skipped.count === 1 ? 'row bears' : 'rows bear'} a time that a clock in ${time.zone} never shows (about ${at}, when it is put forward). The logger's clock may keep one time all year: then name its fixed offset as the zone of this file.`,
      skipped.firstMs,
    );
  }
  if (repeated > 0) {
    say(
      'clock-repeats',
      'note',
      `${plural(repeated, 'One row of an hour that the clock shows twice is taken for its', `${repeated} rows of an hour that the clock shows twice are taken for its`)} second showing.`,
    );
  }
  return timeMs;
}

/** Moves a state of charge that was stamped at the end of its interval to where the next one begins. */
function settleSocStamp(timeMs: Float64Array, columns: TableColumn[], say: Say): void {
  if (!isSocAtEnd(columns)) return;
  const { stepMs } = findStep(timeMs);
  const at = columns.findIndex(({ quantity }) => quantity === 'soc');
  columns[at] = { ...columns[at]!, values: shifted(timeMs, columns[at]!.values, stepMs) };
  say(
    'soc-at-end',
    'note',
    'The state of charge of each row changes with the power of that row, not of the one before: it is stamped at the end of its interval, and counts for the start of the next.',
  );
}

/** What a column of the log holds of a course, without what it was made from. */
function course({ values, resolution, counter }: Course): Course {
  return counter ? { values, resolution, counter } : { values, resolution };
}

function fine(
  name: string,
  { timeMs, columns }: Rows,
  marks: 'start' | 'end',
  hasCounters: boolean,
  findings: Finding[],
  say: Say,
): Interpreted {
  const { stepMs } = timeMs.length > 1 && timeMs[0] !== timeMs.at(-1) ? findStep(timeMs) : { stepMs: 60_000 };
  const hours = stepMs / 3_600_000;
  const placed: TableColumn[] = [];
  const lumps: UnshapedEnergy[] = [];
  const powers = new Map<Role, Course>();
  const lines = new Map<Flow, readonly CounterLines[]>();
  const roles = [...new Set(columns.map(({ rule }) => rule.quantity))];
  for (const role of roles) {
    const of = (kinds: readonly string[]) =>
      columns.filter(({ rule }) => rule.quantity === role && kinds.includes(rule.kind));
    const state = of(['state'])[0];
    if (state) {
      const { rule, ...column } = state;
      const quantity = rule.quantity as Quantity;
      const values = isAmount(quantity) ? column.values.map((value) => value / hours) : column.values;
      placed.push({ quantity, ...column, values });
    }
    const power = summed(of(['power']));
    const energy = summed(of(['energy']));
    const counters = of(['counter', 'daily-counter']);
    const means =
      power && of(['power'])[0]!.rule.sample === 'instant'
        ? { ...power, values: meansOfSamples(timeMs, power.values, stepMs, marks) }
        : power;
    const fromEnergy = energy && {
      values: energy.values.map((wh) => wh / hours),
      resolution: energy.resolution / hours,
    };
    const fromCounter = counters.length > 0 ? counterPower(timeMs, counters, stepMs, marks, say, role) : null;
    const leading = means ?? fromEnergy ?? fromCounter;
    if (leading) powers.set(role, leading);
    if (fromCounter?.lines && leading === fromCounter && isFlow(role)) lines.set(role, fromCounter.lines);
    if (fromCounter && isFlow(role))
      lumps.push(
        ...fromCounter.lumps(role, name, leading === fromCounter ? null : (leading?.values ?? null)),
      );
  }
  settleLines(lines, timeMs.length);
  for (const [flow, own] of lines) fillFromLines(powers.get(flow)!.values, own, timeMs, marks);
  lumps.push(...meterEnergies(name, timeMs, powers, stepMs, marks));
  for (const [quantity, plus, minus] of PAIRS) {
    const net = quantity === plus ? undefined : powers.get(quantity);
    const column = net ?? netOf(powers.get(plus), minus ? powers.get(minus) : undefined, quantity, say);
    if (column) placed.push({ ...course(column), quantity });
  }
  for (const [role, column] of powers) {
    if (isPower(role as Quantity) && !PAIRS.some(([quantity]) => role === quantity))
      placed.push({ ...course(column), quantity: role as Quantity });
  }
  batteryDcFromCurrent(placed);
  const starts = marks === 'end' ? timeMs.map((ms) => ms - stepMs) : timeMs;
  const states = marks === 'end' && placed.some(({ quantity }) => !isOfInterval(quantity));
  if (states) {
    // A state stands at its label: with labels at the end it belongs to the start of the next row.
    for (const [i, column] of placed.entries())
      if (!isOfInterval(column.quantity))
        placed[i] = { ...column, values: shifted(timeMs, column.values, stepMs) };
  }
  if (marks === 'start') settleSocStamp(timeMs, placed, say);
  if (hasCounters && timeMs.length > 0 && placed.length === 0)
    say('counter-only', 'note', 'The counters do not move in this file.');
  return { table: { name, timeMs: starts, columns: placed }, lumps, findings };
}
