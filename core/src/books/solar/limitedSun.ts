import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import { flowColumns } from '../../passes/busColumns.js';
import { isOnDc } from '../../passes/bypass.js';
import { ranked } from '../../statistics/median.js';
import type { Configuration } from '../../system/configuration.js';

/** What keeps solar below what the sun would give. */
export const LIMITS = ['none', 'clipped', 'full', 'export-limit', 'frequency', 'island'] as const;
export type SunLimit = (typeof LIMITS)[number];
const CODE = Object.fromEntries(LIMITS.map((limit, code) => [limit, code])) as Record<SunLimit, number>;

/** A power within this share of a limit stands at it. */
const AT_LIMIT = 0.985;
const FULL_SOC = 0.97;
/** A full battery takes or gives less than this share of its rating. */
const STILL = 0.03;
/** A grid that gives or takes less than this, W, is not used; a home that never sells more sells nothing. */
const UNUSED_W = 60;
export const SUN_W = 50;
/** A battery that takes less is only kept full, W. */
const STILL_W = 30;
/** An island's frequency this far above its usual one asks solar inverters to give less. */
export const RAISED_HZ = 0.25;
/**
 * A flat top that nobody describes: among the highest readings far more lie at the top than in as wide a band below it. The
 * round top of a clear noon has three times as many there.
 */
const FLAT = { half: 0.006, below: [0.97, 0.982], least: 40, denser: 8 } as const;

/** Where solar stood at a limit. */
export interface LimitedSun {
  /** Of each cell of the range, an index into {@link LIMITS}. */
  readonly codes: Uint8Array;
  readonly fromCell: number;
  /** What a battery on the DC side took while the inverter stood at its AC limit, Wh; NaN where it cannot be told. */
  readonly dcGainWh: number;
  /** Hours in which the inverter stood at its AC limit while the battery charged. */
  readonly gainH: number;
  /** Why nothing is told of clipping; null where it can be. */
  readonly noClipping: string | null;
}

/**
 * Marks the cells of a range in which solar stood at a limit: at the inverter's AC rating for two steps or more, behind a
 * full battery without a way out, at the limit of export, or in an island.
 * @param outages stretches without the grid
 * @param efficiency of the inverter from DC to AC
 */
export function limitedSun(
  log: Log,
  configurations: readonly Configuration[],
  outages: readonly Range[],
  range: Range,
  efficiency: number,
): LimitedSun {
  const { solar, load, grid, battery, soc } = flowColumns(log);
  const fromCell = cellAt(log, range.fromMs);
  const end = cellAt(log, range.toMs);
  const codes = new Uint8Array(Math.max(0, end - fromCell));
  const hours = log.stepMs / 3_600_000;
  const islandHz = log.channels.get('islandHz')?.values;
  const isSold = grid !== null && sells(grid);
  let [dcGainWh, gained, canTellGain] = [0, 0, false];
  let noClipping: string | null =
    'No rating is described that solar meets, and solar shows no flat top. The inverter’s rating, or inverterKW of arrays with an inverter of their own, in the system file would supply it.';
  if (!solar) return { codes, fromCell, dcGainWh: NaN, gainH: 0, noClipping };
  const isDown = downCells(log, outages);
  for (const configuration of configurations) {
    const from = cellAt(log, Math.max(range.fromMs, configuration.fromMs));
    const to = cellAt(log, Math.min(range.toMs, configuration.toMs));
    if (from >= to) continue;
    const { described, hasGrid } = configuration;
    const isDc = isOnDc(log, configuration);
    const acLimitW = isDc ? configuration.limits.continuousW : arrayLimit(configuration);
    const flatW = acLimitW ?? flatTop(solar, from, to);
    if (flatW !== null) noClipping = null;
    const ratingW = configuration.maxChargeW ?? (configuration.nameplateWh ?? 10_000) / 2;
    const exportLimitW = described?.exportLimitKW === undefined ? null : described.exportLimitKW * 1000;
    const usualHz = islandHz ? usualFrequency(islandHz, from, to) : NaN;
    const canSell = hasGrid && (exportLimitW === null ? isSold : exportLimitW > UNUSED_W);
    if (isDc && acLimitW !== null && battery && load && grid) canTellGain = true;
    for (let i = from; i < to; i++) {
      const sun = solar[i]!;
      if (!(sun > SUN_W)) continue;
      const charge = battery ? -battery[i]! : NaN;
      const isFull = soc ? soc[i]! >= FULL_SOC && !(charge > 2 * STILL * ratingW) : false;
      const isAtRest = Math.abs(charge) <= STILL * ratingW;
      const isIsland = !hasGrid || isDown(i);
      // What the inverter passes to the home and the grid, or, behind its own inverter, what the arrays give.
      const passed = isDc ? (load && grid ? load[i]! - grid[i]! : NaN) : sun;
      if (flatW !== null && (isDc && acLimitW !== null ? passed : sun) >= AT_LIMIT * flatW) {
        if (isDc && acLimitW !== null && charge > STILL_W) {
          dcGainWh += Math.min(charge, Math.max(0, sun - flatW / efficiency)) * hours;
          gained++;
        }
        // A battery on the DC side takes what the inverter cannot pass, as long as it may.
        const isTaking = isDc && acLimitW !== null && charge > STILL * ratingW && charge < AT_LIMIT * ratingW;
        if (!isTaking) codes[i - fromCell] = CODE.clipped;
        continue;
      }
      if (islandHz && islandHz[i]! > usualHz + RAISED_HZ && (isIsland || isFull)) {
        codes[i - fromCell] = CODE.frequency;
        continue;
      }
      const given = grid ? grid[i]! : 0;
      const isAtExport =
        exportLimitW !== null && exportLimitW > UNUSED_W && -given >= AT_LIMIT * exportLimitW;
      // A battery that could take more would: full or not, it is at its own limit then.
      if (isAtExport && !isIsland && !(charge < -STILL * ratingW)) codes[i - fromCell] = CODE['export-limit'];
      if (!isFull || !isAtRest) continue;
      if (isIsland) codes[i - fromCell] = CODE.island;
      else if (!canSell && Math.abs(given) < UNUSED_W) codes[i - fromCell] = CODE.full;
    }
  }
  withoutSingle(codes, CODE.clipped);
  widened(codes);
  return { codes, fromCell, dcGainWh: canTellGain ? dcGainWh : NaN, gainH: gained * hours, noClipping };
}

/** Whether a grid takes more at any time than one that sells nothing. */
function sells(grid: Float64Array): boolean {
  for (let i = 0; i < grid.length; i++) if (grid[i]! < -2 * UNUSED_W) return true;
  return false;
}

/** A flat top lasts two steps or more: one alone is a passing edge. */
function withoutSingle(codes: Uint8Array, code: number): void {
  for (let i = 0; i < codes.length; i++)
    if (codes[i] === code && codes[i - 1] !== code && codes[i + 1] !== code) codes[i] = CODE.none;
}

/** A limit begins and ends within a step: the steps beside one that stood at it may have done so for a part of their time. */
function widened(codes: Uint8Array): void {
  const before = codes.slice();
  for (let i = 0; i < codes.length; i++)
    if (before[i] === CODE.none) codes[i] = before[i - 1] || before[i + 1] || CODE.none;
}

/** AC rating of the arrays' own inverters, W; null unless each is described. */
function arrayLimit({ described }: Configuration): number | null {
  const arrays = described?.arrays ?? [];
  if (arrays.length === 0 || arrays.some(({ inverterKW }) => inverterKW === undefined)) return null;
  return arrays.reduce((sum, { inverterKW }) => sum + inverterKW! * 1000, 0);
}

/** The power at which the highest readings of a part of the log lie flat, W; null where they do not. */
export function flatTop(solar: Float64Array, first: number, end: number): number | null {
  const shining = above(SUN_W, solar, first, end);
  if (shining.length === 0) return null;
  // The highest alone may be a moment of bright clouds' edges.
  const high = ranked(shining, Math.floor(0.999 * (shining.length - 1)));
  const within = (from: number, to: number) => {
    const [least, most] = [from * high, to * high];
    let count = 0;
    for (let i = 0; i < shining.length; i++) if (shining[i]! >= least && shining[i]! <= most) count++;
    return count;
  };
  const atTop = within(1 - FLAT.half, 1 + FLAT.half);
  return atTop >= FLAT.least && atTop >= FLAT.denser * within(...FLAT.below) ? high : null;
}

/** What of some cells is above a bound, in their order. */
function above(bound: number, values: Float64Array, first: number, end: number): Float64Array {
  const kept = new Float64Array(end - first);
  let count = 0;
  for (let i = first; i < end; i++) if (values[i]! > bound) kept[count++] = values[i]!;
  return kept.subarray(0, count);
}

/** The frequency at which grids and islands at rest run where the values were logged, Hz. */
export function usualFrequency(values: Float64Array, from: number, to: number): number {
  const known = above(10, values, from, to);
  const middle = known.length > 0 ? ranked(known, known.length >> 1) : NaN;
  return middle > 55 ? 60 : 50;
}

function downCells(log: Log, outages: readonly Range[]): (cell: number) => boolean {
  const down = new Uint8Array(log.count);
  for (const { fromMs, toMs } of outages) down.fill(1, cellAt(log, fromMs), cellAt(log, toMs));
  return (cell) => down[cell] === 1;
}
