import type { ScaleLinear } from 'd3';
import { axisTicks } from './ticks.js';

interface Props {
  readonly scale: ScaleLinear<number, number>;
  /** About so many lines. */
  readonly count: number;
  /** Where the lines begin and end; the numbers stand before their beginning. */
  readonly from: number;
  readonly to: number;
  /** What a value is multiplied by to be read. */
  readonly times?: number;
}

/** The lines across a chart with their values, that of zero stronger. */
export function ValueAxis({ scale, count, from, to, times = 1 }: Props) {
  return axisTicks(scale, count, times).map(({ value, text }) => (
    <g key={value}>
      <path d={`M${from} ${scale(value)}H${to}`} stroke={value === 0 ? 'var(--faint)' : 'var(--rule)'} />
      <text x={from - 6} y={scale(value) + 4} textAnchor="end" fill="var(--faint)">
        {text}
      </text>
    </g>
  ));
}
