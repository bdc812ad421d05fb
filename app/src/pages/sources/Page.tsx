import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useId, useRef, useState } from 'react';
import { Link } from 'react-router';
import { proxy } from 'comlink';
import { db, type Home } from '../../db/database.js';
import { api, atOf } from '../../store/api.js';
import { useAppDispatch } from '../../store/store.js';
import { save } from '../../ui/download.js';
import { decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { beginIntake, home as homeWorker, type Intake } from '../../workers/client.js';
import type { Found, ImportProgress, ReadSummary, SetAside } from '../../workers/importWorker.js';
import { Checks } from './Checks.js';
import { Review } from './Review.js';
import { SourceEntry } from './SourceEntry.js';
import { Summary } from './Summary.js';

/** What is under way with the files that were dropped. */
interface Stage {
  readonly found: readonly Found[];
  readonly aside: readonly SetAside[];
  readonly summaries: readonly ReadSummary[] | null;
}

const STAGES = { looking: 'Looking at', reading: 'Reading', storing: 'Storing' } as const;

/** The logs of a home: bring more, see how they are read and what was wrong, take one out or back in. */
export default function SourcesPage() {
  const { home, roll } = useOverview();
  const dispatch = useAppDispatch();
  const sources = useLiveQuery(() => db.sources.where('homeId').equals(home.id).toArray(), [home.id]);
  const intake = useRef<Intake | null>(null);
  // A file chosen in the moment in which another is stored waits for it: they share the worker.
  const storing = useRef<Promise<void>>(Promise.resolve());
  const { progress, follow, rest } = useProgress();
  const [stage, setStage] = useState<Stage | null>(null);
  const [said, setSaid] = useState<readonly string[]>([]);
  useEffect(() => () => intake.current?.end(), []);

  const end = (words: readonly string[]) => {
    intake.current?.end();
    intake.current = null;
    rest();
    setStage(null);
    setSaid(words);
  };
  const fail = (logs: readonly { readonly name: string }[], error: unknown) =>
    end([`${logs.map(({ name }) => name).join(', ')}: ${(error as Error).message}`]);
  const read = async (found: readonly Found[], aside: readonly SetAside[]) => {
    const result = await intake.current!.remote.read(
      home,
      found,
      follow({ name: found[0]!.name, share: 0, stage: 'reading' }),
    );
    rest();
    if (!result) end(found.map(({ name }) => `${name}: cancelled; nothing of it was stored.`));
    else setStage({ found, aside: [...aside, ...result.aside], summaries: result.summaries });
  };
  const bring = async (files: readonly File[]) => {
    if (files.length === 0 || progress) return;
    await storing.current;
    end([]);
    try {
      intake.current = beginIntake();
      const looked = await intake.current.remote.look(
        home,
        files,
        follow({ name: files[0]!.name, share: 0, stage: 'looking' }),
      );
      if (!looked) {
        end(files.map(({ name }) => `${name}: cancelled; nothing of it was stored.`));
        return;
      }
      const open = looked.found.some(
        ({ recognition, isRemembered }) => !isRemembered && recognition.conclusions.some(({ asks }) => asks),
      );
      // Where nothing is open the files are read at once; what they are taken for can still be changed.
      if (open || looked.found.length === 0) {
        rest();
        setStage({ ...looked, summaries: null });
      } else {
        await read(looked.found, looked.aside);
      }
    } catch (error) {
      fail(files, error);
    }
  };
  const store = async (summaries: readonly ReadSummary[]) => {
    const refused = await intake.current!.remote.store(
      home,
      follow({ name: summaries[0]!.name, share: 0, stage: 'storing' }),
    );
    end(refused ? refused.problems : summaries.map(({ name }) => `${name} is imported.`));
    dispatch(api.util.invalidateTags([{ type: 'Home', id: home.id }]));
  };
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <div className="max-w-6xl">
        <h1 className="text-xl">Sources of {home.system.name}</h1>
        <DropZone busy={progress !== null} onFiles={(files) => void bring(files)} />
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
            <button
              type="button"
              className="action mt-1"
              onClick={() => void intake.current?.remote.cancel()}
            >
              Cancel
            </button>
          </div>
        )}
        <div aria-live="polite">
          {said.map((words) => (
            <p key={words} className="mt-3 border-l-4 border-ink pl-3">
              {words}{' '}
              {words.endsWith('is imported.') && (
                <Link className="quiet" to={`/h/${home.id}/days`}>
                  See the days
                </Link>
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
            onImport={() => {
              storing.current = store(stage.summaries!).catch((error: unknown) =>
                fail(stage.summaries!, error),
              );
            }}
            onDiscard={() => end(['Nothing was imported.'])}
          />
        )}
        {stage && stage.found.length > 0 && !progress && (
          <Review
            key={stage.found.map(({ id }) => id).join()}
            found={stage.found}
            isRead={stage.summaries !== null}
            onChange={() => setStage({ ...stage, summaries: null })}
            onRead={(found) =>
              void read(
                found,
                stage.aside.filter(({ name }) => !found.some((one) => one.name === name)),
              ).catch((error: unknown) => fail(found, error))
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

/**
 * How far the step under way has come. What a worker reports comes by another port than its result, so a report
 * may arrive after the step is done: it is let go.
 */
function useProgress() {
  const [progress, setProgress] = useState<ImportProgress | null>(null);
  const step = useRef(0);
  const begin = (first: ImportProgress | null) => {
    setProgress(first);
    return ++step.current;
  };
  return {
    progress,
    /** Begins a step; what it returns is told how far the step is. */
    follow: (first: ImportProgress) => {
      const mine = begin(first);
      return proxy((next: ImportProgress) => {
        if (step.current === mine) setProgress(next);
      });
    },
    rest: () => void begin(null),
  };
}

/** The log as the figures see it, corrections and all, in the canonical shape. */
async function saveLog(home: Home): Promise<void> {
  const file = await homeWorker.exported(atOf(home));
  if (file) save(`${home.id}.csv`, file);
}

function Aside({ aside: { name, kind, problems } }: { readonly aside: SetAside }) {
  if (kind === 'known')
    return <p className="mt-3">{name} is here already, with the same size; it was not read again.</p>;
  return (
    <div role="alert" className="mt-3 border-l-4 border-red pl-3">
      <p className="font-semibold">{name} was not imported. Everything stored before is still there.</p>
      {problems.map((problem) => (
        <p key={problem}>{problem}</p>
      ))}
    </div>
  );
}

interface DropProps {
  readonly busy: boolean;
  readonly onFiles: (files: readonly File[]) => void;
}

function DropZone({ busy, onFiles }: DropProps) {
  const id = useId();
  const [over, setOver] = useState(false);
  return (
    <div
      className={`mt-3 border-2 border-dashed p-5 text-center ${over ? 'border-ink bg-selected' : 'border-rule-2'}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        onFiles([...event.dataTransfer.files]);
      }}
    >
      <label htmlFor={id} className="font-semibold">
        Drop log files here, or choose them
      </label>
      <input
        id={id}
        type="file"
        multiple
        accept=".csv,.gz,.txt,.tsv,.zip,.xlsx,.json,.log"
        disabled={busy}
        className="file mx-auto mt-2 block"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = '';
          onFiles(files);
        }}
      />
      <p className="mt-2 text-faint">
        CSV, .gz, .zip, .xlsx or JSON. You see what was recognised before anything is stored; what is stored
        already does not change.
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
