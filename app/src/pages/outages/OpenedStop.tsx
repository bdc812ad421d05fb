import { isoOf, type OpenedStop } from '@long-tally/core';
import { useParams, useSearchParams } from 'react-router';
import type { CourseMark } from '../../charts/CourseMarks.js';
import { atOf, useStopQuery } from '../../store/api.js';
import { CourseReader } from '../../ui/CourseReader.js';
import { clockText, decimal, momentText, shortTimeText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { Line, NotFound, OpenedFrame, shareText } from './OpenedFrame.js';
import { CAUSES } from './stopWords.js';
import { Table } from '../../ui/Table.js';

/** One stop of the output or transfer to the grid: what each leg carried before it, and how the home came back. */
export default function OpenedStopPage() {
  const { home } = useOverview();
  const { at = '' } = useParams();
  const [params] = useSearchParams();
  const search = params.size > 0 ? `?${params.toString()}` : '';
  const list = `/h/${home.id}/outages${search}`;
  const atMs = Date.parse(at);
  const { data: opened, isFetching } = useStopQuery({ at: atOf(home), atMs }, { skip: Number.isNaN(atMs) });
  const to = (ms: number | null | undefined) =>
    ms == null ? null : `/h/${home.id}/outages/stops/${isoOf(ms)}${search}`;
  if (Number.isNaN(atMs) || opened === null) return <NotFound what="stop" at={at} list={list} />;
  const { timeZone } = home.system;
  const what = opened?.stop.kind === 'transfer' ? 'Load over to the grid on' : 'Stop of the output on';
  return (
    <OpenedFrame
      title={`${what} ${momentText(atMs, timeZone)}`}
      what="stop"
      list={list}
      before={to(opened?.beforeMs)}
      after={to(opened?.afterMs)}
      timeZone={timeZone}
    >
      {opened && !isFetching && <Opened key={at} opened={opened} timeZone={timeZone} />}
    </OpenedFrame>
  );
}

function Opened({ opened, timeZone }: { readonly opened: OpenedStop; readonly timeZone: string }) {
  const { stop, limits, course } = opened;
  const backMs = stop.kind === 'stop' ? stop.restartMs : stop.toMs;
  const kW = (watts: number) => (Number.isNaN(watts) ? 'not known' : `${decimal(watts / 1000, 2)} kW`);
  const duration = backMs === null ? null : shortTimeText((backMs - stop.atMs) / 1000);
  const limitW = stop.kind === 'stop' ? stop.limitW : stop.cause === 'leg' ? limits.perLegW : limits.islandW;
  const marks: CourseMark[] = [
    {
      text: `${stop.kind === 'stop' ? 'dark' : 'on the grid'} ${clockText(stop.atMs, timeZone)}`,
      atMs: stop.atMs,
      ...(backMs === null ? {} : { fromMs: stop.atMs, toMs: backMs }),
    },
    ...(backMs === null ? [] : [{ text: `back ${clockText(backMs, timeZone)}`, atMs: backMs }]),
  ];
  return (
    <>
      <p className="mb-1">
        {stop.kind === 'stop'
          ? `The output stopped by ${CAUSES[stop.cause]}${duration ? `; it came back after ${duration}.` : '; the log ends before it came back.'}`
          : `The grid took the whole load over by ${CAUSES[stop.cause]}, although there was charge left, for ${duration ?? 'the rest of the log'}. Without the grid the home would have gone dark.`}
      </p>
      <CourseReader course={course} timeZone={timeZone} marks={marks}>
        <h2 className="mt-4 text-[15px]">{stop.kind === 'stop' ? 'The stop' : 'The transfer'}</h2>
        <Table className="w-full">
          <tbody>
            <Line name="why" value={CAUSES[stop.cause]} />
            <Line name="load just before" value={kW(stop.loadW)} />
            {stop.legsW.map((watts, k) => (
              <Line key={k} name={`leg ${k + 1}`} value={kW(watts)} />
            ))}
            {limitW !== null && (
              <Line name={stop.cause === 'leg' ? 'limit of a leg' : 'limit'} value={kW(limitW)} />
            )}
            <Line name="charge" value={shareText(stop.soc)} />
            {stop.kind === 'stop' && stop.fault !== null && <Line name="fault" value={stop.fault} />}
            {duration && (
              <Line name={stop.kind === 'stop' ? 'dark for' : 'on the grid for'} value={duration} />
            )}
          </tbody>
        </Table>
        <p className="mt-2">
          {stop.kind === 'stop'
            ? 'Find out why before you restart. Whether the inverter restarts by itself is a setting to decide on.'
            : 'Move a load to the other leg, or do not run it with the others.'}
        </p>
      </CourseReader>
    </>
  );
}
