import type { BusColumns } from './busColumns.js';
import { DARK_W } from './cutOffs.js';
import { cellAt, type Log } from '../model/log.js';
import { quantileOf } from '../statistics/quantile.js';
import type { Interruption } from './interruptions.js';

const HELD_SOC = 0.97;
/** Solar this far below that of the days around is held back. */
const HELD_SHARE = 0.7;
const NEIGHBOURS = 7;
const WORTH_WH = 200;

/** An interruption and what the home did in it; energies in Wh, SOC as shares, NaN where not logged. */
export interface Outage extends Interruption {
  readonly socStart: number;
  readonly socEnd: number;
  /** Lowest charge, and when, epoch ms; NaN where it is not logged. */
  readonly socLowest: number;
  readonly lowestMs: number;
  readonly loadWh: number;
  readonly solarWh: number;
  /** Discharge less charge. */
  readonly batteryWh: number;
  readonly peakW: number;
  /** Time without power in the home, s. */
  readonly unservedS: number;
  /** When the home first went dark, epoch ms; null where it never did. */
  readonly darkMs: number | null;
  /** When power came back to the home while the grid was still down, epoch ms; null where it never left or never came. */
  readonly restartMs: number | null;
  readonly heldBack: boolean;
}

/** Enters what happened in each interruption. */
export function outageLedger(
  log: Log,
  columns: BusColumns,
  interruptions: readonly Interruption[],
): Outage[] {
  const { load, solar, battery, soc } = columns;
  const hours = log.stepMs / 3_600_000;
  return interruptions.map((interruption) => {
    const [from, to] = [cellAt(log, interruption.fromMs), cellAt(log, interruption.toMs)];
    const sum = (values: Float64Array | null) => {
      if (!values) return NaN;
      let wh = 0;
      for (let i = from; i < to; i++) if (values[i] === values[i]) wh += values[i]! * hours;
      return wh;
    };
    let [peakW, dark, darkFrom, darkUntil] = [NaN, 0, -1, -1];
    for (let i = from; load && i < to; i++) {
      const power = load[i]!;
      if (power !== power) continue;
      if (!(power <= peakW)) peakW = power;
      if (power >= DARK_W) continue;
      if (dark++ === 0) darkFrom = i;
      darkUntil = i + 1;
    }
    return {
      ...interruption,
      socStart: soc ? first(soc, from, to) : NaN,
      socEnd: soc ? first(soc, Math.min(to, log.count - 1), from - 1) : NaN,
      ...lowest(log, soc, from, to),
      loadWh: sum(load),
      solarWh: sum(solar),
      batteryWh: sum(battery),
      peakW,
      unservedS: (dark * log.stepMs) / 1000,
      darkMs: dark > 0 ? log.startMs + darkFrom * log.stepMs : null,
      restartMs: dark > 0 && darkUntil < to ? log.startMs + darkUntil * log.stepMs : null,
      heldBack: isHeldBack(log, columns, from, to),
    };
  });
}

function lowest(log: Log, soc: Float64Array | null, from: number, to: number) {
  let at = -1;
  for (let i = from; soc && i <= Math.min(to, log.count - 1); i++)
    if (soc[i] === soc[i] && (at < 0 || soc[i]! < soc[at]!)) at = i;
  return at < 0
    ? { socLowest: NaN, lowestMs: NaN }
    : { socLowest: soc![at]!, lowestMs: log.startMs + at * log.stepMs };
}

/** The first value known from one cell towards another, which is left out. */
function first(values: Float64Array, from: number, to: number): number {
  const step = to > from ? 1 : -1;
  for (let i = from; i !== to; i += step)
    if (values[i] === values[i] && i >= 0 && i < values.length) return values[i]!;
  return NaN;
}

/** Whether solar stayed well below that of the days around while the battery was full. */
function isHeldBack(log: Log, { solar, soc }: BusColumns, from: number, to: number): boolean {
  if (!solar || !soc) return false;
  const day = Math.round(86_400_000 / log.stepMs);
  const hours = log.stepMs / 3_600_000;
  let [made, usual] = [0, 0];
  for (let i = from; i < to; i++) {
    if (!(soc[i]! >= HELD_SOC) || solar[i] !== solar[i]) continue;
    const around: number[] = [];
    for (let d = -NEIGHBOURS; d <= NEIGHBOURS; d++) {
      const value = solar[i + d * day];
      if (d !== 0 && value !== undefined && value === value) around.push(value);
    }
    if (around.length < NEIGHBOURS) continue;
    made += solar[i]! * hours;
    usual += quantileOf(Float64Array.from(around), 0.75) * hours;
  }
  return usual > WORTH_WH && made < HELD_SHARE * usual;
}
