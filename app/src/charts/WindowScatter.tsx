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
  readonly stretches: LossesView['stretches'];
  readonly width: number;
}

/** The loss of each window against what it discharged, a day, with the fitted lines: their foot is the idle draw, their slope the conversion. */
export function WindowScatter({ stretches, width }: Props) {
  return useMemo(() => {
    const all = stretches.flatMap(({ windows }) => windows);
    const mostX = Math.max(1, ...all.map(({ dischargeADay }) => dischargeADay));
    const sorted = all.map(({ lossADay }) => lossADay).sort((a, b) => a - b);
    // One window in a hundred may be wild; the rest keeps its scale.
    const foot = (idleW: number | null) => ((idleW ?? 0) * 24) / 1000;
    const mostY = Math.max(
      0.2,
      (sorted[Math.floor(0.99 * (sorted.length - 1))] ?? 1) * 1.15,
      ...stretches.map(({ idleW }) => foot(idleW)),
    );
    const x = scaleLinear([0, mostX], [LEFT, width - RIGHT]).nice();
    const y = scaleLinear([0, mostY], [HEIGHT - BOTTOM, TOP]).nice();
    // A line that leaves the drawing ends at its edge.
    const lineTo = (at: number, slope: number) => {
      const end = slope > 0 ? Math.min(mostX, (y.domain()[1]! - at) / slope) : mostX;
      return `M${x(0)} ${y(at)}L${x(end)} ${y(at + slope * end)}`;
    };
    const label = stretches
      .flatMap(({ idleW, lambda }) =>
        idleW === null
          ? []
          : [`idle draw ${decimal(idleW, 0)} W, conversion ${decimal((lambda ?? 0) * 100, 1)} %`],
      )
      .join('; then ');
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Loss of ${all.length} windows against their discharge${label ? `: ${label}` : ''}`}
        fontSize="12"
      >
        <ValueAxis scale={y} count={5} from={LEFT} to={width - RIGHT} />
        {axisTicks(x, 6).map(({ value, text }) => (
          <text key={value} x={x(value)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
            {text}
          </text>
        ))}
        <text x={LEFT} y={TOP - 7} fill="var(--faint)">
          loss, kWh a day
        </text>
        <text x={width - RIGHT} y={HEIGHT - 2} textAnchor="end" fill="var(--faint)">
          discharged, kWh a day
        </text>
        {stretches.map(({ fromMs, windows, idleW, lambda }, s) => {
          const last = s === stretches.length - 1;
          return (
            <g key={fromMs}>
              <Marks
                points={windows.filter(({ lossADay }) => lossADay >= 0 && lossADay <= mostY)}
                mark={({ dischargeADay, lossADay }) => disc(x(dischargeADay), y(lossADay), 2.4)}
                look={{
                  fill: last ? 'var(--battery)' : 'none',
                  fillOpacity: 0.65,
                  stroke: 'var(--battery)',
                  strokeOpacity: 0.8,
                }}
              />
              {idleW !== null && lambda !== null && (
                <path
                  d={lineTo(foot(idleW), lambda)}
                  stroke="var(--ink)"
                  strokeWidth="1.4"
                  strokeDasharray={last ? undefined : '5 3'}
                />
              )}
            </g>
          );
        })}
      </svg>
    );
  }, [stretches, width]);
}
