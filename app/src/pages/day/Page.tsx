import { stepText, type DayWeather, type PowerSeries, type RollDay } from '@long-tally/core';
import { groups } from 'd3';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { atOf, useDayQuery } from '../../store/api.js';
import { CourseReader } from '../../ui/CourseReader.js';
import { clockText, counted, dateText, decimal, hoursText, temperatureText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useKeys } from '../../ui/useKeys.js';
import { DayNotes } from '../days/DayNotes.js';
import { Table } from '../../ui/Table.js';

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
        <Course
          key={date}
          homeId={home.id}
          course={course}
          day={day}
          timeZone={home.system.timeZone}
          currency={home.system.currency ?? ''}
        />
      )}
    </main>
  );
}

function Course({
  homeId,
  course,
  day,
  timeZone,
  currency,
}: {
  readonly homeId: string;
  readonly course: PowerSeries;
  readonly day: RollDay;
  readonly timeZone: string;
  readonly currency: string;
}) {
  const faults = groups(course.faults, ({ text }) => text);
  return (
    <CourseReader course={course} timeZone={timeZone}>
      <h2 className="mt-4 text-[15px]">The day</h2>
      <Table className="w-full">
        <tbody>
          <Energy name="solar" value={day.solar} />
          <Energy name="load" value={day.load} />
          <Energy name="import" value={day.import} />
          <Energy name="export" value={day.export} />
          <Energy name="charge" value={day.charge} />
          <Energy name="discharge" value={day.discharge} />
          <Energy name="closing error" value={day.closing} />
        </tbody>
      </Table>
      {day.weather && <Weather weather={day.weather} currency={currency} />}
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
          Means over {stepText(course.stepMs)} hide motor starts, which can be several times higher.
          Configuration: {course.configuration}.
        </li>
        {faults.map(([text, runs]) => (
          <li key={text}>
            The equipment reported “{text}” {counted(runs.length, 'time')}, first at{' '}
            {clockText(runs[0]!.fromMs, timeZone, course.stepMs)}.
          </li>
        ))}
      </ul>
    </CourseReader>
  );
}

function peakText({ peak, limits }: PowerSeries, timeZone: string): string {
  const load = `The highest load is ${decimal(peak!.watts / 1000, 2)} kW at ${clockText(peak!.atMs, timeZone)}`;
  const limit = limits.islandW;
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

function Weather({ weather, currency }: { readonly weather: DayWeather; readonly currency: string }) {
  const { temperature, rainMm, irradiation, cost } = weather;
  return (
    <>
      <h2 className="mt-4 text-[15px]">The weather, as logged</h2>
      <ul className="mb-1">
        {temperature && (
          <li>
            outdoors {temperatureText(temperature.mean, 1)} on average, from{' '}
            {temperatureText(temperature.low, 1)} to {temperatureText(temperature.high, 1)}
          </li>
        )}
        {rainMm !== null && <li>rain {decimal(rainMm, 1)} mm</li>}
        {irradiation !== null && <li>sun on the sensor {decimal(irradiation, 2)} kWh/m²</li>}
        {cost !== null && (
          <li>
            cost in the log {decimal(cost, 2)} {currency}
          </li>
        )}
      </ul>
    </>
  );
}
