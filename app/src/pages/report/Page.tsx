import { REPORT_KINDS, type ReportLayout } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useDeferredValue, useId, useState } from 'react';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { db, type Home } from '../../db/database.js';
import { saveLayout } from '../../db/layouts.js';
import { checkedRows, layoutRow } from '../../db/rows.js';
import type { Roll } from '../../protocol.js';
import { atOf, useStatementQuery } from '../../store/api.js';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { Labelled } from '../../ui/Labelled.js';
import { NoLog } from '../../ui/NoLog.js';
import { rangeTitle, useRange } from '../../ui/useRange.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useWrite } from '../../ui/useWrite.js';
import { Levels } from './Levels.js';
import { KIND_NAMES, PARTS, PLAIN_LAYOUT } from './parts.js';
import { shortText } from './shortText.js';
import { Written } from './Written.js';
import { Tick } from '../../ui/Tick.js';

/** What a range comes to, set out to be printed, handed on and kept. */
export default function ReportPage() {
  const { home, roll } = useOverview();
  const row = useLiveQuery(() => db.layouts.get(home.id).then((found) => found ?? null), [home.id]);
  if (row === undefined) return null;
  const kept = row ? checkedRows(layoutRow, [row]).good[0]?.layout : undefined;
  return roll ? <Report home={home} roll={roll} kept={kept ?? PLAIN_LAYOUT} /> : <NoLog home={home} />;
}

interface Props {
  readonly home: Home;
  readonly roll: Roll;
  readonly kept: ReportLayout;
}

function Report({ home, roll, kept }: Props) {
  const id = useId();
  const { days } = roll;
  const [range, select] = useRange(days);
  useRangeKeys(days, range, select);
  const { write, failure } = useWrite();
  const [layout, setLayout] = useState(kept);
  const [copied, setCopied] = useState<string | null>(null);
  const change = (part: Partial<ReportLayout>) => {
    const next = { ...layout, ...part };
    setLayout(next);
    void write(() => saveLayout(home.id, next));
  };
  const { currentData: answer, error } = useStatementQuery({
    at: atOf(home),
    from: days[range.from]!.date,
    to: days[range.to]!.date,
  });
  // What is drawn of it may be drawn bit by bit: the page goes on meanwhile.
  const statement = useDeferredValue(answer);
  const title = rangeTitle(days, range);
  const copy = async () => {
    const text = shortText(statement!, home.system.name, title, home.system.currency ?? '', layout.without);
    try {
      await navigator.clipboard.writeText(text);
      setCopied('The short text is in the clipboard.');
    } catch {
      setCopied(text);
    }
  };
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      <div className="grid min-h-0 flex-1 grid-cols-1 md:grid-cols-[minmax(0,1fr)_300px] print:block">
        <main
          id="view"
          className={`min-h-0 min-w-0 overflow-y-auto border-r border-rule-2 px-6 py-4 print:overflow-visible print:border-0 print:p-0 ${layout.paper === 'A4' ? 'paper-a4' : 'paper-letter'}`}
          tabIndex={0}
        >
          {statement ? (
            <Written
              home={home}
              days={days}
              range={range}
              statement={statement}
              layout={layout}
              title={title}
            />
          ) : (
            <>
              <h1 className="text-xl">Report</h1>
              <p role="status" className="text-faint">
                {error
                  ? `The report could not be drawn up: ${error.message ?? 'unknown error'}`
                  : 'Drawing up the report …'}
              </p>
            </>
          )}
        </main>
        <aside
          aria-label="How the report is set out"
          className="overflow-y-auto px-4 py-3 print:hidden"
          tabIndex={0}
        >
          <ChoiceField
            text="What it is for"
            value={layout.kind}
            choices={REPORT_KINDS.map((kind) => [kind, KIND_NAMES[kind]] as const)}
            onChange={(kind) => change({ kind })}
          />
          <div className="mt-2">
            <Labelled id={`${id}-heading`} text="Heading">
              <input
                id={`${id}-heading`}
                className="field"
                maxLength={200}
                placeholder={home.system.name}
                value={layout.heading}
                onChange={(event) => change({ heading: event.target.value })}
              />
            </Labelled>
          </div>
          {layout.kind === 'evidence' && (
            <div className="mt-2">
              <Labelled id={`${id}-claim`} text="What is claimed, with the clauses of the warranty">
                <textarea
                  id={`${id}-claim`}
                  className="field"
                  rows={4}
                  maxLength={20_000}
                  value={layout.claim}
                  onChange={(event) => change({ claim: event.target.value })}
                />
              </Labelled>
            </div>
          )}
          <div className="mt-2">
            <Labelled id={`${id}-remarks`} text="Remarks">
              <textarea
                id={`${id}-remarks`}
                className="field"
                rows={3}
                maxLength={20_000}
                value={layout.remarks}
                onChange={(event) => change({ remarks: event.target.value })}
              />
            </Labelled>
          </div>
          <fieldset className="mt-3">
            <legend className="text-[12.5px] text-faint">Parts</legend>
            {PARTS[layout.kind].map(([part, name]) => (
              <Tick
                key={part}
                className="border-b border-rule py-0.5"
                checked={!layout.without.includes(part)}
                onChange={(isIn) =>
                  change({
                    without: isIn ? layout.without.filter((one) => one !== part) : [...layout.without, part],
                  })
                }
              >
                {name}
              </Tick>
            ))}
          </fieldset>
          {layout.kind === 'statement' && (
            <Levels levels={layout.levels ?? {}} onChange={(levels) => change({ levels })} />
          )}
          <div className="mt-2">
            <ChoiceField
              text="Paper"
              value={layout.paper}
              choices={[
                ['A4', 'A4'],
                ['Letter', 'Letter'],
              ]}
              onChange={(paper) => change({ paper })}
            />
          </div>
          <p className="mt-3 flex flex-col items-start gap-1">
            <button type="button" className="action" disabled={!statement} onClick={() => window.print()}>
              Print, or save as PDF
            </button>
            <button type="button" className="quiet" disabled={!statement} onClick={() => void copy()}>
              Copy a short text
            </button>
          </p>
          {failure}
          <p role="status" className="mt-1 text-[12.5px] whitespace-pre-wrap">
            {copied}
          </p>
          <p className="mt-3 text-[12.5px] text-faint">
            How it is set out is kept with the home and in its book. Every file byte by byte goes with the
            book, which the System view saves.
          </p>
        </aside>
      </div>
    </>
  );
}
