import { isoOf, type OpenedOutage, type ToldOutage } from '@long-tally/core';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { CourseMark } from '../../charts/CourseChart.js';
import { atOf, useOutageQuery } from '../../store/api.js';
import { CourseReader } from '../../ui/CourseReader.js';
import { clockText, decimal, hoursText, localDateText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useKeys } from '../../ui/useKeys.js';
import { carriedText, evidenceText, expectedHours, expectedText } from './words.js';

/** One outage: power, charge and moments on one axis, and what its first minute let expect against what came. */
export default function OpenedPage() {
  const { home } = useOverview();
  const { at = '' } = useParams();
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const search = params.size > 0 ? `?${params.toString()}` : '';
  const list = `/h/${home.id}/outages${search}`;
  const fromMs = Date.parse(at);
  const { data: opened, isFetching } = useOutageQuery(
    { at: atOf(home), fromMs },
    { skip: Number.isNaN(fromMs) },
  );
  const to = (ms: number | null | undefined) =>
    ms == null ? null : `/h/${home.id}/outages/${isoOf(ms)}${search}`;
  const [before, after] = [to(opened?.beforeMs), to(opened?.afterMs)];
  useKeys({
    '[': () => before && void navigate(before),
    ']': () => after && void navigate(after),
    Escape: () => void navigate(list),
  });
  if (Number.isNaN(fromMs) || opened === null)
    return (
      <main id="view" className="p-6">
        <h1 className="text-xl">No such outage</h1>
        <p className="mt-2">
          No outage of this log begins at “{at}”.{' '}
          <Link className="quiet" to={list}>
            Back to the ledger
          </Link>
        </p>
      </main>
    );
  const { timeZone } = home.system;
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-3">
      <div className="flex flex-wrap items-baseline gap-4">
        <h1 className="text-[20px]">
          {opened?.outage.isPlanned ? 'Planned run' : 'Outage'} of {localDateText(fromMs, timeZone)},{' '}
          {clockText(fromMs, timeZone)}
        </h1>
        {before && (
          <Link className="quiet" to={before}>
            previous outage
          </Link>
        )}
        {after && (
          <Link className="quiet" to={after}>
            next outage
          </Link>
        )}
        <Link className="quiet" to={list}>
          back to the ledger
        </Link>
        <span className="text-faint">times in {timeZone}</span>
      </div>
      {opened && !isFetching ? (
        <Opened key={at} opened={opened} timeZone={timeZone} />
      ) : (
        <p role="status" className="text-faint">
          Opening the outage …
        </p>
      )}
    </main>
  );
}

function Opened({ opened, timeZone }: { readonly opened: OpenedOutage; readonly timeZone: string }) {
  const { outage, course } = opened;
  const { expected } = outage;
  return (
    <>
      <p className="mb-1">
        {expectedText(outage)} {carriedText(outage)}
      </p>
      <CourseReader course={course} timeZone={timeZone} marks={marksOf(outage, timeZone)}>
        <h2 className="mt-4 text-[15px]">The outage</h2>
        <table className="w-full">
          <tbody>
            <Line name="without the grid" value={hoursText((outage.toMs - outage.fromMs) / 3_600_000)} />
            <Line name="known by" value={evidenceText(outage)} />
            <Line name="charge" value={`${shareText(outage.socStart)} → ${shareText(outage.socEnd)}`} />
            {!Number.isNaN(outage.lowestMs) && (
              <Line
                name="lowest charge"
                value={`${shareText(outage.socLowest)} at ${clockText(outage.lowestMs, timeZone)}`}
              />
            )}
            <Line name="load" value={kWhText(outage.loadWh)} />
            <Line name="solar" value={kWhText(outage.solarWh)} />
            <Line name="battery" value={kWhText(outage.batteryWh)} />
            <Line
              name="highest load"
              value={Number.isNaN(outage.peakW) ? 'not measured' : `${decimal(outage.peakW / 1000, 2)} kW`}
            />
            <Line
              name="without power"
              value={outage.unservedS > 0 ? hoursText(outage.unservedS / 3600) : 'never'}
            />
          </tbody>
        </table>
        {expected?.charge && (
          <p className="mt-2">
            By the load and sun that there were the charge would have come to{' '}
            {shareText(expected.charge.reckoned.value)} ({shareText(expected.charge.reckoned.low)} to{' '}
            {shareText(expected.charge.reckoned.high)}); it came to {shareText(expected.charge.was)}.
          </p>
        )}
        {outage.heldBack && (
          <p className="mt-2">Solar was held back: the battery was full and the home needed less.</p>
        )}
      </CourseReader>
    </>
  );
}

function marksOf(outage: ToldOutage, timeZone: string): CourseMark[] {
  const { fromMs, darkMs, restartMs, expected } = outage;
  const at = (hours: number) => fromMs + hours * 3_600_000;
  return [
    ...(expected?.expectedH
      ? [
          {
            text: `expected to last ${expectedHours(expected.expectedH.value)}`,
            atMs: at(expected.expectedH.value),
            fromMs: at(expected.expectedH.low),
            toMs: at(expected.expectedH.high),
          },
        ]
      : []),
    ...(darkMs === null ? [] : [{ text: `home dark ${clockText(darkMs, timeZone)}`, atMs: darkMs }]),
    ...(restartMs === null
      ? []
      : [{ text: `power again ${clockText(restartMs, timeZone)}`, atMs: restartMs }]),
  ];
}

function Line({ name, value }: { readonly name: string; readonly value: string }) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="text-left font-normal">
        {name}
      </th>
      <td className="text-right">{value}</td>
    </tr>
  );
}

function kWhText(wh: number): string {
  return Number.isNaN(wh) ? 'not measured' : `${decimal(wh / 1000, 2)} kWh`;
}

function shareText(soc: number): string {
  return Number.isNaN(soc) ? 'not known' : `${decimal(100 * soc, 0)} %`;
}
