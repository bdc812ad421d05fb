import { signsOf, type BusColumns, type GridSign } from './busColumns.js';
import { busChannel } from '../import/merge/derive.js';
import { largestSize, stretchesBeyond } from '../model/blocks.js';
import { cellAt, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';

/** What shows that the grid was down, the surest first. */
export type Evidence = GridSign['evidence'] | 'inferred' | 'journal';

/** A stretch without the grid. */
export interface Interruption extends Range {
  readonly evidence: Evidence;
  /** A test of the journal explains it: the home was taken off the grid on purpose. */
  readonly isPlanned: boolean;
  /** Logged, or inferred from what chance makes next to impossible. */
  readonly isSure: boolean;
}

/** The interruptions of a log, and how well it would show one. */
export interface Interruptions {
  readonly interruptions: readonly Interruption[];
  /** Share of the time in which an interruption would show: 1 where the grid's state is logged, 0 where nothing tells. */
  readonly seenShare: number;
}

/**
 * A grid of exactly zero tells something where it is rarer than this: with the battery at rest, discharging, charging. An
 * inverter that charges, or is about to, holds the grid at zero for a while, so its zeros come in runs and must be rarer.
 */
const RARE = [0.001, 0.05, 0.001] as const;
/** So much less likely than once in the whole log must a run of zeros be, in natural logarithms. */
const SURE = 7;
/** By so much more it is beyond doubt. */
const SURER = 5;
/** So much of a run must lie in states that tell something. */
const TELLING_SHARE = 0.4;
const PASSES = 3;
/** A battery below this share of its highest power is at rest. */
const AT_REST = 0.01;
/** Interruptions closer than so many intervals are one. */
const CLOSE = 2;

/**
 * Finds the interruptions of a grid: by the logged flag, voltage or frequency where there is one, else inferred from a
 * grid power of exactly zero where it otherwise never rests. A home without a grid has none.
 */
export function interruptionsOf(
  log: Log,
  columns: BusColumns,
  configurations: readonly Configuration[],
): Interruptions {
  const signs = signsOf(log);
  const { down, seenShare } =
    signs.length > 0 ? { down: loggedCells(signs, log.count), seenShare: 1 } : inferredCells(log, columns);
  for (const { hasGrid, fromMs, toMs } of configurations)
    if (!hasGrid) down.fill(0, cellAt(log, fromMs), cellAt(log, toMs));
  const interruptions = runsOf(down).map(({ from, to }): Interruption => {
    const sign = signs.find(({ values, below }) => values.subarray(from, to).some((value) => value < below));
    return {
      fromMs: log.startMs + from * log.stepMs,
      toMs: log.startMs + to * log.stepMs,
      evidence: sign?.evidence ?? 'inferred',
      isPlanned: false,
      isSure: down.subarray(from, to).includes(BEYOND_DOUBT),
    };
  });
  return { interruptions, seenShare };
}

/** How a cell without the grid is marked. */
const LIKELY = 1;
const BEYOND_DOUBT = 2;

function loggedCells(signs: readonly GridSign[], count: number): Uint8Array {
  const down = new Uint8Array(count);
  for (const { values, below } of signs)
    for (const { from, to } of stretchesBeyond(values, below, Infinity))
      for (let i = from; i < to; i++) if (values[i]! < below) down[i] = BEYOND_DOUBT;
  return down;
}

/** Runs of cells that are marked, those close together as one. */
function runsOf(down: Uint8Array): { from: number; to: number }[] {
  const runs: { from: number; to: number }[] = [];
  let [likely, sure] = [down.indexOf(LIKELY), down.indexOf(BEYOND_DOUBT)];
  while (likely >= 0 || sure >= 0) {
    const from = likely < 0 ? sure : sure < 0 ? likely : Math.min(likely, sure);
    let to = from + 1;
    while (to < down.length && down[to] !== 0) to++;
    const last = runs.at(-1);
    if (last && from - last.to < CLOSE) last.to = to;
    else runs.push({ from, to });
    if (likely >= 0 && likely < to) likely = down.indexOf(LIKELY, to);
    if (sure >= 0 && sure < to) sure = down.indexOf(BEYOND_DOUBT, to);
  }
  return runs;
}

/**
 * Cells in which the grid's power is exactly zero so long that chance does not explain it. How likely a zero is depends on
 * what the battery does: a charging battery often holds the grid at zero, so each state has its own likelihood, and only
 * states in which zeros are rare speak.
 */
function inferredCells(
  log: Log,
  { grid, battery, load }: BusColumns,
): { readonly down: Uint8Array; readonly seenShare: number } {
  let down = new Uint8Array(log.count);
  let seenShare = 0;
  const channel = busChannel(log.channels, 'grid');
  if (!grid || !load || channel?.origin !== 'logged') return { down, seenShare };
  const rest = AT_REST * (battery ? largestSize(battery) : 0);
  const stateOf = (i: number) => {
    const power = battery ? battery[i]! : 0;
    return power > rest ? 1 : power < -rest ? 2 : 0;
  };
  const enough = Math.log(Math.max(2, log.count)) + SURE;
  // What is found is left out when the likelihoods are taken again, so that a long outage does not hide a short one.
  for (let pass = 0; pass < PASSES; pass++) {
    const zeros = [0, 0, 0];
    const all = [0, 0, 0];
    for (let i = 0; i < log.count; i++) {
      if (grid[i] !== grid[i] || down[i] !== 0) continue;
      const state = stateOf(i);
      all[state]!++;
      if (grid[i] === 0) zeros[state]!++;
    }
    const weight = all.map((count, state) => {
      const share = (zeros[state]! + 1) / (count + 2);
      return count > 0 && share < RARE[state]! ? -Math.log(share) : 0;
    });
    const known = all.reduce((sum, count) => sum + count, 0);
    seenShare =
      known > 0 ? all.reduce((sum, count, state) => sum + (weight[state]! > 0 ? count : 0), 0) / known : 0;
    down = new Uint8Array(log.count);
    for (let i = 0; i < log.count;) {
      if (grid[i] !== 0) {
        i++;
        continue;
      }
      let [to, score, telling, used, first, last] = [i, 0, 0, 0, -1, -1];
      for (; to < log.count && grid[to] === 0; to++) {
        const own = weight[stateOf(to)]!;
        if (load[to]! > 0) used++;
        if (own === 0) continue;
        score += own;
        telling++;
        if (first < 0) first = to;
        last = to;
      }
      if (score >= enough && used > 0) {
        // Where most of a run tells nothing, it counts from the first cell that does to the last: a usual rest may lie around them.
        const mark = score >= enough + SURER ? BEYOND_DOUBT : LIKELY;
        if (telling >= TELLING_SHARE * (to - i)) down.fill(mark, i, to);
        else if (telling >= TELLING_SHARE * (last + 1 - first)) down.fill(mark, first, last + 1);
      }
      i = to;
    }
  }
  return { down, seenShare };
}
