import type { Statement } from '@long-tally/core';
import { useDeferredValue, useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import type { Roll } from '../../protocol.js';
import { atOf, useStatementQuery } from '../../store/api.js';
import { summarySeen } from '../../store/preferences.js';
import { useAppDispatch, useAppSelector } from '../../store/store.js';
import { counted, localDateText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { schoolsFrom } from '../../ui/schools.js';
import { useSettings } from '../../ui/useSettings.js';
import { changesSince, COMPARED, sectionsOf } from './sections.js';

/** What the log of a home says, the most important first, each line leading to its view. */
export default function SummaryPage() {
  const { home, roll } = useOverview();
  return roll ? <Summary home={home} roll={roll} /> : <NoLog home={home} />;
}

function Summary({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { currentData: answer, error } = useStatementQuery({
    at: atOf(home),
    from: days[0]!.date,
    to: days.at(-1)!.date,
  });
  // What is drawn of it may be drawn bit by bit: the page goes on meanwhile.
  const statement = useDeferredValue(answer);
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4" tabIndex={0}>
      <h1 className="text-xl">What the log of {home.system.name} says</h1>
      <p className="text-faint">
        {counted(days.length, 'day')}, the whole history; each value with its interval at about 95 %.
      </p>
      {error ? (
        <p role="alert" className="mt-3">
          {error.message}
        </p>
      ) : statement ? (
        <Sections home={home} roll={roll} statement={statement} />
      ) : (
        <p role="status" className="mt-3 text-faint">
          Going through the whole log …
        </p>
      )}
    </main>
  );
}

interface SectionsProps {
  readonly home: Home;
  readonly roll: Roll;
  readonly statement: Statement;
}

function Sections({ home, roll, statement }: SectionsProps) {
  const dispatch = useAppDispatch();
  const seen = useAppSelector(({ preferences }) => preferences.seen[home.id]);
  // What it was before this visit: what is seen now stands in its place from here on.
  const [before] = useState(seen);
  const [openedAtMs] = useState(() => Date.now());
  const { now } = statement;
  const schools = schoolsFrom(useSettings().leadingSchool);
  useEffect(() => {
    const figures = Object.fromEntries(
      COMPARED.flatMap((key) => (now[key]?.value == null ? [] : [[key, now[key].value]])),
    );
    dispatch(summarySeen({ homeId: home.id, revision: home.revision, atMs: openedAtMs, figures }));
  }, [dispatch, home.id, home.revision, openedAtMs, now]);
  const changes =
    before && before.revision !== home.revision ? changesSince(before.figures, now, schools) : [];
  return (
    <div className="max-w-3xl">
      {changes.length > 0 && (
        <section aria-label="What has changed" className="mt-4 border-l-4 border-margin pl-3">
          <h2 className="text-[16px]">
            What has changed since {localDateText(before!.atMs, home.system.timeZone)}
          </h2>
          <ul>
            {changes.map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        </section>
      )}
      {sectionsOf(statement, roll.days, home.system.currency ?? '', schools).map(
        ({ title, says, path, view }) => (
          <section key={title} aria-label={title} className="mt-4 border-t border-rule-2 pt-1">
            <div className="flex items-baseline justify-between gap-4">
              <h2 className="text-[16px]">{title}</h2>
              <Link className="quiet text-[13px]" to={`/h/${home.id}/${path}`}>
                {view}
              </Link>
            </div>
            <ul>
              {says.map((sentence) => (
                <li key={sentence} className="py-0.5">
                  {sentence}
                </li>
              ))}
            </ul>
          </section>
        ),
      )}
    </div>
  );
}
