import { STATE_UNITS } from '../read/columns.js';
import type { Kind, Role } from '../read/mapping.js';
import { quantile } from '../../statistics/quantile.js';
import type { System } from '../../system/schema.js';
import type { Guess } from './guess.js';
import { known, type Sample } from './sample.js';
import { tellTotalFromStrings } from './strings.js';
import { stepOf, type TimeColumn } from './timeColumn.js';
import { LEAST_TOP_W, mostW, threeDigits, settleUnits, topW } from './units.js';
import { hintOf, isState, type Hint } from './words.js';

/** Fewer rows may rise by chance. */
const FEW_ROWS = 40;

/** Takes each column for what its name and its values say together. */
export function guessColumns(sample: Sample, time: TimeColumn, system: System | null): Guess[] {
  const stepMs = time.untilMs ? periodOf(time.readings, time.untilMs) : stepOf(time.readings);
  const guesses: Guess[] = [];
  sample.names.forEach((name, field) => {
    if (time.fields.includes(field)) return;
    const values = sample.numbers[field]!;
    const filled = sample.cells[field]!.filter((cell) => cell !== '').length;
    const numbers = known(values).length;
    if (numbers === 0 || numbers < 0.3 * filled) return;
    const hint = hintOf(name, sample.units[field]!);
    const role = hint.role ?? roleByCourse(values, time, hint);
    if (!role) return;
    if (hint.role === null) {
      guesses.push(unnamed(field, name, role, hint));
    } else {
      const isCents = hint.unit === 'cents/kWh';
      const unit = isCents ? hint.unit : (STATE_UNITS[role] ?? hint.unit ?? 'W');
      guesses.push({
        field,
        name,
        role,
        unit,
        kind: isState(role) ? 'state' : 'power',
        sign: 1,
        sample: hint.sample ?? 'mean',
        hint,
        evidence: [`its name "${name}"`],
        alternatives: [],
        confidence: 0.9,
        asks: false,
      });
    }
  });
  for (const guess of guesses) {
    const values = sample.numbers[guess.field]!;
    if (guess.kind === 'state') settleState(guess, values);
    else settleKind(guess, values, time, stepMs, mostW(system));
  }
  settleFewRows(guesses);
  settleUnits(guesses, sample, stepMs, mostW(system));
  askLoneUsage(guesses);
  tellTotalFromStrings(guesses, sample);
  return guesses;
}

/** A utility calls what it delivered usage or consumption; of a home with panels that is import, not load. */
function askLoneUsage(guesses: readonly Guess[]): void {
  const flows = guesses.filter(({ kind }) => kind !== 'state');
  const [only] = flows;
  if (!only || flows.length > 1 || only.role !== 'load' || only.kind === 'power') return;
  only.asks = true;
  only.confidence = Math.min(only.confidence, 0.5);
  only.evidence.push('it stands alone: it may be what the home used, or what the grid delivered to it');
  only.alternatives.push({ says: 'import, as a utility counts it', set: { quantity: 'import' } });
}

/** Columns of one file are of one kind: beside energies of each interval a few rising values are energies too. */
function settleFewRows(guesses: readonly Guess[]): void {
  if (!guesses.some(({ kind }) => kind === 'energy')) return;
  for (const guess of guesses) {
    if (!guess.asks || !guess.alternatives.some(({ set }) => set['kind'] === 'energy')) continue;
    guess.kind = 'energy';
    guess.asks = false;
    guess.confidence = 0.8;
    guess.alternatives.length = 0;
    guess.evidence.push('the other columns of the file are energies of each interval');
  }
}

/** The usual length of periods, ms. */
function periodOf(fromMs: Float64Array, untilMs: Float64Array): number {
  const lengths = known(untilMs.map((until, i) => until - fromMs[i]!));
  return lengths[lengths.length >> 1] ?? 86_400_000;
}

function unnamed(field: number, name: string, role: Role, hint: Hint): Guess {
  const says =
    role === 'soc' ? 'it runs between 0 and 100 without leaps' : 'it is zero at night and rises by day';
  return {
    field,
    name,
    role,
    unit: STATE_UNITS[role] ?? hint.unit ?? 'W',
    kind: isState(role) ? 'state' : 'power',
    sign: 1,
    sample: hint.sample ?? 'mean',
    hint,
    evidence: [`its name says nothing that is known, but ${says}`],
    alternatives: [{ says: 'leave it in the file', set: { quantity: 'none' } }],
    confidence: 0.5,
    asks: true,
  };
}

/** A column whose name says nothing: a state of charge or solar by its course, else nothing. */
function roleByCourse(values: Float64Array, { readings }: TimeColumn, { unit }: Hint): Role | null {
  const all = known(values);
  const [low, high] = [all[0]!, all.at(-1)!];
  let steps = 0;
  for (let i = 1; i < values.length; i++) steps = Math.max(steps, Math.abs(values[i]! - values[i - 1]!) || 0);
  const span = (readings.at(-1)! - readings[0]!) / 86_400_000;
  if (unit !== null && unit !== '%' && unit !== 'W' && unit !== 'kW') return null;
  if (
    (unit === '%' || unit === null) &&
    low >= 0 &&
    high <= 100 &&
    high - low > 15 &&
    high > 30 &&
    steps <= 15
  )
    return 'soc';
  const zeros = all.filter((value) => value === 0).length / all.length;
  const restless = all.filter((value) => value > 0.05 * high).length / all.length;
  const isPowerCourse = Math.abs(span) >= 2 && low >= 0 && zeros > 0.3 && zeros < 0.75 && restless > 0.15;
  return isPowerCourse && zeroInOneStretch(values) && unit !== '%' ? 'solar' : null;
}

/** True when zeros stand in long stretches, as nights do. */
function zeroInOneStretch(values: Float64Array): boolean {
  let changes = 0;
  let zeros = 0;
  for (let i = 1; i < values.length; i++) {
    if ((values[i] === 0) !== (values[i - 1] === 0)) changes++;
    if (values[i] === 0) zeros++;
  }
  return changes > 0 && zeros / changes > 5;
}

function settleState(guess: Guess, values: Float64Array): void {
  const all = known(values);
  const high = all.at(-1)!;
  if (guess.role === 'soc') {
    const isShare = high <= 1.0001 && guess.hint.unit !== '%';
    guess.unit = isShare ? 'share' : '%';
    guess.evidence.push(`its values run from ${threeDigits(all[0]!)} to ${threeDigits(high)}`);
    if (high > 1.0001 && high <= 2) guess.asks = true;
  } else if (guess.unit === '°C') {
    const middle = quantile(all, 0.5);
    // Cold rooms and summer roofs: a median above 45 is Fahrenheit wherever people live.
    const isFahrenheit = guess.hint.unit === '°F' || (guess.hint.unit === null && middle > 45);
    guess.unit = isFahrenheit ? '°F' : '°C';
    guess.evidence.push(`its middle value is ${threeDigits(middle)}`);
  }
}

function settleKind(
  guess: Guess,
  values: Float64Array,
  time: TimeColumn,
  stepMs: number,
  highestW: number,
): void {
  const { hint } = guess;
  // Energies of months that happen to grow are no counter.
  const course = time.untilMs ? 'free' : courseOf(values, time.readings);
  if (course === 'rising' || course === 'rising by day') {
    const kind = course === 'rising' ? 'counter' : 'daily-counter';
    if (hint.unit === 'W' || hint.unit === 'kW') {
      guess.evidence.push('it only rises, although its unit is one of power');
      guess.kind = 'power';
      guess.confidence = 0.6;
      return;
    }
    guess.kind = kind;
    guess.unit = hint.unit ?? 'kWh';
    if (known(values).length < FEW_ROWS && hint.kind !== kind) {
      // A few rising values may be the energies of days that happened to grow.
      const fits = (as: Kind) => {
        const top = topW(guess, guess.unit, as, values, stepMs);
        return top >= LEAST_TOP_W && top <= highestW;
      };
      if (fits('energy') && !fits(kind)) {
        guess.kind = 'energy';
        guess.evidence.push('its values are of the size of the energy of each interval');
        return;
      }
      if (fits('energy')) {
        guess.asks = true;
        guess.confidence = 0.5;
        guess.evidence.push('these few values only rise: they may be a counter or energies of each interval');
        guess.alternatives.push({
          says: `the energy of each interval in ${guess.unit}`,
          set: { kind: 'energy' },
        });
        return;
      }
    }
    guess.evidence.push(
      kind === 'counter' ? 'it never falls' : 'it starts anew each day and never falls in between',
    );
    return;
  }
  if (hint.unit?.endsWith('Wh')) {
    guess.kind = hint.kind === 'counter' && stepMs >= 3_600_000 ? 'counter' : 'energy';
    guess.evidence.push('its unit is one of energy and it rises and falls: the energy of each interval');
  } else if (hint.unit) {
    guess.evidence.push(`its unit, ${hint.unit}`);
  }
}

/** Whether values only rise, only rise within each day, or go up and down. */
function courseOf(values: Float64Array, readings: Float64Array): 'rising' | 'rising by day' | 'free' {
  let rises = 0;
  let falls = 0;
  let fallsAtNewDay = 0;
  let last = NaN;
  let lastDay = NaN;
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (Number.isNaN(value)) continue;
    // A reset is written some minutes late now and then.
    const day = Math.floor((readings[i]! - 1_200_000) / 86_400_000);
    if (value > last) rises++;
    if (value < last) {
      falls++;
      if (day !== lastDay || value < 0.2 * last) fallsAtNewDay++;
    }
    last = value;
    lastDay = day;
  }
  if (rises < 2 || values.some((value) => value < 0)) return 'free';
  if (falls <= 0.005 * rises + (rises > 50 ? 1 : 0))
    return falls === fallsAtNewDay && falls > 0 ? 'rising by day' : 'rising';
  return falls <= 0.2 * rises && fallsAtNewDay >= 0.9 * falls ? 'rising by day' : 'free';
}
