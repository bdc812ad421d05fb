import type { ScenarioOutcome } from '@long-tally/core';
import { curveStepAfter, line, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';
import { apart } from './apart.js';
import { Caption, LETTER, LINE } from './Caption.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 280;
const [LEFT, TOP, BOTTOM] = [38, 40, 32];
const MARGIN = 14;
/** Room for the names of several lines beside them; in a narrower chart they stand below it. */
const [NAMES, NARROW] = [210, 620];
/** The number of a day takes so much. */
const DAY_WIDTH = 20;
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
    const isNamed = courses.length > 1;
    const isBelow = isNamed && width < NARROW;
    const right = isNamed && !isBelow ? NAMES : MARGIN;
    const every = Math.ceil(DAY_WIDTH / ((24 / horizonH) * (width - LEFT - right)));
    const x = scaleLinear([0, horizonH], [LEFT, width - right]);
    const y = scaleLinear([0, 1], [HEIGHT - BOTTOM, TOP]);
    const shareAt = ({ curve }: ScenarioOutcome, hours: number) =>
      curve.findLast((step) => step.hours < hours)?.share ?? 1;
    const path = line<ScenarioOutcome['curve'][number]>()
      .curve(curveStepAfter)
      .x(({ hours }) => x(hours))
      .y(({ share }) => y(share));
    const [first] = courses as [ScenarioOutcome];
    const readOut = clear(
      MARKS.map((hours) => ({
        text: `${hours < 48 ? `${hours} h` : `${hours / 24} days`}: ${decimal(100 * shareAt(first, hours), 0)} %`,
        left: x(hours),
        at: y(shareAt(first, hours)),
      })),
    );
    const ends = apart(
      courses.map((course, place) => ({ course, place, at: y(shareAt(course, horizonH)) })),
      HEIGHT - BOTTOM + 8,
    );
    return (
      <svg
        width={width}
        height={HEIGHT + (isBelow ? LINE * courses.length + 4 : 0)}
        role="img"
        fontSize="12"
        aria-label={`Share of starts that last: ${MARKS.map((hours) => `${hours} h ${decimal(100 * shareAt(first, hours), 0)} %`).join(', ')}${courses
          .slice(1)
          .map((course) => `; ${course.scenario.name}: 24 h ${decimal(100 * shareAt(course, 24), 0)} %`)
          .join('')}`}
      >
        <ValueAxis scale={y} count={5} from={LEFT} to={width - right} times={100} />
        <Caption lines={['% of starts that last longer']} x={LEFT} />
        {Array.from({ length: Math.floor(horizonH / 24 / every) + 1 }, (_, k) => k * every).map((day) => (
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
            {isBelow && (
              <path
                d={`M${LEFT} ${HEIGHT + LINE * place + 4}H${LEFT + 28}`}
                stroke={lineOf(place).ink}
                strokeDasharray={lineOf(place).dash}
                strokeWidth="1.8"
              />
            )}
            {isNamed && (
              <text
                x={isBelow ? LEFT + 34 : width - right + 6}
                y={isBelow ? HEIGHT + LINE * place + 8 : at + 4}
                fill="var(--ink)"
              >
                {course.scenario.name}
              </text>
            )}
          </g>
        ))}
        {readOut.map(({ text, left, at, line: under }) => (
          <g key={text} transform={`translate(${left},${at})`}>
            {under !== 0 && <path d={`M0 0L5 ${LINE * under - 8}`} stroke="var(--faint)" />}
            <circle r="3" fill="var(--battery)" />
            <text
              x="6"
              y={LINE * under - 5}
              fill="var(--ink)"
              stroke="var(--paper)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {text}
            </text>
          </g>
        ))}
      </svg>
    );
  }, [courses, horizonH, width]);
}

/** Texts beside their points, each as few lines lower or higher as keep it clear of those before it and of the axis. */
function clear<T extends { readonly text: string; readonly left: number; readonly at: number }>(
  list: readonly T[],
): (T & { readonly line: number })[] {
  const placed: (T & { readonly line: number })[] = [];
  for (const one of list) {
    const isFree = (line: number) => {
      const at = one.at + LINE * line;
      const isInside = at > TOP - LINE && at <= HEIGHT - BOTTOM;
      const isClear = (other: T & { readonly line: number }) =>
        other.left + LETTER * (other.text.length + 1) < one.left ||
        Math.abs(other.at + LINE * other.line - at) >= LINE;
      return isInside && placed.every(isClear);
    };
    placed.push({ ...one, line: [0, 1, -1, 2, -2].find(isFree) ?? 0 });
  }
  return placed;
}
