import type { Finding } from '../../model/finding.js';
import { canonicalUnit } from '../read/columns.js';
import type { RawColumn } from '../read/table.js';
import type { UnshapedEnergy } from '../../model/log.js';
import { quantityText, type Quantity } from '../../model/quantity.js';
import { dayNumberAt, dayOf } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';
import type { NotedState } from './sparseStates.js';
import { followCounter } from './counter.js';
import { type Interpreted, isCounter, isFlow, type Rows, type Say } from './rows.js';

/** From this step on the shape of a day is lost: such rows give energies and nothing else. */
const COARSE_MS = 2 * 3_600_000;
/** A distance so many times the usual one is a hole. */
const LONGER = 1.5;

/** True when the rows keep no step that shows the course of a day; one row alone does not when it holds an energy. */
export function isCoarse(timeMs: Float64Array, columns: readonly RawColumn[]): boolean {
  const distances: number[] = [];
  for (let i = 1; i < Math.min(timeMs.length, 4000); i++) {
    const distance = Math.abs(timeMs[i]! - timeMs[i - 1]!);
    if (distance > 0) distances.push(distance);
  }
  distances.sort((a, b) => a - b);
  if (distances.length === 0) return columns.some(({ rule }) => rule.kind === 'energy');
  return distances[Math.floor(distances.length / 4)]! >= COARSE_MS;
}

/**
 * Daily and monthly totals, counters read by hand: energies between their times and nothing of their shape.
 * @param spans the stretch each row speaks of
 */
export function coarse(
  name: string,
  { timeMs, columns }: Rows,
  findings: Finding[],
  say: Say,
  spans: readonly (readonly [fromMs: number, toMs: number])[],
): Interpreted {
  const lumps: UnshapedEnergy[] = [];
  const unused: string[] = [];
  const states: NotedState[] = [];
  for (const { rule, values, resolution } of columns) {
    const { quantity, kind } = rule;
    if (kind === 'state') {
      states.push({ quantity: quantity as Quantity, timeMs, values, resolution });
    } else if (!isFlow(quantity)) {
      unused.push(quantity);
    } else if (isCounter(kind)) {
      const { risen } = followCounter(timeMs, values, resolution, kind === 'daily-counter');
      let last = -1;
      for (let i = 0; i < timeMs.length; i++) {
        if (Number.isNaN(risen[i]!)) continue;
        if (last >= 0)
          lumps.push({
            flow: quantity,
            source: name,
            fromMs: timeMs[last]!,
            toMs: timeMs[i]!,
            wh: risen[i]!,
          });
        last = i;
      }
    } else {
      spans.forEach(([fromMs, toMs], i) => {
        const wh = kind === 'energy' ? values[i]! : (values[i]! * (toMs - fromMs)) / 3_600_000;
        if (wh >= 0) lumps.push({ flow: quantity, source: name, fromMs, toMs, wh });
      });
    }
  }
  if (unused.length > 0) {
    say(
      'coarse-unused',
      'note',
      `The rows are too far apart to show a course: ${[...new Set(unused)].map((quantity) => `${quantityText(quantity as Quantity)} (${canonicalUnit(quantity as Quantity)})`).join(', ')} cannot be used.`,
    );
  }
  if (lumps.length > 0)
    say(
      'coarse',
      'note',
      'The energies of this file count in totals; how they were spread over the day is not known.',
    );
  return { table: { name, timeMs, columns: [] }, lumps, states, findings };
}

/** The stretch each coarse row speaks of: whole days or months of the site where the rows stand at their beginnings. */
export function spansOf(
  timeMs: Float64Array,
  marks: 'start' | 'end',
  zoneName: string,
): (readonly [number, number])[] {
  const zone = zoneOf(zoneName);
  const numbers = Array.from(timeMs, (ms) => dayNumberAt(zone, ms));
  const daily = timeMs.length < 2 || usual(numbers) === 1;
  const monthly = !daily && numbers.every((number) => dayOf(zone, number).date.endsWith('-01'));
  const distances = timeMs.slice(1).map((ms, i) => ms - timeMs[i]!);
  const usualMs = distances.slice().sort()[distances.length >> 1] ?? 86_400_000;
  // A row behind which others are missing speaks of its own time, not of theirs.
  const lasting = (i: number) => {
    const distance = distances[i] ?? usualMs;
    return distance > LONGER * usualMs ? usualMs : distance;
  };
  return Array.from(timeMs, (ms, i): readonly [number, number] => {
    if (monthly) {
      const { date } = dayOf(zone, numbers[i]!);
      const next = Date.UTC(+date.slice(0, 4), +date.slice(5, 7), 1) / 86_400_000;
      return [dayOf(zone, numbers[i]!).fromMs, dayOf(zone, next).fromMs];
    }
    if (daily) {
      const day = dayOf(
        zone,
        numbers[i]! - (marks === 'end' && ms === dayOf(zone, numbers[i]!).fromMs ? 1 : 0),
      );
      return [day.fromMs, day.toMs];
    }
    return marks === 'start' ? [ms, ms + lasting(i)] : [ms - lasting(i - 1), ms];
  });
}

function usual(numbers: readonly number[]): number {
  const counts = new Map<number, number>();
  for (let i = 1; i < numbers.length; i++) {
    const distance = numbers[i]! - numbers[i - 1]!;
    counts.set(distance, (counts.get(distance) ?? 0) + 1);
  }
  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? 0;
}
