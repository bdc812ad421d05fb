import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect } from 'react';
import { Link } from 'react-router';
import { db, type Home } from '../../db/database.js';
import { checkedRows, sourceRow } from '../../db/rows.js';
import { atOf } from '../../store/api.js';
import { save, stemOf } from '../../ui/download.js';
import { FileDrop } from '../../ui/FileDrop.js';
import { decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { askHome } from '../../workers/client.js';
import type { SetAside } from '../../protocol.js';
import {
  bringFiles,
  cancelImport,
  endImport,
  forgetSaid,
  readAgain,
  readFiles,
  storeFiles,
  useImport,
} from '../../workers/imports.js';
import { Checks } from './Checks.js';
import { Review } from './Review.js';
import { SourceEntry } from './SourceEntry.js';
import { Summary } from './Summary.js';

const STAGES = { looking: 'Looking at', reading: 'Reading', storing: 'Storing' } as const;

/** The logs of a home: bring more, see how they are read and what was wrong, take one out or back in. */
export default function SourcesPage() {
  const { home, roll } = useOverview();
  const rows = useLiveQuery(() => db.sources.where('homeId').equals(home.id).toArray(), [home.id]);
  const sources = rows && checkedRows(sourceRow, rows).good;
  const { progress, stage, said } = useImport(home.id);
  useEffect(() => () => forgetSaid(home.id), [home.id]);
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <div className="max-w-6xl">
        <h1 className="text-xl">Sources of {home.system.name}</h1>
        <DropZone onFiles={(files) => void bringFiles(home, files)} />
        {progress && (
          <div role="status" className="mt-3">
            <p>
              {STAGES[progress.stage]} {progress.name}: {decimal(progress.share * 100, 0)} %
            </p>
            <progress
              max={1}
              value={progress.share}
              aria-label={`Import of ${progress.name}`}
              className="w-full"
            />
            <button type="button" className="action mt-1" onClick={() => cancelImport(home.id)}>
              Cancel
            </button>
          </div>
        )}
        <div aria-live="polite">
          {said.map((words) => (
            <p key={words} className="mt-3 border-l-4 border-ink pl-3">
              {words}{' '}
              {words.endsWith('is imported.') && (
                <>
                  <Link className="quiet" to={`/h/${home.id}/summary`}>
                    See what it says
                  </Link>{' '}
                  <Link className="quiet" to={`/h/${home.id}/days`}>
                    See the days
                  </Link>
                </>
              )}
            </p>
          ))}
          {stage?.aside.map((aside) => (
            <Aside key={aside.name} aside={aside} />
          ))}
        </div>
        {stage?.summaries && !progress && (
          <Summary
            summaries={stage.summaries}
            timeZone={home.system.timeZone}
            onImport={(corrections) => void storeFiles(home, stage.summaries!, corrections)}
            onDiscard={() => endImport(home.id, ['Nothing was imported.'])}
          />
        )}
        {stage && stage.found.length > 0 && !progress && (
          <Review
            key={stage.found.map(({ id }) => id).join()}
            found={stage.found}
            isRead={stage.summaries !== null}
            onChange={() => readAgain(home.id)}
            onRead={(found) =>
              void readFiles(
                home,
                found,
                stage.aside.filter(({ name }) => !found.some((one) => one.name === name)),
              )
            }
          />
        )}
        <p className="mt-3 flex gap-x-5">
          <Link className="quiet" to={`/h/${home.id}/readings`}>
            Type in counter readings
          </Link>
          {roll && (
            <button type="button" className="quiet" onClick={() => void saveLog(home)}>
              Save the log of all sources
            </button>
          )}
        </p>
        <h2 className="mt-6 text-[16px]">What is here</h2>
        {sources?.length === 0 && <p className="text-faint">No log yet.</p>}
        {sources?.map((source) => (
          <SourceEntry key={source.id} source={source} timeZone={home.system.timeZone} />
        ))}
        <Checks home={home} />
        <Shapes />
      </div>
    </main>
  );
}

/** The log as the figures see it, corrections and all, in the canonical shape; energies without a course beside it. */
async function saveLog(home: Home): Promise<void> {
  const { log, totals } = await askHome((worker) => worker.exported(atOf(home)));
  if (log) save(`${stemOf(home)}.csv`, log);
  if (totals) save(`${stemOf(home)}-totals.csv`, totals);
}

function Aside({ aside: { name, kind, problems } }: { readonly aside: SetAside }) {
  if (kind === 'known')
    return <p className="mt-3">{name} is here already, with the same contents; it was not read again.</p>;
  if (kind === 'put-back')
    return <p className="mt-3">{name} was taken out before; it counts again from here on.</p>;
  if (kind === 'left-out') return <p className="mt-3">{problems.join(' ')}</p>;
  return (
    <div role="alert" className="mt-3 border-l-4 border-red pl-3">
      <p className="font-semibold">{name} was not imported. Everything stored before is still there.</p>
      {problems.map((problem) => (
        <p key={problem}>{problem}</p>
      ))}
    </div>
  );
}

/** Takes files at any time: while others are read, the import says so of them, and none is lost without a word. */
function DropZone({ onFiles }: { readonly onFiles: (files: readonly File[]) => void }) {
  return (
    <div className="mt-3 border-2 border-dashed border-rule-2 text-center">
      <FileDrop
        label="Drop log files here, or choose them"
        labelClass="font-semibold"
        accept=".csv,.gz,.txt,.tsv,.zip,.xlsx,.json,.log"
        isMany
        onFiles={onFiles}
        className="flex flex-col items-center gap-1.5 px-5 pt-5 pb-2"
      />
      <p className="px-5 pb-4 text-faint">
        CSV, .gz, .zip, .xlsx or JSON; they may be dropped anywhere on the window. You see what was recognised
        before anything is stored; what is stored already does not change.
      </p>
    </div>
  );
}

function Shapes() {
  return (
    <>
      <h2 className="mt-6 text-[16px]">The shape of a log</h2>
      <p className="mt-1 max-w-4xl">
        Any table with a row for each interval is looked at: its columns, units, signs and clock are found by
        what the rows say, and what they leave open you are asked. Daily or monthly totals and counter
        readings count in totals. A log of this shape is read without a question; an empty cell is missing:
      </p>
      <pre className="mt-2 overflow-x-auto border border-rule-2 bg-paper-2 p-2 text-[12.5px]" tabIndex={0}>
        {'time,solar_w,load_w,grid_w,battery_w,soc_pct\n2024-06-30T12:00:00+12:00,2140,610,-12,-1498,74\n'}
      </pre>
      <p className="mt-1 max-w-4xl">
        grid_w: + import, − export. battery_w: + discharge, − charge. Also read: battery_dc_w, battery_temp_c,
        outdoor_temp_c, battery_v, battery_a, grid_v, grid_hz, grid_up, leg1_w to leg3_w, a named load as{' '}
        <code>heat pump_load_w</code>, fault.
      </p>
    </>
  );
}
