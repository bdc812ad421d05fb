import type { RawColumn, TableColumn } from '../read/table.js';
import type { Role } from '../read/mapping.js';
import type { Counter, UnshapedEnergy } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import { socSign } from './socSign.js';
import { GAP_STEPS } from './counterPower.js';
import type { Course, Say } from './rows.js';

/** Utility meters keep quarter hours or longer. */
const METER_STEP_MS = 15 * 60_000;

/** Sum of the columns of one flow, by row; NaN where one of them is missing. */
export function summed(columns: readonly RawColumn[]): Course | null {
  const [first, ...more] = columns;
  if (!first) return null;
  const values = more.length === 0 ? first.values : first.values.slice();
  for (const { values: other } of more) for (let i = 0; i < values.length; i++) values[i]! += other[i]!;
  return { values, resolution: Math.max(...columns.map(({ resolution }) => resolution)) };
}

/** Import less export, discharge less charge. Import may stand alone, which is said; one way of a battery may not. */
export function netOf(
  plus: Course | undefined,
  minus: Course | undefined,
  quantity: Quantity,
  say: Say,
): Course | null {
  if (plus && minus) {
    return {
      values: plus.values.map((value, i) => value - minus.values[i]!),
      resolution: Math.max(plus.resolution, minus.resolution),
      ...counterOf([plus, minus]),
    };
  }
  if (quantity === 'solar' || quantity === 'load') return plus ?? null;
  if (!plus && !minus) return null;
  if (quantity === 'grid' && plus) {
    say(
      'no-export',
      'warning',
      'The file has import but no export: export is taken as none. If the home feeds in, bring that column too.',
    );
    return plus;
  }
  const [has, lacks] = plus
    ? ['discharge', 'charge']
    : quantity === 'grid'
      ? ['export', 'import']
      : ['charge', 'discharge'];
  say(
    'one-direction',
    'warning',
    `The file has ${has} but no ${lacks}: the ${quantity} cannot be worked out from one of them, and it is not used.`,
  );
  return null;
}

/** The coarsest of the counters among columns, as a part of what is made of them. */
export function counterOf(columns: readonly { readonly counter?: Counter }[]): {
  readonly counter?: Counter;
} {
  const counters = columns.flatMap(({ counter }) => counter ?? []);
  if (counters.length === 0) return {};
  const digitWh = Math.max(...counters.map((one) => one.digitWh));
  return { counter: { digitWh, isDaily: counters.some(({ isDaily }) => isDaily) } };
}

/** A file with nothing but import and export in long steps is a utility meter's: its energies lead the totals. */
export function meterEnergies(
  source: string,
  timeMs: Float64Array,
  powers: ReadonlyMap<Role, Course>,
  stepMs: number,
  marks: 'start' | 'end',
): UnshapedEnergy[] {
  const flows = (['import', 'export'] as const).filter((flow) => powers.has(flow));
  if (stepMs < METER_STEP_MS || flows.length !== powers.size) return [];
  const shift = marks === 'end' ? -stepMs : 0;
  return flows.flatMap((flow) => {
    const { values } = powers.get(flow)!;
    const lumps: UnshapedEnergy[] = [];
    values.forEach((watts, i) => {
      if (Number.isNaN(watts)) return;
      const fromMs = timeMs[i]! + shift;
      lumps.push({
        flow,
        source,
        fromMs,
        toMs: fromMs + stepMs,
        wh: (watts * stepMs) / 3_600_000,
        leads: true,
      });
    });
    return lumps;
  });
}

/**
 * Battery power from voltage × current where the file has no power of the battery. A shunt may count charging as positive:
 * where the state of charge is logged beside it, that tells.
 */
export function batteryDcFromCurrent(placed: TableColumn[]): void {
  const of = (quantity: Quantity) => placed.find((column) => column.quantity === quantity);
  const volts = of('batteryV');
  const amps = of('batteryA');
  if (!volts || !amps || of('battery') || of('batteryDc')) return;
  const typical = volts.values.find((value) => value > 0) ?? 0;
  const watts = amps.values.map((a, i) => a * volts.values[i]!);
  const soc = of('soc');
  const isTurned = soc !== undefined && socSign(watts, soc.values) === -1;
  placed.push({
    quantity: 'batteryDc',
    values: isTurned ? watts.map((value) => -value) : watts,
    resolution: amps.resolution * typical,
  });
}

/** Means over each interval of samples at its ends, by the trapezoid between neighbours no more than three steps apart. */
export function meansOfSamples(
  timeMs: Float64Array,
  values: Float64Array,
  stepMs: number,
  marks: 'start' | 'end',
): Float64Array {
  const other = marks === 'start' ? 1 : -1;
  return values.map((value, i) => {
    const k = i + other;
    const near = k >= 0 && k < values.length && Math.abs(timeMs[k]! - timeMs[i]!) <= 3 * stepMs;
    return near && !Number.isNaN(values[k]!) ? (value + values[k]!) / 2 : value;
  });
}

/** States moved to the row that begins where this one's label stands. */
export function shifted(timeMs: Float64Array, values: Float64Array, stepMs: number): Float64Array {
  // Row i starts one step before its label, where row i − 1 had its own.
  return values.map((_, i) =>
    i > 0 && timeMs[i]! - timeMs[i - 1]! <= GAP_STEPS * stepMs ? values[i - 1]! : NaN,
  );
}
