import type { ScaleLinear } from 'd3';
import { decimal } from '../ui/format.js';

interface Props {
  readonly scale: ScaleLinear<number, number>;
  /** About so many lines. */
  readonly count: number;
  /** Where the lines begin and end; the numbers stand before their beginning. */
  readonly from: number;
  readonly to: number;
  readonly decimals: number;
}

/** The lines across a chart with their values, that of zero stronger. */
export function ValueAxis({ scale, count, from, to, decimals }: Props) {
  return scale.ticks(count).map((value) => (
    <g key={value}>
      <path d={`M${from} ${scale(value)}H${to}`} stroke={value === 0 ? 'var(--faint)' : 'var(--rule)'} />
      <text x={from - 6} y={scale(value) + 4} textAnchor="end" fill="var(--faint)">
        {decimal(value, decimals)}
      </text>
    </g>
  ));
}
