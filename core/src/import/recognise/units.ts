import { SCALES } from '../read/columns.js';
import type { FileUnit, Kind } from '../read/mapping.js';
import { quantile } from '../../statistics/quantile.js';
import type { System } from '../../system/schema.js';
import type { Guess } from './guess.js';
import { known, type Sample } from './sample.js';

/** The strongest flow of a home lies between a kettle and what a house connection carries. */
export const LEAST_TOP_W = 150;
const MOST_TOP_W = 45_000;
/** The strongest flow that a described home can have, W. */
export function mostW(system: System | null): number {
  const described = (system?.configurations ?? []).flatMap(({ inverter, arrays }) => [
    (inverter?.continuousKW ?? 0) * 1000 * (inverter?.units ?? 1),
    (arrays ?? []).reduce((sum, { kWp }) => sum + kWp * 1000, 0),
  ]);
  const most = Math.max(0, ...described);
  // The house connection may carry more than the inverter.
  return most > 0 ? Math.max(3 * most, 15_000) : MOST_TOP_W;
}

/** The upper end of a column's power in W, if its values were in a unit. */
export function topW(guess: Guess, unit: FileUnit, kind: Kind, values: Float64Array, stepMs: number): number {
  const hours = stepMs / 3_600_000;
  const size =
    kind === 'counter' || kind === 'daily-counter'
      ? known(values.slice(1).map((value, i) => Math.max(0, value - values[i]!)))
      : known(values.map(Math.abs));
  if (size.length === 0) return 0;
  const top = quantile(size, 0.995) * SCALES[unit];
  return kind === 'power' ? top : top / hours;
}

const UNIT_CHOICES: Readonly<Record<'power' | 'energy', readonly FileUnit[]>> = {
  power: ['W', 'kW', 'MW'],
  energy: ['Wh', 'kWh', 'MWh'],
};

/** Columns without a unit are of one unit together: the one that makes the home's strongest flow a plausible one. */
export function settleUnits(
  guesses: readonly Guess[],
  sample: Sample,
  stepMs: number,
  highestW: number,
): void {
  const flows = guesses.filter(({ kind }) => kind !== 'state');
  const valuesOf = ({ field }: Guess) => sample.numbers[field]!;
  const plausible = (top: number) => top >= LEAST_TOP_W && top <= highestW;
  const stated = flows.filter(({ hint }) => hint.unit !== null);
  const top = (list: readonly Guess[], unit?: FileUnit, kind?: Kind) =>
    Math.max(
      0,
      ...list.map((guess) => topW(guess, unit ?? guess.unit, kind ?? guess.kind, valuesOf(guess), stepMs)),
    );
  for (const unit of new Set(stated.map((guess) => guess.unit))) {
    const alike = stated.filter((guess) => guess.unit === unit);
    const found = top(alike);
    if (plausible(found) || found === 0) continue;
    // The name says one unit, the size another: that is asked.
    const kind = alike[0]!.kind === 'power' ? 'power' : 'energy';
    const better = UNIT_CHOICES[kind].filter((other) => other !== unit && plausible(top(alike, other)));
    if (better.length !== 1 || (found < LEAST_TOP_W && found > 0.2 * LEAST_TOP_W)) continue;
    for (const guess of alike) {
      guess.evidence.push(
        `its name says ${unit}, but then the strongest flow would be ${power(found)}; in ${better[0]!} it is ${power(top(alike, better[0]))}`,
      );
      guess.alternatives.push({ says: `${unit}, as named`, set: { unit } });
      guess.unit = better[0]!;
      guess.confidence = 0.5;
      guess.asks = true;
    }
  }
  const open = flows.filter(({ hint }) => hint.unit === null);
  const counters = open.filter(({ kind }) => kind !== 'power');
  const free = open.filter(({ kind }) => kind === 'power');
  settleGroup(
    counters,
    ['Wh', 'kWh', 'MWh'].map((unit) => ({ unit: unit as FileUnit, kind: null })),
    top,
    plausible,
  );
  const choices: readonly Choice[] = [
    { unit: 'W', kind: 'power' },
    { unit: 'kW', kind: 'power' },
    ...(free.every(({ hint }) => hint.kind === 'power')
      ? []
      : [{ unit: 'Wh', kind: 'energy' } as const, { unit: 'kWh', kind: 'energy' } as const]),
  ];
  settleGroup(free, choices, top, plausible);
}

interface Choice {
  readonly unit: FileUnit;
  readonly kind: Kind | null;
}

function settleGroup(
  group: readonly Guess[],
  choices: readonly Choice[],
  top: (list: readonly Guess[], unit?: FileUnit, kind?: Kind) => number,
  plausible: (top: number) => boolean,
): void {
  if (group.length === 0) return;
  const fits = choices
    .map((choice) => ({ ...choice, top: top(group, choice.unit, choice.kind ?? undefined) }))
    .filter((choice) => plausible(choice.top));
  const [best, rival] = fits;
  for (const guess of group) {
    if (!best) {
      guess.asks = true;
      guess.confidence = 0.3;
      guess.evidence.push('no unit is written, and none makes its size plausible');
      guess.alternatives.push(...choices.map(({ unit }) => ({ says: unit, set: { unit } })));
      continue;
    }
    guess.unit = best.unit;
    if (best.kind) guess.kind = best.kind;
    guess.evidence.push(`no unit is written; in ${best.unit} the strongest flow is ${power(best.top)}`);
    guess.confidence = rival ? 0.5 : 0.85;
    if (!rival) continue;
    guess.asks = true;
    guess.evidence.push(`in ${rival.unit} it would be ${power(rival.top)}, which is possible too`);
    for (const other of fits.slice(1))
      guess.alternatives.push({
        says: `${other.unit}: the strongest flow is ${power(other.top)}`,
        set: { unit: other.unit, ...(other.kind ? { kind: other.kind } : {}) },
      });
  }
}

function power(w: number): string {
  return w >= 1000 ? `${threeDigits(w / 1000)} kW` : `${threeDigits(w)} W`;
}

export function threeDigits(value: number): string {
  return String(Number(value.toPrecision(3)));
}
