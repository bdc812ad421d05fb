import type { ScenarioOutcome } from '@long-tally/core';
import { curveStepAfter, line, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 280;
const [LEFT, TOP, BOTTOM] = [38, 22, 32];
const NARROW = 14;
/** Room for the names of several lines. */
const WIDE = 210;
/** Hours that are read out on the curve that leads. */
const MARKS = [12, 24, 72] as const;
const LINES = [
  { ink: 'var(--battery)', dash: '' },
  { ink: 'var(--home)', dash: '6 3' },
  { ink: 'var(--grid)', dash: '2 2' },
  { ink: 'var(--solar)', dash: '9 3 2 3' },
  { ink: 'var(--red)', dash: '4 4' },
] as const;

interface Props {
  /** The one that leads first. */
  readonly courses: readonly ScenarioOutcome[];
  readonly horizonH: number;
  readonly width: number;
}

/** How a line of the chart is drawn, by its place. */
export function lineOf(place: number): (typeof LINES)[number] {
  return LINES[place % LINES.length]!;
}

/** Share of all possible starts that last longer, by hours; one line for each option, each named at its end. */
export function SurvivalCurve({ courses, horizonH, width }: Props) {
  return useMemo(() => {
    const right = courses.length > 1 ? WIDE : NARROW;
    const x = scaleLinear([0, horizonH], [LEFT, width - right]);
    const y = scaleLinear([0, 1], [HEIGHT - BOTTOM, TOP]);
    const shareAt = ({ curve }: ScenarioOutcome, hours: number) =>
      curve.findLast((step) => step.hours < hours)?.share ?? 1;
    const path = line<ScenarioOutcome['curve'][number]>()
      .curve(curveStepAfter)
      .x(({ hours }) => x(hours))
      .y(({ share }) => y(share));
    const [first] = courses as [ScenarioOutcome];
    const ends = apart(courses.map((course, place) => ({ course, place, at: y(shareAt(course, horizonH)) })));
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        fontSize="12"
        aria-label={`Share of starts that last: ${MARKS.map((hours) => `${hours} h ${decimal(100 * shareAt(first, hours), 0)} %`).join(', ')}${courses
          .slice(1)
          .map((course) => `; ${course.scenario.name}: 24 h ${decimal(100 * shareAt(course, 24), 0)} %`)
          .join('')}`}
      >
        <ValueAxis scale={y} count={5} from={LEFT} to={width - right} times={100} />
        <text x={LEFT} y={TOP - 9} fill="var(--faint)">
          % of starts that last longer
        </text>
        {Array.from({ length: horizonH / 24 + 1 }, (_, day) => (
          <text key={day} x={x(day * 24)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
            {day}
          </text>
        ))}
        <text x={width - right} y={HEIGHT - 3} textAnchor="end" fill="var(--faint)">
          days
        </text>
        {ends.map(({ course, place, at }) => (
          <g key={course.scenario.name}>
            <path
              d={path([...course.curve, { hours: horizonH, share: shareAt(course, horizonH) }]) ?? ''}
              fill="none"
              stroke={lineOf(place).ink}
              strokeDasharray={lineOf(place).dash}
              strokeWidth={place === 0 ? 1.8 : 1.4}
            />
            {courses.length > 1 && (
              <text x={width - right + 6} y={at + 4} fill="var(--ink)">
                {course.scenario.name}
              </text>
            )}
          </g>
        ))}
        {MARKS.map((hours) => (
          <g key={hours} transform={`translate(${x(hours)},${y(shareAt(first, hours))})`}>
            <circle r="3" fill="var(--battery)" />
            <text x="6" y="-5" fill="var(--ink)" stroke="var(--paper)" strokeWidth="3" paintOrder="stroke">
              {hours < 48 ? `${hours} h` : `${hours / 24} days`}: {decimal(100 * shareAt(first, hours), 0)} %
            </text>
          </g>
        ))}
      </svg>
    );
  }, [courses, horizonH, width]);
}

/** Names at the ends of their lines, pushed apart where they would overlap. */
function apart<T extends { at: number }>(list: readonly T[]): T[] {
  const sorted = [...list].sort((a, b) => a.at - b.at);
  let above = -Infinity;
  const down = sorted.map((one) => {
    above = Math.max(one.at, above + 14);
    return { ...one, at: above };
  });
  // Those pushed below the axis go up again.
  let below = HEIGHT - BOTTOM + 8;
  for (const one of down.reverse()) {
    one.at = Math.min(one.at, below);
    below = one.at - 14;
  }
  return down;
}
