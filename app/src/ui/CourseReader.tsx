import type { PowerSeries } from '@long-tally/core';
import { useState } from 'react';
import { CourseChart } from '../charts/CourseChart.js';
import type { CourseMark } from '../charts/CourseMarks.js';
import { powerRows } from '../charts/chartRows.js';
import { clockText, decimal, localDateText } from './format.js';
import { Saveable } from './Saveable.js';
import { useWidth } from './useSize.js';

interface Props {
  readonly course: PowerSeries;
  readonly timeZone: string;
  readonly marks?: readonly CourseMark[];
  /** What stands under the read-out. */
  readonly children: React.ReactNode;
}

/** Power and charge over time, read out interval by interval with the pointer or the arrow keys. */
export function CourseReader({ course, timeZone, marks, children }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [at, setAt] = useState<number | null>(null);
  const cells = (course.load ?? course.solar ?? course.grid ?? course.battery ?? course.soc)?.length ?? 0;
  const { startMs, stepMs } = course;
  const onKeyDown = (event: React.KeyboardEvent) => {
    const hour = Math.max(1, Math.round(3_600_000 / stepMs));
    const step = { ArrowLeft: -1, ArrowRight: 1, PageUp: -hour, PageDown: hour, Home: -cells, End: cells }[
      event.key
    ];
    if (step === undefined) return;
    event.preventDefault();
    setAt(Math.max(0, Math.min(cells - 1, (at ?? Math.floor(cells / 2)) + step)));
  };
  const atMs = startMs + (at ?? 0) * stepMs;
  return (
    <div className="grid grid-cols-1 gap-5 lg:grid-cols-[minmax(0,1fr)_280px]">
      <div className="min-w-0">
        <Saveable
          title="Power and state of charge"
          range={localDateText(startMs, timeZone)}
          rows={() => powerRows(course, timeZone)}
        >
          <div
            ref={ref}
            tabIndex={0}
            role="slider"
            aria-label="Time of day read out"
            aria-valuemin={0}
            aria-valuemax={Math.max(0, cells - 1)}
            aria-valuenow={at ?? 0}
            aria-valuetext={at === null ? 'nothing read out' : readOut(course, at, timeZone)}
            onKeyDown={onKeyDown}
          >
            {width > 0 && (
              <CourseChart
                course={course}
                timeZone={timeZone}
                width={width}
                at={at}
                onRead={setAt}
                {...(marks ? { marks } : {})}
              />
            )}
          </div>
        </Saveable>
      </div>
      <div>
        <h2 className="text-[15px]">
          {at === null
            ? 'Read-out'
            : `${clockText(atMs, timeZone, stepMs)} – ${clockText(atMs + stepMs, timeZone, stepMs)}`}
        </h2>
        {at === null ? (
          <p className="text-faint">Point at the chart, or focus it and use the arrow keys.</p>
        ) : (
          <ReadOut course={course} at={at} />
        )}
        {children}
      </div>
    </div>
  );
}

const READ = [
  ['solar', 'S solar'],
  ['load', 'H load'],
  ['grid', 'G grid'],
  ['battery', 'B battery'],
] as const;

function ReadOut({ course, at }: { readonly course: PowerSeries; readonly at: number }) {
  return (
    <table className="w-full" aria-live="polite">
      <tbody>
        {READ.map(([key, name]) => (
          <tr key={key} className="border-t border-rule">
            <th scope="row" className="text-left font-normal">
              {name}
            </th>
            <td className="text-right">
              {wattsText(course[key]?.[at])}
              {fillAt(course, key, at) && (
                <span className="block text-[12px] text-faint">from {fillAt(course, key, at)}</span>
              )}
            </td>
          </tr>
        ))}
        <tr className="border-t border-rule">
          <th scope="row" className="text-left font-normal">
            B charge
          </th>
          <td className="text-right">{shareText(course.soc?.[at])}</td>
        </tr>
      </tbody>
    </table>
  );
}

/** The source that speaks for the leading one in a cell, or undefined. */
function fillAt({ fills, startMs, stepMs }: PowerSeries, key: string, at: number): string | undefined {
  const ms = startMs + at * stepMs;
  return fills.find(({ quantity, fromMs, toMs }) => quantity === key && ms >= fromMs && ms < toMs)?.source;
}

function readOut(course: PowerSeries, at: number, timeZone: string): string {
  const flows = READ.map(([key, name]) => `${name} ${wattsText(course[key]?.[at])}`).join(', ');
  return `${clockText(course.startMs + at * course.stepMs, timeZone, course.stepMs)}: ${flows}, charge ${shareText(course.soc?.[at])}`;
}

function wattsText(value: number | undefined): string {
  return value === undefined || Number.isNaN(value) ? 'missing' : `${decimal(value, 0)} W`;
}

function shareText(value: number | undefined): string {
  return value === undefined || Number.isNaN(value) ? 'missing' : `${decimal(value * 100, 0)} %`;
}
