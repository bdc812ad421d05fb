import type { PowerSeries } from '@long-tally/core';
import { area, extent, line, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { apart } from './apart.js';
import { CourseMarks, type CourseMark } from './CourseMarks.js';
import { runs } from './runs.js';
import { drawnCells, faultRows, lastKnown, missingRuns } from './seriesPoints.js';
import { OUTLINED, TextBeside } from './TextBeside.js';
import { timeTicks } from './timeTicks.js';
import { clockText, decimal, columnText } from '../ui/format.js';
import { ValueAxis } from './ValueAxis.js';

const LEFT = 46;
const RIGHT = 70;
const POWER_HEIGHT = 360;
const SOC_HEIGHT = 150;
const GAP = 22;
const TOP = 24;

interface Flow {
  readonly key: 'solar' | 'load' | 'grid' | 'battery';
  readonly letter: string;
  readonly name: string;
  readonly colour: string;
  readonly dash?: string;
}

const FLOWS: readonly Flow[] = [
  { key: 'solar', letter: 'S', name: 'solar', colour: 'var(--solar)' },
  { key: 'load', letter: 'H', name: 'load', colour: 'var(--home)' },
  { key: 'battery', letter: 'B', name: 'battery', colour: 'var(--battery)', dash: '5 2.5' },
  { key: 'grid', letter: 'G', name: 'grid', colour: 'var(--grid)', dash: '1.5 2' },
];

interface Props {
  readonly course: PowerSeries;
  readonly timeZone: string;
  readonly width: number;
  /** The interval read out, or null. */
  readonly at: number | null;
  readonly onRead: (at: number | null) => void;
  readonly marks?: readonly CourseMark[];
}

const NO_MARKS: readonly CourseMark[] = [];

/** The power of a day or an outage with the state of charge under it on the same axis of time. */
export function CourseChart({ course, timeZone, width, at, onRead, marks = NO_MARKS }: Props) {
  const { startMs, stepMs, range } = course;
  const x = useMemo(() => scaleLinear([range.fromMs, range.toMs], [LEFT, width - RIGHT]), [range, width]);
  const cells = (course.load ?? course.solar ?? course.grid ?? course.battery ?? course.soc)?.length ?? 0;
  const height = TOP + POWER_HEIGHT + GAP + SOC_HEIGHT + 20;
  const read = (event: React.PointerEvent<SVGSVGElement>) => {
    const ms = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    const cell = Math.floor((ms - startMs) / stepMs);
    onRead(cell >= 0 && cell < cells ? cell : null);
  };
  const atMs = at === null ? null : startMs + (at + 0.5) * stepMs;
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label="Power and state of charge over time; the table beside it reads out each interval"
      onPointerMove={read}
      onPointerLeave={() => onRead(null)}
    >
      <Drawing course={course} timeZone={timeZone} width={width} x={x} />
      <CourseMarks
        marks={marks}
        range={range}
        x={x}
        top={TOP}
        first={TOP + POWER_HEIGHT + GAP + 22}
        bottom={height - 20}
        right={width}
      />
      {atMs !== null && <path d={`M${x(atMs)} ${TOP}V${height - 20}`} stroke="var(--ink)" strokeWidth="1" />}
    </svg>
  );
}

function Drawing({
  course,
  timeZone,
  width,
  x,
}: {
  readonly course: PowerSeries;
  readonly timeZone: string;
  readonly width: number;
  readonly x: (ms: number) => number;
}) {
  return useMemo(() => {
    const { range, startMs, stepMs, soc, peak, limits, carriedFromMs } = course;
    const flows = FLOWS.flatMap((flow) => {
      const values = course[flow.key];
      return values ? [{ ...flow, values }] : [];
    });
    const [lowest, highest] = extent(flows.flatMap(({ values }) => extent(values) as number[]));
    const limit = limits.islandW;
    const top = Math.max(500, highest ?? 0, peak && limit && peak.watts > 0.6 * limit ? limit * 1.05 : 0);
    const y = scaleLinear([Math.min(0, lowest ?? 0), top], [TOP + POWER_HEIGHT, TOP]).nice();
    const socTop = TOP + POWER_HEIGHT + GAP;
    const bottom = socTop + SOC_HEIGHT;
    const ySoc = scaleLinear([0, 1], [socTop + SOC_HEIGHT, socTop]);
    const ms = (i: number) => startMs + (i + 0.5) * stepMs;
    const path = (values: Float64Array, of: (value: number) => number, offset = 0.5) =>
      line<number>()
        .defined((i) => !Number.isNaN(values[i]))
        .x((i) => x(startMs + (i + offset) * stepMs))
        .y((i) => of(values[i]!))(drawnCells(values, width)) ?? '';
    const sun = (values: Float64Array) =>
      area<number>()
        .defined((i) => !Number.isNaN(values[i]))
        .x((i) => x(ms(i)))
        .y0(y(0))
        .y1((i) => y(values[i]!))(drawnCells(values, width));
    const ticks = timeTicks(range.fromMs, range.toMs, timeZone, width > 700 ? 12 : 6);
    return (
      <g fontSize="12">
        <ValueAxis scale={y} count={6} from={LEFT} to={width - RIGHT} times={0.001} />
        <text x={LEFT - 6} y={TOP - 11} textAnchor="end" fill="var(--faint)">
          kW
        </text>
        {[0, 0.5, 1].map((share) => (
          <g key={share}>
            <path d={`M${LEFT} ${ySoc(share)}H${width - RIGHT}`} stroke="var(--rule)" />
            <text x={LEFT - 6} y={ySoc(share) + 4} textAnchor="end" fill="var(--faint)">
              {share * 100} %
            </text>
          </g>
        ))}
        {ticks.map(({ ms: at, text }) => (
          <g key={at}>
            <path d={`M${x(at)} ${socTop + SOC_HEIGHT}v4`} stroke="var(--faint)" />
            <text x={x(at)} y={socTop + SOC_HEIGHT + 16} textAnchor="middle" fill="var(--faint)">
              {text}
            </text>
          </g>
        ))}
        {missingRuns(course).map(([from, to]) => (
          <rect
            key={from}
            x={x(from)}
            y={TOP}
            width={x(to) - x(from)}
            height={bottom - TOP}
            fill="url(#hatch-missing)"
          />
        ))}
        {runs(course.gridDown, (down) => down === 1).map(([from, to]) => (
          <g key={from} transform={`translate(${x(startMs + from * stepMs)},${TOP})`}>
            <rect
              width={x(startMs + to * stepMs) - x(startMs + from * stepMs)}
              height={bottom - TOP}
              fill="url(#hatch-red)"
              fillOpacity="0.4"
            />
            <text x="4" y={POWER_HEIGHT - 6} fill="var(--red)" fontWeight="600">
              grid down
            </text>
          </g>
        ))}
        {course.fills.map(({ quantity, source, fromMs, toMs }, i) => {
          const line = socTop - 4 - 13 * (i % 3);
          return (
            <g key={i}>
              <path
                d={`M${x(fromMs)} ${line - 3}v6m0 -3H${x(toMs)}m0 -3v6`}
                stroke="var(--ink)"
                strokeWidth="1"
                fill="none"
              />
              <TextBeside
                at={x(fromMs)}
                gap={0}
                right={width}
                y={line - 5}
                fontSize="11"
                fill="var(--ink)"
              >{`${columnText(quantity)} from ${source}`}</TextBeside>
            </g>
          );
        })}
        {faultRows(course.faults).map(({ fromMs, toMs, text, row, isFirst }) => {
          const line = bottom - 8 - 20 * row;
          return (
            <g key={fromMs}>
              <path
                d={`M${x(fromMs)} ${line - 4}v8m0 -4h${Math.max(2, x(toMs) - x(fromMs))}`}
                stroke="var(--red)"
                strokeWidth="2"
                fill="none"
              />
              {isFirst && (
                <TextBeside
                  at={x(fromMs)}
                  gap={4}
                  right={width}
                  y={line - 4}
                  fontSize="11"
                  fill="var(--red)"
                  {...OUTLINED}
                >
                  {text}
                </TextBeside>
              )}
            </g>
          );
        })}
        {limit !== null && limit <= y.domain()[1]! && (
          <g>
            <path d={`M${LEFT} ${y(limit)}H${width - RIGHT}`} stroke="var(--red)" strokeDasharray="6 3" />
            <text x={LEFT + 6} y={y(limit) - 4} fill="var(--red)">
              {limits.batteryOnlyW === null ? 'continuous' : 'battery-only'} limit {decimal(limit / 1000, 1)}{' '}
              kW
            </text>
          </g>
        )}
        {flows.map(({ key, values, colour, dash }) => (
          <g key={key}>
            {key === 'solar' && <path d={sun(values) ?? ''} fill="url(#dots-solar)" fillOpacity="0.35" />}
            <path
              d={path(values, y)}
              fill="none"
              stroke={colour}
              strokeWidth={key === 'load' ? 1.8 : 1.5}
              strokeDasharray={dash}
            />
          </g>
        ))}
        {apart(
          flows.map(({ key, letter, name, colour, values }) => ({
            key,
            text: `${letter} ${name}`,
            colour,
            at: y(lastKnown(values)),
          })),
          TOP + POWER_HEIGHT,
        ).map(({ key, text, colour, at: height }) => (
          <text key={key} x={width - RIGHT + 6} y={height + 4} fill={colour} fontWeight="600">
            {text}
          </text>
        ))}
        {soc && (
          <>
            <path d={path(soc, ySoc, 0)} fill="none" stroke="var(--battery)" strokeWidth="1.6" />
            <text x={width - RIGHT + 6} y={ySoc(lastKnown(soc)) + 4} fill="var(--battery)" fontWeight="600">
              B charge
            </text>
          </>
        )}
        {carriedFromMs !== null && (
          <>
            <path d={`M${x(carriedFromMs)} ${TOP}V${y(0)}`} stroke="var(--solar)" strokeDasharray="3 3" />
            <TextBeside at={x(carriedFromMs)} gap={4} right={width} y={TOP + 10} fill="var(--solar-text)">
              {`solar carries the load from ${clockText(carriedFromMs, timeZone)}`}
            </TextBeside>
          </>
        )}
        {peak && (
          <>
            <circle
              cx={x(peak.atMs + stepMs / 2)}
              cy={y(peak.watts)}
              r="3.5"
              fill="none"
              stroke="var(--home)"
              strokeWidth="1.5"
            />
            <TextBeside
              at={x(peak.atMs + stepMs / 2)}
              gap={8}
              right={width}
              y={y(peak.watts) - 5}
              fill="var(--home)"
            >
              {`highest load ${decimal(peak.watts / 1000, 2)} kW, ${clockText(peak.atMs, timeZone)}`}
            </TextBeside>
          </>
        )}
      </g>
    );
  }, [course, timeZone, width, x]);
}
