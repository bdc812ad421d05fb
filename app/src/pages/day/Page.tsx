import type { DayCourse, RollDay } from '@long-tally/core';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { CourseChart } from '../../charts/CourseChart.js';
import { atOf, useDayQuery } from '../../store/api.js';
import { clockText, dateText, decimal, hoursText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useKeys } from '../../ui/useKeys.js';
import { useWidth } from '../../ui/useSize.js';
import { DayNotes } from '../days/DayNotes.js';

/** One day: power and state of charge over its hours, with the moments that matter. */
export default function DayPage() {
  const { home, roll } = useOverview();
  const { date = '' } = useParams();
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const { data: course, isFetching } = useDayQuery({ at: atOf(home), date });
  const days = roll?.days ?? [];
  const index = days.findIndex((day) => day.date === date);
  const search = params.size > 0 ? `?${params.toString()}` : '';
  const to = (by: number) => {
    const day = days[index + by];
    return day ? `/h/${home.id}/day/${day.date}${search}` : null;
  };
  const go = (by: number) => () => {
    const path = to(by);
    if (path) void navigate(path);
  };
  useKeys({ '[': go(-1), ']': go(1), Escape: () => void navigate(`/h/${home.id}/days${search}`) });
  const day = days[index];
  if (!day || course === null) {
    return (
      <main id="view" className="p-6">
        <h1 className="text-xl">No such day</h1>
        <p className="mt-2">
          The log has no day “{date}”.{' '}
          <Link className="quiet" to={`/h/${home.id}/days${search}`}>
            Back to the roll
          </Link>
        </p>
      </main>
    );
  }
  const [before, after] = [to(-1), to(1)];
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-3">
      <div className="flex flex-wrap items-baseline gap-4">
        <h1 className="text-[20px]">{dateText(date, 'long')}</h1>
        {before && (
          <Link className="quiet" to={before}>
            previous day
          </Link>
        )}
        {after && (
          <Link className="quiet" to={after}>
            next day
          </Link>
        )}
        <Link className="quiet" to={`/h/${home.id}/days${search}`}>
          back to the roll
        </Link>
        <span className="text-faint">
          {hoursText((day.toMs - day.fromMs) / 3_600_000)} long · times in {home.system.timeZone}
        </span>
      </div>
      <p className="mb-1 min-h-5">
        <DayNotes notes={day.notes} timeZone={home.system.timeZone} />
      </p>
      {course && !isFetching && (
        <Course key={date} homeId={home.id} course={course} day={day} timeZone={home.system.timeZone} />
      )}
    </main>
  );
}

function Course({
  homeId,
  course,
  day,
  timeZone,
}: {
  readonly homeId: string;
  readonly course: DayCourse;
  readonly day: RollDay;
  readonly timeZone: string;
}) {
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
          <CourseChart course={course} timeZone={timeZone} width={width} at={at} onRead={setAt} />
        )}
      </div>
      <div>
        <h2 className="text-[15px]">
          {at === null ? 'Read-out' : `${clockText(atMs, timeZone)} – ${clockText(atMs + stepMs, timeZone)}`}
        </h2>
        {at === null ? (
          <p className="text-faint">Point at the chart, or focus it and use the arrow keys.</p>
        ) : (
          <ReadOut course={course} at={at} />
        )}
        <h2 className="mt-4 text-[15px]">The day</h2>
        <table className="w-full">
          <tbody>
            <Energy name="solar" value={day.solar} />
            <Energy name="load" value={day.load} />
            <Energy name="import" value={day.import} />
            <Energy name="export" value={day.export} />
            <Energy name="charge" value={day.charge} />
            <Energy name="discharge" value={day.discharge} />
            <Energy name="closing error" value={day.closing} />
          </tbody>
        </table>
        <Link className="quiet" to={`/h/${homeId}/days?from=${day.date}&to=${day.date}`}>
          The day’s figures with their intervals and workings
        </Link>
        <h2 className="mt-4 text-[15px]">Moments</h2>
        <ul className="mt-1 space-y-1">
          <li>
            {course.carriedFromMs === null
              ? 'Solar does not carry the load for a quarter of an hour on this day.'
              : `Solar first carries the load at ${clockText(course.carriedFromMs, timeZone)}.`}
          </li>
          {course.peak && <li>{peakText(course, timeZone)}</li>}
          <li className="text-faint">
            Means over {decimal(stepMs / 60_000, 0)} min hide motor starts, which can be several times higher.
            Configuration: {course.configuration}.
          </li>
        </ul>
      </div>
    </div>
  );
}

function peakText({ peak, limits }: DayCourse, timeZone: string): string {
  const load = `The highest load is ${decimal(peak!.watts / 1000, 2)} kW at ${clockText(peak!.atMs, timeZone)}`;
  const limit = limits.batteryOnlyW ?? limits.continuousW;
  if (limit === null) return `${load}. The inverter's limits are not described.`;
  const name = limits.batteryOnlyW === null ? 'continuous rating' : 'battery-only rating';
  const left = (limit - peak!.watts) / 1000;
  return left >= 0
    ? `${load}: ${decimal(left, 2)} kW below the inverter's ${name} of ${decimal(limit / 1000, 1)} kW.`
    : `${load}: ${decimal(-left, 2)} kW above the inverter's ${name} of ${decimal(limit / 1000, 1)} kW; in an outage it would have tripped.`;
}

function Energy({ name, value }: { readonly name: string; readonly value: number | null }) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="text-left font-normal">
        {name}
      </th>
      <td className="text-right">{value === null ? 'not measured' : `${decimal(value, 2)} kWh`}</td>
    </tr>
  );
}

const READ = [
  ['solar', 'S solar'],
  ['load', 'H load'],
  ['grid', 'G grid'],
  ['battery', 'B battery'],
] as const;

function ReadOut({ course, at }: { readonly course: DayCourse; readonly at: number }) {
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
function fillAt({ fills, startMs, stepMs }: DayCourse, key: string, at: number): string | undefined {
  const ms = startMs + at * stepMs;
  return fills.find(({ quantity, fromMs, toMs }) => quantity === key && ms >= fromMs && ms < toMs)?.source;
}

function readOut(course: DayCourse, at: number, timeZone: string): string {
  const flows = READ.map(([key, name]) => `${name} ${wattsText(course[key]?.[at])}`).join(', ');
  return `${clockText(course.startMs + at * course.stepMs, timeZone)}: ${flows}, charge ${shareText(course.soc?.[at])}`;
}

function wattsText(value: number | undefined): string {
  return value === undefined || Number.isNaN(value) ? 'missing' : `${decimal(value, 0)} W`;
}

function shareText(value: number | undefined): string {
  return value === undefined || Number.isNaN(value) ? 'missing' : `${decimal(value * 100, 0)} %`;
}
