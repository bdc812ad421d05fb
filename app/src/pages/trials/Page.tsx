import { countingFile, parseTrialFile, type TrialKind, type TrialStretch } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import { Link, useNavigate } from 'react-router';
import { db } from '../../db/database.js';
import { checkedRows, trialRow } from '../../db/rows.js';
import { addTrial, beginTrial } from '../../db/trials.js';
import { atOf, useTrialResultsQuery, useTrialStretchesQuery, useTrialWorthQuery } from '../../store/api.js';
import { FileButton } from '../../ui/FileButton.js';
import { decimal, localDateText, momentText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useMore } from '../../ui/useMore.js';
import { useWrite } from '../../ui/useWrite.js';
import { firstMs } from './firstMs.js';
import { protocolOf, PROTOCOLS } from './protocols.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

const STATES = { running: 'under way', paused: 'paused', done: 'done', abandoned: 'abandoned' } as const;
const LISTED = 10;

/** Trials: what can be tested and what it would tell, those that were run with their verdicts, and what the log holds. */
export default function TrialsPage() {
  const { home, roll } = useOverview();
  const { write, failure } = useWrite();
  const navigate = useNavigate();
  const rows = useLiveQuery(
    () => db.trials.where('homeId').equals(home.id).reverse().sortBy('madeAt'),
    [home.id],
  );
  const trials = useMemo(() => checkedRows(trialRow, rows ?? []).good, [rows]);
  const files = useMemo(() => trials.map(countingFile), [trials]);
  const { data: answers } = useTrialResultsQuery({ at: atOf(home), files }, { skip: files.length === 0 });
  const { data: worth } = useTrialWorthQuery(atOf(home));
  const ranked: readonly { readonly kind: TrialKind; readonly says?: string }[] = worth ?? PROTOCOLS;
  const { timeZone } = home.system;
  const begin = (kind: TrialKind) =>
    write(async () => {
      const id = await beginTrial(home.id, kind);
      await navigate(`/h/${home.id}/trials/${id}`);
    });
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4" tabIndex={0}>
      <div className="max-w-5xl">
        <h1 className="text-xl">Trials of {home.system.name}</h1>
        <p className="mt-1 max-w-3xl">
          A guided test ends in evidence: readings as they are typed, a result with its interval, and what
          weakens it. Times are those of {timeZone}.
        </p>
        {failure}
        <section aria-label="What can be tested" className="mt-4">
          <h2 className="text-[16px]">What can be tested, and what it would tell</h2>
          <ul>
            {ranked.map(({ kind, says }) => {
              const { title, tells } = protocolOf(kind);
              return (
                <li key={kind} className="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1">
                  <button type="button" className="quiet w-44 text-left" onClick={() => void begin(kind)}>
                    Begin: {title}
                  </button>
                  <span className="min-w-0 flex-1">
                    {says && localized(says)} <span className="text-faint">It tells {tells}.</span>
                  </span>
                </li>
              );
            })}
          </ul>
        </section>
        <p className="mt-2">
          <Link className="quiet" to={`/h/${home.id}/trials/appliances`}>
            What must not run together
          </Link>
          <span className="text-faint">
            : a list of appliances against the limits of the inverter and its legs
          </span>
        </p>
        <section aria-label="Trials" className="mt-5">
          <div className="flex flex-wrap items-baseline gap-x-5">
            <h2 className="text-[16px]">Trials</h2>
            <FileButton
              label="Add a trial file (.json):"
              accept=".json,application/json"
              onFile={async (file) => {
                await addTrial(home.id, parseTrialFile(await file.text(), file.name));
              }}
            />
          </div>
          {trials.length === 0 ? (
            <p className="text-faint">None yet.</p>
          ) : (
            <Table className="w-full text-[13.5px]">
              <thead>
                <tr className="border-b border-rule-2 text-left text-faint">
                  {['trial', 'began', 'state', 'verdict'].map((name) => (
                    <th key={name} scope="col" className="pr-3 font-normal">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {trials.map((one, k) => {
                  const answer = answers?.[k];
                  return (
                    <tr key={one.id} className="border-b border-rule align-top">
                      <th scope="row" className="pr-3 text-left font-normal">
                        <Link className="quiet" to={`/h/${home.id}/trials/${one.id}`}>
                          {one.file.name ?? protocolOf(one.file.kind).title}
                        </Link>
                      </th>
                      <td className="pr-3 whitespace-nowrap">{localDateText(firstMs(one), timeZone)}</td>
                      <td className="pr-3">{STATES[one.state]}</td>
                      <td>
                        {answer &&
                          ('result' in answer ? localized(answer.result.verdict.message) : answer.problem)}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </Table>
          )}
        </section>
        {roll && <FromLog />}
      </div>
    </main>
  );
}

/** Stretches of the log that qualify, best first; one press makes a record of one. */
function FromLog() {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const { data: stretches } = useTrialStretchesQuery(atOf(home));
  const { items, more } = useMore(stretches ?? [], LISTED, 'stretch', home.id);
  const { timeZone } = home.system;
  const keep = ({ kind, from, to }: TrialStretch) =>
    write(() =>
      addTrial(home.id, {
        schema: 'long-tally/trial@1',
        kind,
        from,
        to,
        name: `${protocolOf(kind).title} of the log`,
        readings: [],
      }),
    );
  return (
    <section aria-label="From the log" className="mt-5">
      <h2 className="text-[16px]">What the log already holds</h2>
      {failure}
      {!stretches ? (
        <p role="status" className="text-faint">
          Looking through the log …
        </p>
      ) : stretches.length === 0 ? (
        <p className="text-faint">
          No stretch of the log qualifies: a drawdown needs a fall of the charge by 30 % without a pause.
        </p>
      ) : (
        <>
          <Table className="w-full text-[13.5px]">
            <thead>
              <tr className="border-b border-rule-2 text-left text-faint">
                {['kind', 'from', 'to', 'charge, %', 'energy, kWh', 'what weakens it', 'record'].map(
                  (name) => (
                    <th key={name} scope="col" className="pr-3 font-normal">
                      {name}
                    </th>
                  ),
                )}
              </tr>
            </thead>
            <tbody>
              {items.map((one) => (
                <tr key={`${one.kind} ${one.from}`} className="border-b border-rule align-top">
                  <th scope="row" className="pr-3 text-left font-normal whitespace-nowrap">
                    {protocolOf(one.kind).title}
                  </th>
                  {[one.from, one.to].map((instant) => (
                    <td key={instant} className="pr-3 whitespace-nowrap">
                      {momentText(Date.parse(instant), timeZone)}
                    </td>
                  ))}
                  <td className="pr-3">{one.deltaSoc === null ? '–' : decimal(100 * one.deltaSoc, 0)}</td>
                  <td className="pr-3">{one.delivered === null ? '–' : decimal(one.delivered, 1)}</td>
                  <td className="pr-3 text-faint">
                    {localized(one.checks.find(({ ok }) => ok === false)?.message ?? 'nothing that shows')}
                  </td>
                  <td>
                    <button type="button" className="quiet" onClick={() => void keep(one)}>
                      Keep
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
          {more}
        </>
      )}
    </section>
  );
}
