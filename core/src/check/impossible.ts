import type { Correction } from '../model/correction.js';
import type { Finding } from '../model/finding.js';
import { stretchesBeyond } from '../model/blocks.js';
import { endMs, type Column, type SourceLog, type UnshapedEnergy } from '../model/log.js';
import { isPower, quantityText, type Quantity } from '../model/quantity.js';
import { median } from '../statistics/median.js';
import { sampledSizes } from './sampledSizes.js';
import { quantileOf } from '../statistics/quantile.js';
import type { Configuration } from '../system/configuration.js';
import { siteTimeOf, zoneOf } from '../time/zone.js';

/** Beyond so many times the largest flow that the description allows a value is impossible … */
const TIMES_LIMIT = 2;
/** … and where nothing is described beyond so many times what 99.9 % of the values stay below … */
const TIMES_USUAL = 10;
const USUAL = 0.999;
/** … but never below this, W: a home without much use may still have a car charged. */
const LEAST_W = 12_000;
/** Where more of the values that flow are beyond it than this, the description or a unit is wrong, not the values. */
const MOST_SHARE = 0.01;
const FEW = 3;
/** Energies of days and months have no 99.9th percentile: so many times their median. */
const TIMES_MEDIAN = 20;

/** The most a quantity can be, W, and where that is from. */
interface Bound {
  readonly most: number;
  readonly why: string;
}

/**
 * A source without the values that no home like this one can have: they are missing in every figure, and told. A
 * correction of kind `keep` leaves those of a quantity in.
 * @param zone of the site, for the times told
 */
export function withoutImpossible(
  source: SourceLog,
  configurations: readonly Configuration[],
  corrections: readonly Correction[],
  zone: string,
): SourceLog {
  const own = configurations.filter(({ fromMs, toMs }) => fromMs < endMs(source) && toMs > source.startMs);
  const isKept = (quantity: Quantity) =>
    corrections.some(
      (one) =>
        one.kind === 'keep' &&
        one.quantity === quantity &&
        (one.source === null || one.source === source.name),
    );
  const findings: Finding[] = [];
  const columns = new Map(source.columns);
  for (const [quantity, column] of source.columns) {
    if (!isPower(quantity) || isKept(quantity)) continue;
    const bounds = boundsOf(quantity, column.values, own);
    const cells = beyond(column.values, bounds);
    if (cells.length === 0) continue;
    const values = column.values.slice();
    for (const cell of cells) values[cell] = NaN;
    columns.set(quantity, { ...column, values });
    findings.push(told(source, quantity, column, cells, bounds, zone));
  }
  const { lumps, taken } = withoutImpossibleEnergies(source, own, isKept);
  if (findings.length === 0 && taken.length === 0) return source;
  return {
    ...source,
    columns,
    lumps,
    findings: [...source.findings, ...findings, ...taken.map((lump) => toldEnergy(source, lump, zone))],
  };
}

/** Cells beyond the bounds; none where they are so many that the bounds are wrong. */
function beyond(values: Float64Array, [up, down]: readonly [Bound, Bound]): number[] {
  const [most, least] = [up.most, -down.most];
  const cells: number[] = [];
  for (const { from, to } of stretchesBeyond(values, least, most))
    for (let i = from; i < to; i++) if (values[i]! > most || values[i]! < least) cells.push(i);
  if (cells.length <= FEW) return cells;
  let flowing = 0;
  for (let i = 0; i < values.length; i++) if (values[i] !== 0 && values[i] === values[i]) flowing++;
  return cells.length <= Math.max(FEW, MOST_SHARE * flowing) ? cells : [];
}

/** The most a power can be in its positive and in its negative direction. */
function boundsOf(
  quantity: Quantity,
  values: Float64Array,
  configurations: readonly Configuration[],
): readonly [Bound, Bound] {
  const [up, down] = [
    describedMost(quantity, 1, configurations),
    describedMost(quantity, -1, configurations),
  ];
  if (up !== null && down !== null) return [boundOf(up), boundOf(down)];
  const most = Math.max(LEAST_W, TIMES_USUAL * usualTop(values));
  const usual = { most, why: 'more than ten times what 99.9 % of its values stay below' };
  return [up === null ? usual : boundOf(up), down === null ? usual : boundOf(down)];
}

function boundOf(mostW: number): Bound {
  return { most: TIMES_LIMIT * mostW, why: 'more than twice the most that the described home allows' };
}

/** The largest flow that the description of every configuration allows, W; null where one of them leaves it open. */
function describedMost(
  quantity: Quantity,
  sign: 1 | -1,
  configurations: readonly Configuration[],
): number | null {
  const each = configurations.map((one) => {
    const arrays = one.described?.arrays;
    const solarW = arrays ? arrays.reduce((sum, { kWp }) => sum + kWp * 1000, 0) : null;
    const batteryW =
      one.maxChargeW !== null && one.maxDischargeW !== null
        ? Math.max(one.maxChargeW, one.maxDischargeW)
        : null;
    if (quantity === 'solar') return solarW;
    if (quantity === 'battery' || quantity === 'batteryDc') return batteryW;
    if (quantity === 'grid' && sign === -1)
      return solarW !== null && batteryW !== null ? solarW + batteryW : null;
    if (quantity === 'load' && !one.hasGrid) return islandMost(one);
    return null;
  });
  return each.length === 0 || each.some((most) => most === null || most === 0)
    ? null
    : Math.max(...(each as number[]));
}

/** What the inverters of a home without a grid can give at most for a moment, W. */
function islandMost({ described, limits }: Configuration): number | null {
  const { units = 1, surgeKW } = described?.inverter ?? {};
  const ofOne = surgeKW === undefined ? limits.continuousW : surgeKW * 1000;
  return ofOne === null ? null : units * ofOne;
}

function usualTop(values: Float64Array): number {
  const sizes = sampledSizes(values);
  return sizes.length === 0 ? 0 : quantileOf(sizes, USUAL);
}

const WHOLE: Readonly<Partial<Record<UnshapedEnergy['flow'], readonly [Quantity, 1 | -1]>>> = {
  import: ['grid', 1],
  export: ['grid', -1],
  charge: ['battery', -1],
  discharge: ['battery', 1],
};

function withoutImpossibleEnergies(
  { lumps }: SourceLog,
  configurations: readonly Configuration[],
  isKept: (quantity: Quantity) => boolean,
): { lumps: readonly UnshapedEnergy[]; taken: UnshapedEnergy[] } {
  if (lumps.length === 0) return { lumps, taken: [] };
  const meanW = ({ fromMs, toMs, wh }: UnshapedEnergy) => (wh * 3_600_000) / (toMs - fromMs);
  const taken = [...new Set(lumps.map(({ flow }) => flow))].flatMap((flow) => {
    const [quantity, sign] = WHOLE[flow] ?? ([flow as Quantity, 1] as const);
    if (isKept(quantity)) return [];
    const own = lumps.filter((lump) => lump.flow === flow);
    const described = describedMost(quantity, sign, configurations);
    const usual = median(Float64Array.from(own, meanW));
    const most = described === null ? Math.max(LEAST_W, TIMES_MEDIAN * usual) : TIMES_LIMIT * described;
    const over = own.filter((lump) => meanW(lump) > most);
    return over.length <= Math.max(1, MOST_SHARE * own.length) && over.length < own.length ? over : [];
  });
  return { lumps: taken.length === 0 ? lumps : lumps.filter((lump) => !taken.includes(lump)), taken };
}

function told(
  source: SourceLog,
  quantity: Quantity,
  { values }: Column,
  cells: readonly number[],
  [up, down]: readonly [Bound, Bound],
  zone: string,
): Finding {
  const [first] = cells as [number];
  const at = (cell: number) => source.startMs + cell * source.stepMs;
  const { most, why } = values[first]! > 0 ? up : down;
  const line = source.firstLine === undefined ? '' : `, line ${source.firstLine + first}`;
  const wh = cells.reduce((sum, cell) => sum + (Math.abs(values[cell]!) * source.stepMs) / 3_600_000, 0);
  return {
    code: 'impossible-values',
    severity: 'warning',
    fromMs: at(first),
    toMs: at(cells.at(-1)! + 1),
    message: `${cells.length} ${cells.length === 1 ? 'value' : 'values'} of the ${quantityText(quantity)} in ${source.name} cannot be: the first is ${(values[first]! / 1000).toFixed(1)} kW at ${siteTimeOf(zoneOf(zone), at(first))}${line}, above ${(most / 1000).toFixed(1)} kW, ${why}. ${cells.length === 1 ? 'It counts' : 'They count'} as missing in every figure.`,
    source: source.name,
    kWh: wh / 1000,
    proposal: { kind: 'keep', source: source.name, quantity },
  };
}

function toldEnergy(source: SourceLog, { flow, fromMs, toMs, wh }: UnshapedEnergy, zone: string): Finding {
  const [quantity] = WHOLE[flow] ?? ([flow as Quantity, 1] as const);
  const kW = (wh * 3600) / (toMs - fromMs);
  return {
    code: 'impossible-values',
    severity: 'warning',
    fromMs,
    toMs,
    message: `${(wh / 1000).toFixed(1)} kWh of ${flow} from ${siteTimeOf(zoneOf(zone), fromMs)} in ${source.name} cannot be: that is ${kW.toFixed(1)} kW all that time. They count as missing in every figure.`,
    source: source.name,
    kWh: wh / 1000,
    proposal: { kind: 'keep', source: source.name, quantity },
  };
}
