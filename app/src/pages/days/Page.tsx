import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { useKeys } from '../../ui/useKeys.js';
import { monthOf, neighbour, yearOf } from '../../ui/useRange.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import type { Home } from '../../db/database.js';
import type { Roll } from '../../protocol.js';
import { NoteDialog } from '../journal/NoteDialog.js';
import { Tally } from './Tally.js';
import { TallyRoll, type RollHandle } from './TallyRoll.js';

/** When the reader has rested on a range for so long, those one key away are drawn up, one after another. */
const RESTED_MS = 300;
/** Between them the worker is free for what the reader asks for. */
const APART_MS = 40;

/** The roll of days with the tally of the selection beside it. */
export default function DaysPage() {
  const { home, roll } = useOverview();
  return roll ? <Days home={home} roll={roll} /> : <NoLog home={home} />;
}

function Days({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, prepare, last, error } = useRangeReport(home, roll);
  const [noting, setNoting] = useState(false);
  const handle = useRef<RollHandle>(null);
  const { timeZone } = home.system;
  const prepareNext = useEffectEvent((turn: number) => {
    const { length } = days;
    const near = [monthOf(days, range.to), yearOf(days, range.to), { from: 0, to: length - 1 }];
    const beside = [neighbour(days, range, -1), neighbour(days, range, 1)];
    const lines = [range.to - 1, range.to + 1]
      .filter((day) => day >= 0 && day < length)
      .map((day) => ({ from: day, to: day }));
    const next = [...beside, ...near, ...lines][turn];
    if (next) prepare(next);
  });
  useEffect(() => {
    const turns = Array.from({ length: 7 }, (_, turn) =>
      window.setTimeout(() => prepareNext(turn), RESTED_MS + turn * APART_MS),
    );
    return () => turns.forEach((turn) => window.clearTimeout(turn));
  }, [last.report]);
  useKeys({ n: () => setNoting(true) });
  // The search leads here with a day, which is to be seen and not only selected.
  const { state } = useLocation() as { readonly state: { readonly shown?: string } | null };
  useEffect(() => {
    const day = days.findIndex(({ date }) => date === state?.shown);
    if (day >= 0) handle.current?.show(day);
  }, [state, days]);
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      <main
        id="view"
        className="grid min-h-0 flex-1 grid-cols-1 print:block max-lg:grid-rows-[minmax(20rem,55vh)_auto] max-lg:overflow-y-auto lg:grid-cols-[minmax(0,1fr)_340px] xl:grid-cols-[minmax(0,1fr)_412px]"
      >
        <TallyRoll
          ref={handle}
          roll={roll}
          timeZone={timeZone}
          range={range}
          drawn={last.report ? last.range : range}
          onSelect={select}
        />
        {last.report ? (
          <Tally report={last.report} days={days} range={last.range} />
        ) : (
          <p role="status" className="p-5 text-faint">
            {error === null ? 'Drawing up the tally …' : `The tally could not be drawn up: ${error}`}
          </p>
        )}
      </main>
      {noting && (
        <NoteDialog
          homeId={home.id}
          timeZone={timeZone}
          fromMs={days[range.from]!.fromMs}
          toMs={days[range.to]!.toMs}
          onClose={() => setNoting(false)}
        />
      )}
    </>
  );
}
