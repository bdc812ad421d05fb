import type { PaybackFan } from '@long-tally/core';
import { area, line, scaleLinear, scaleUtc } from 'd3';
import { useMemo } from 'react';
import { dateText, decimal } from '../ui/format.js';
import { LABEL_WIDTH, timeTicks } from './timeTicks.js';
import { LETTER } from './Caption.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 260;
const [LEFT, RIGHT, TOP, BOTTOM] = [62, 16, 22, 28];

interface Props {
  readonly fan: PaybackFan;
  readonly currency: string;
  readonly width: number;
}

/** What has been saved less what was paid, over the years: the line at the saving of the range, its band, and where it stands. */
export function PaybackChart({ fan: { points, today, cost }, currency, width }: Props) {
  return useMemo(() => {
    const [first, last] = [points[0]!.atMs, points.at(-1)!.atMs];
    const x = scaleUtc([first, last], [LEFT, width - RIGHT]);
    const top = Math.min(cost, Math.max(0, ...points.map(({ high }) => high)));
    const y = scaleLinear([-cost, top], [HEIGHT - BOTTOM, TOP]).nice();
    const held = (value: number) => y(Math.min(value, y.domain()[1]!));
    const band = area<(typeof points)[number]>()
      .x(({ atMs }) => x(atMs))
      .y0(({ low }) => held(low))
      .y1(({ high }) => held(high));
    // What lies above the drawing is cut off, not bent.
    const shown = points.filter(({ value }) => value <= y.domain()[1]!);
    const course = line<(typeof points)[number]>()
      .x(({ atMs }) => x(atMs))
      .y(({ value }) => y(value));
    const told = `${dateText(new Date(today.atMs).toISOString(), 'plain')}: ${decimal(today.value, 0)} ${currency}`;
    const wide = LETTER * told.length;
    const [after, before] = [x(today.atMs) + 8, x(today.atMs) - 8 - wide];
    const left = after + wide <= width ? after : Math.max(LEFT + 4, before);
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        fontSize="12"
        aria-label={`Balance of the system: ${decimal(-cost, 0)} ${currency} at first, ${decimal(today.value, 0)} ${currency} at the end of the range`}
      >
        <ValueAxis scale={y} count={6} from={LEFT} to={width - RIGHT} />
        <text x={LEFT - 6} y={TOP - 9} textAnchor="end" fill="var(--faint)">
          {currency}
        </text>
        {timeTicks(first, last, 'UTC', Math.min(8, width / LABEL_WIDTH)).map(({ ms, text }) => (
          <text key={ms} x={x(ms)} y={HEIGHT - 8} textAnchor="middle" fill="var(--faint)">
            {text}
          </text>
        ))}
        <path d={band(points) ?? ''} fill="var(--solar)" fillOpacity="0.2" />
        <path d={course(shown) ?? ''} fill="none" stroke="var(--solar)" strokeWidth="1.8" />
        <path d={`M${x(today.atMs)} ${TOP}V${HEIGHT - BOTTOM}`} stroke="var(--ink)" strokeDasharray="2 3" />
        <path
          d={`M${x(today.atMs)} ${held(today.low)}V${held(today.high)}`}
          stroke="var(--ink)"
          strokeWidth="2"
        />
        <circle cx={x(today.atMs)} cy={held(today.value)} r="4" fill="var(--ink)" />
        <text
          x={left}
          y={TOP + 10}
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {told}
        </text>
      </svg>
    );
  }, [points, today, cost, currency, width]);
}
