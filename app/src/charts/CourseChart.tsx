import type { PowerSeries } from '@long-tally/core';
import { area, extent, line, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { apart } from './apart.js';
import { runs } from './runs.js';
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

/** A moment that is written on the axis of time, or a stretch in which it may lie. */
export interface CourseMark {
  readonly text: string;
  readonly atMs: number;
  readonly fromMs?: number;
  readonly toMs?: number;
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
      <Marks marks={marks} range={range} x={x} bottom={height - 20} width={width} />
      {atMs !== null && <path d={`M${x(atMs)} ${TOP}V${height - 20}`} stroke="var(--ink)" strokeWidth="1" />}
    </svg>
  );
}

function Marks({
  marks,
  range,
  x,
  bottom,
  width,
}: {
  readonly marks: readonly CourseMark[];
  readonly range: PowerSeries['range'];
  readonly x: (ms: number) => number;
  readonly bottom: number;
  readonly width: number;
}) {
  const held = (ms: number) => x(Math.min(range.toMs, Math.max(range.fromMs, ms)));
  return marks.map(({ text, atMs, fromMs = atMs, toMs = atMs }, i) => {
    const at = held(atMs);
    const isLate = at > width - 260;
    const y = bottom - SOC_HEIGHT + 22 + 20 * i;
    return (
      <g key={text} fontSize="12">
        <path
          d={`M${held(fromMs)} ${y}H${held(toMs)}`}
          stroke="var(--ink)"
          strokeWidth="5"
          strokeOpacity="0.25"
        />
        {atMs <= range.toMs && (
          <path d={`M${at} ${TOP}V${bottom}`} stroke="var(--ink)" strokeDasharray="2 3" />
        )}
        <text
          x={isLate ? at - 5 : at + 5}
          y={y - 5}
          textAnchor={isLate ? 'end' : 'start'}
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {text}
        </text>
      </g>
    );
  });
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
        .y((i) => of(values[i]!))(drawn(values, width)) ?? '';
    const sun = (values: Float64Array) =>
      area<number>()
        .defined((i) => !Number.isNaN(values[i]))
        .x((i) => x(ms(i)))
        .y0(y(0))
        .y1((i) => y(values[i]!))(drawn(values, width));
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
        {course.fills.map(({ quantity, source, fromMs, toMs }, i) => (
          <g key={i} transform={`translate(${x(fromMs)},${bottom - SOC_HEIGHT - 4 - 13 * (i % 3)})`}>
            <path
              d={`M0 -3v6M0 0H${x(toMs) - x(fromMs)}m0 -3v6`}
              stroke="var(--ink)"
              strokeWidth="1"
              fill="none"
            />
            <text y={-5} fontSize="11" fill="var(--ink)">
              {columnText(quantity)} from {source}
            </text>
          </g>
        ))}
        {faultMarks(course.faults).map(({ fromMs, toMs, text, row, isFirst }) => (
          <g key={fromMs} transform={`translate(${x(fromMs)},${bottom - 8 - 20 * row})`}>
            <path
              d={`M0 -4v8M0 0H${Math.max(2, x(toMs) - x(fromMs))}`}
              stroke="var(--red)"
              strokeWidth="2"
              fill="none"
            />
            {isFirst && (
              <text
                x={x(fromMs) > width - 260 ? -4 : 4}
                y={-4}
                textAnchor={x(fromMs) > width - 260 ? 'end' : 'start'}
                fontSize="11"
                fill="var(--red)"
                stroke="var(--paper)"
                strokeWidth="3"
                paintOrder="stroke"
              >
                {text}
              </text>
            )}
          </g>
        ))}
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
          <g transform={`translate(${x(carriedFromMs)},0)`}>
            <path d={`M0 ${TOP}V${y(0)}`} stroke="var(--solar)" strokeDasharray="3 3" />
            <text x="4" y={TOP + 10} fill="var(--solar-text)">
              solar carries the load from {clockText(carriedFromMs, timeZone)}
            </text>
          </g>
        )}
        {peak && (
          <g transform={`translate(${x(peak.atMs + stepMs / 2)},${y(peak.watts)})`}>
            <circle r="3.5" fill="none" stroke="var(--home)" strokeWidth="1.5" />
            <text
              x={x(peak.atMs) > width - 260 ? -8 : 8}
              y="-5"
              textAnchor={x(peak.atMs) > width - 260 ? 'end' : 'start'}
              fill="var(--home)"
            >
              highest load {decimal(peak.watts / 1000, 2)} kW, {clockText(peak.atMs, timeZone)}
            </text>
          </g>
        )}
      </g>
    );
  }, [course, timeZone, width, x]);
}

/** Faults with a row of their own for each text, as far as three rows go; the first of each bears its text. */
function faultMarks(faults: PowerSeries['faults']) {
  const texts = [...new Set(faults.map(({ text }) => text))];
  return faults.map((run) => ({
    ...run,
    row: texts.indexOf(run.text) % 3,
    isFirst: faults.find(({ text }) => text === run.text) === run,
  }));
}

/** More points than so many a pixel are drawn by the lowest and the highest of each pixel. */
const MOST_POINTS = 4;

/** Indices of the cells to draw: all, or of each column of pixels its first, lowest, highest and last. */
function drawn(values: Float64Array, width: number): Uint32Array {
  const n = values.length;
  if (n <= MOST_POINTS * width) return Uint32Array.from(values, (_, i) => i);
  const indices: number[] = [];
  for (let column = 0; column < width; column++) {
    const from = Math.floor((column * n) / width);
    const to = Math.floor(((column + 1) * n) / width);
    let [low, high] = [from, from];
    for (let i = from; i < to; i++) {
      if (!(values[i]! >= values[low]!)) low = i;
      if (!(values[i]! <= values[high]!)) high = i;
    }
    indices.push(...[from, Math.min(low, high), Math.max(low, high), to - 1]);
  }
  return Uint32Array.from(indices);
}

function lastKnown(values: Float64Array): number {
  return values.findLast((value) => !Number.isNaN(value)) ?? 0;
}

function missingRuns({ range, startMs, stepMs, ...course }: PowerSeries): (readonly [number, number])[] {
  const columns = [course.solar, course.load, course.grid, course.battery].filter(
    (values) => values !== null,
  );
  const count = columns[0]?.length ?? 0;
  const missing = Array.from({ length: count }, (_, i) => columns.some((values) => Number.isNaN(values[i]!)));
  const inside = runs(missing, Boolean).map(
    ([from, to]) => [startMs + from * stepMs, startMs + to * stepMs] as const,
  );
  const end = startMs + count * stepMs;
  const outside = [[range.fromMs, startMs] as const, [end, range.toMs] as const];
  return [...inside, ...outside.filter(([from, to]) => to > from)];
}
