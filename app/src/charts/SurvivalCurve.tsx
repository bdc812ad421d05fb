import type { OutageCourse } from '@long-tally/core';
import { curveStepAfter, line, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';

const HEIGHT = 250;
const [LEFT, RIGHT, TOP, BOTTOM] = [38, 14, 22, 32];
/** Hours that are read out on the curve. */
const MARKS = [12, 24, 72] as const;

interface Props {
  readonly curve: OutageCourse['curve'];
  readonly horizonH: number;
  readonly width: number;
}

/** Share of all possible starts that last longer, by hours. */
export function SurvivalCurve({ curve, horizonH, width }: Props) {
  return useMemo(() => {
    const x = scaleLinear([0, horizonH], [LEFT, width - RIGHT]);
    const y = scaleLinear([0, 1], [HEIGHT - BOTTOM, TOP]);
    const shareAt = (hours: number) => curve.findLast((step) => step.hours < hours)?.share ?? 1;
    const path = line<(typeof curve)[number]>()
      .curve(curveStepAfter)
      .x(({ hours }) => x(hours))
      .y(({ share }) => y(share));
    const all = [...curve, { hours: horizonH, share: shareAt(horizonH) }];
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        fontSize="12"
        aria-label={`Share of starts that last: ${MARKS.map((hours) => `${hours} h ${decimal(100 * shareAt(hours), 0)} %`).join(', ')}`}
      >
        {y.ticks(5).map((share) => (
          <g key={share}>
            <path d={`M${LEFT} ${y(share)}H${width - RIGHT}`} stroke="var(--rule)" />
            <text x={LEFT - 6} y={y(share) + 4} textAnchor="end" fill="var(--faint)">
              {decimal(100 * share, 0)}
            </text>
          </g>
        ))}
        <text x={LEFT} y={TOP - 9} fill="var(--faint)">
          % of starts that last longer
        </text>
        {Array.from({ length: horizonH / 24 + 1 }, (_, day) => (
          <text key={day} x={x(day * 24)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
            {day}
          </text>
        ))}
        <text x={width - RIGHT} y={HEIGHT - 3} textAnchor="end" fill="var(--faint)">
          days
        </text>
        <path d={path(all) ?? ''} fill="none" stroke="var(--battery)" strokeWidth="1.8" />
        {MARKS.map((hours) => (
          <g key={hours} transform={`translate(${x(hours)},${y(shareAt(hours))})`}>
            <circle r="3" fill="var(--battery)" />
            <text x="6" y="-5" fill="var(--ink)" stroke="var(--paper)" strokeWidth="3" paintOrder="stroke">
              {hours < 48 ? `${hours} h` : `${hours / 24} days`}: {decimal(100 * shareAt(hours), 0)} %
            </text>
          </g>
        ))}
      </svg>
    );
  }, [curve, horizonH, width]);
}
