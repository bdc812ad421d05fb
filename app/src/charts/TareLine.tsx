import type { LossesView } from '@long-tally/core';
import { scaleLinear } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';
import { Marks } from './Marks.js';
import { disc } from './symbols.js';
import { axisTicks } from './ticks.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 270;
const [LEFT, RIGHT, TOP, BOTTOM] = [38, 12, 18, 30];

interface Props {
  readonly tare: NonNullable<LossesView['tare']>;
  readonly width: number;
}

/** What the battery gave by night against what the home took: the foot of the line is the inverter's own draw. */
export function TareLine({ tare: { points, idleW, slope }, width }: Props) {
  return useMemo(() => {
    const mostX = Math.max(500, ...points.map(([served]) => served));
    const x = scaleLinear([0, mostX], [LEFT, width - RIGHT]).nice();
    const y = scaleLinear([0, idleW + slope * mostX * 1.05], [HEIGHT - BOTTOM, TOP]).nice();
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Tare line over ${points.length} half hours: idle draw ${decimal(idleW, 0)} W, ${decimal(100 / slope, 1)} % efficient above it`}
        fontSize="12"
      >
        <ValueAxis scale={y} count={5} from={LEFT} to={width - RIGHT} times={0.001} />
        {axisTicks(x, 6, 0.001).map(({ value, text }) => (
          <text key={value} x={x(value)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
            {text}
          </text>
        ))}
        <text x={LEFT} y={TOP - 7} fill="var(--faint)">
          battery gives, kW DC
        </text>
        <text x={width - RIGHT} y={HEIGHT - 2} textAnchor="end" fill="var(--faint)">
          home takes, kW
        </text>
        <Marks
          points={points}
          mark={([served, drawn]) => disc(x(served), y(drawn), 1.6)}
          look={{ fill: 'var(--battery)', fillOpacity: 0.4 }}
        />
        <path
          d={`M${x(0)} ${y(idleW)}L${x(mostX)} ${y(idleW + slope * mostX)}`}
          stroke="var(--ink)"
          strokeWidth="1.4"
        />
        <text
          x={x(0) + 8}
          y={y(idleW) - 8}
          fontWeight="600"
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          foot {decimal(idleW, 0)} W, then {decimal(100 / slope, 1)} %
        </text>
      </svg>
    );
  }, [points, idleW, slope, width]);
}
