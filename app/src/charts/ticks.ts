import { precisionFixed, type ScaleLinear } from 'd3';
import { decimal } from '../ui/format.js';

/** A round value on an axis, and how it is written. */
export interface AxisTick {
  readonly value: number;
  readonly text: string;
}

/**
 * Round values along an axis, written with as many decimals as tell neighbours apart.
 * @param count about so many
 * @param times what a value is multiplied by to be read: 100 for per cent, 0.001 for kW of W
 */
export function axisTicks(scale: ScaleLinear<number, number>, count: number, times = 1): AxisTick[] {
  const values = scale.ticks(count);
  const [first = 0, second = first + 1] = values;
  const digits = precisionFixed((second - first) * times);
  return values.map((value) => ({ value, text: decimal(value * times, digits) }));
}
