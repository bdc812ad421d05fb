import type { WearView } from '@long-tally/core';
import { scaleLinear } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';
import { axisTicks } from './ticks.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 230;
const [LEFT, RIGHT, TOP, BOTTOM] = [38, 44, 24, 32];

interface Props {
  readonly depths: WearView['depths'];
  readonly width: number;
}

/** Rainflow cycles by depth: the bars count them, the hatched ones are the share of all damage that each depth does. */
export function DepthBars({ depths, width }: Props) {
  return useMemo(() => {
    const most = Math.max(1, ...depths.map(({ count }) => count));
    const all = depths.reduce((sum, { damage }) => sum + damage, 0);
    const mostShare = Math.max(...depths.map(({ damage }) => damage / all));
    const x = scaleLinear([0, 1], [LEFT, width - RIGHT]);
    const y = scaleLinear([0, most], [HEIGHT - BOTTOM, TOP]).nice();
    const share = scaleLinear([0, mostShare], [HEIGHT - BOTTOM, TOP]).nice();
    const half = (x(0.1) - x(0)) / 2 - 2;
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        fontSize="12"
        aria-label={`Cycles by depth: ${depths
          .filter(({ count }) => count > 0)
          .map(
            ({ from, count }) =>
              `${decimal(100 * from, 0)} to ${decimal(100 * from + 10, 0)} %: ${decimal(count, 1)}`,
          )
          .join('; ')}`}
      >
        <ValueAxis scale={y} count={4} from={LEFT} to={width - RIGHT} />
        {/* Nought stands at the left; here it would lie over the last depth. */}
        {axisTicks(share, 4, 100)
          .slice(1)
          .map(({ value, text }) => (
            <text key={value} x={width - RIGHT + 6} y={share(value) + 4} fill="var(--red)">
              {text} %
            </text>
          ))}
        <text x={LEFT} y={TOP - 11} fill="var(--battery)">
          cycles
        </text>
        <text x={width - RIGHT} y={TOP - 11} textAnchor="end" fill="var(--red)">
          share of the cycle life used
        </text>
        {depths.map(({ from, count, damage }) => (
          <g key={from}>
            <rect
              x={x(from) + 1}
              width={half}
              y={y(count)}
              height={HEIGHT - BOTTOM - y(count)}
              fill="var(--battery)"
            />
            <rect
              x={x(from) + 2 + half}
              width={half}
              y={share(damage / all)}
              height={HEIGHT - BOTTOM - share(damage / all)}
              fill="url(#hatch-red)"
              stroke="var(--red)"
            />
          </g>
        ))}
        {axisTicks(x, width < 400 ? 5 : 10, 100).map(({ value, text }) => (
          <text key={value} x={x(value)} y={HEIGHT - BOTTOM + 14} textAnchor="middle" fill="var(--faint)">
            {text}
          </text>
        ))}
        <text x={width - RIGHT} y={HEIGHT - 4} textAnchor="end" fill="var(--faint)">
          depth of discharge, %
        </text>
      </svg>
    );
  }, [depths, width]);
}
