import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { useKeys } from '../../ui/useKeys.js';
import { monthOf, neighbour, yearOf } from '../../ui/useRange.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import type { Home } from '../../db/database.js';
import type { Roll } from '../../workers/homeWorker.js';
import { NoteDialog } from '../journal/NoteDialog.js';
import { FindDay } from './FindDay.js';
import { Tally } from './Tally.js';
import { TallyRoll, type RollHandle } from './TallyRoll.js';

/** When the reader has rested on a range for so long, those one key away are drawn up. */
const RESTED_MS = 300;

/** The roll of days with the tally of the selection beside it. */
export default function DaysPage() {
  const { home, roll } = useOverview();
  return roll ? <Days home={home} roll={roll} /> : <NoLog home={home} />;
}

function Days({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, prepare, last, error } = useRangeReport(home, roll);
  const [finding, setFinding] = useState(false);
  const [noting, setNoting] = useState(false);
  const handle = useRef<RollHandle>(null);
  const { timeZone } = home.system;
  const prepareNext = useEffectEvent(() => {
    const all = { from: 0, to: days.length - 1 };
    const near = [all, yearOf(days, range.to), monthOf(days, range.to)];
    const beside = [neighbour(days, range, -1), neighbour(days, range, 1)];
    for (const next of [...near, ...beside]) prepare(next);
  });
  useEffect(() => {
    const rest = window.setTimeout(prepareNext, RESTED_MS);
    return () => window.clearTimeout(rest);
  }, [last.report]);
  useKeys({ '/': () => setFinding(true), n: () => setNoting(true) });
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      <main
        id="view"
        className="grid min-h-0 flex-1 grid-cols-1 lg:grid-cols-[minmax(0,1fr)_340px] xl:grid-cols-[minmax(0,1fr)_412px]"
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
      {finding && (
        <FindDay
          days={days}
          timeZone={timeZone}
          onClose={() => setFinding(false)}
          onFind={(day) => {
            select({ from: day, to: day });
            handle.current?.show(day);
          }}
        />
      )}
    </>
  );
}
