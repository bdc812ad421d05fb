import { isoOf, type OpenedOutage, type ToldOutage } from '@long-tally/core';
import { useParams, useSearchParams } from 'react-router';
import type { CourseMark } from '../../charts/CourseMarks.js';
import { atOf, useOutageQuery } from '../../store/api.js';
import { CourseReader } from '../../ui/CourseReader.js';
import { clockText, decimal, hoursText, momentText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { Line, NotFound, OpenedFrame, shareText } from './OpenedFrame.js';
import { carriedText, evidenceText, expectedHours, expectedText } from './words.js';
import { Table } from '../../ui/Table.js';

/** One outage: power, charge and moments on one axis, and what its first minute let expect against what came. */
export default function OpenedPage() {
  const { home } = useOverview();
  const { at = '' } = useParams();
  const [params] = useSearchParams();
  const search = params.size > 0 ? `?${params.toString()}` : '';
  const list = `/h/${home.id}/outages${search}`;
  const fromMs = Date.parse(at);
  const { data: opened, isFetching } = useOutageQuery(
    { at: atOf(home), fromMs },
    { skip: Number.isNaN(fromMs) },
  );
  const to = (ms: number | null | undefined) =>
    ms == null ? null : `/h/${home.id}/outages/${isoOf(ms)}${search}`;
  if (Number.isNaN(fromMs) || opened === null) return <NotFound what="outage" at={at} list={list} />;
  const { timeZone } = home.system;
  return (
    <OpenedFrame
      title={`${opened?.outage.isPlanned ? 'Planned run' : 'Outage'} of ${momentText(fromMs, timeZone)}`}
      what="outage"
      list={list}
      before={to(opened?.beforeMs)}
      after={to(opened?.afterMs)}
      timeZone={timeZone}
    >
      {opened && !isFetching && <Opened key={at} opened={opened} timeZone={timeZone} />}
    </OpenedFrame>
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
        <Table className="w-full">
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
        </Table>
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

function kWhText(wh: number): string {
  return Number.isNaN(wh) ? 'not measured' : `${decimal(wh / 1000, 2)} kWh`;
}
