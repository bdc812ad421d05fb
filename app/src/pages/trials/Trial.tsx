import { configurationsOf, countingFile, parseInstant } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { db, type StoredTrial } from '../../db/database.js';
import { addNote } from '../../db/journal.js';
import { checkedRows, trialRow } from '../../db/rows.js';
import { addTrialReading, removeTrial, setTrialState, strikeTrialReading } from '../../db/trials.js';
import { atOf, useTrialResultsQuery } from '../../store/api.js';
import { save, stemOf } from '../../ui/download.js';
import { decimal, degreesTyped, degreeUnit, momentText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useWrite } from '../../ui/useWrite.js';
import { Before } from './Before.js';
import { firstMs } from './firstMs.js';
import { Outcome } from './Outcome.js';
import { Pictures } from './Pictures.js';
import { protocolOf, type Protocol } from './protocols.js';
import { TrialReadingForm } from './TrialReadingForm.js';

/** One trial: its steps with their cautions, its readings, and what it gives so far. It survives reloads and closed tabs. */
export default function TrialPage() {
  const { home } = useOverview();
  const { trialId = '' } = useParams();
  const rows = useLiveQuery(() => db.trials.where('homeId').equals(home.id).toArray(), [home.id]);
  const trials = rows && checkedRows(trialRow, rows).good;
  const trial = trials?.find(({ id }) => id === Number(trialId));
  const earlier = trial && before(trial, trials!);
  if (!rows) return null;
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4" tabIndex={0}>
      <div className="max-w-5xl">
        <Link className="quiet print:hidden" to={`/h/${home.id}/trials`}>
          All trials
        </Link>
        {trial ? (
          <Opened trial={trial} earlier={earlier ?? null} />
        ) : (
          <p className="mt-3">This trial is not here; it may have been taken out.</p>
        )}
      </div>
    </main>
  );
}

/** The trial of the same kind that was done last before one. */
function before(trial: StoredTrial, trials: readonly StoredTrial[]): StoredTrial | undefined {
  return trials
    .filter(
      (one) => one.state === 'done' && one.file.kind === trial.file.kind && firstMs(one) < firstMs(trial),
    )
    .sort((one, other) => firstMs(other) - firstMs(one))[0];
}

interface OpenedProps {
  readonly trial: StoredTrial;
  readonly earlier: StoredTrial | null;
}

function Opened({ trial, earlier }: OpenedProps) {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const navigate = useNavigate();
  const { id, file, struck, state } = trial;
  const protocol = protocolOf(file.kind);
  const { timeZone } = home.system;
  const files = useMemo(() => [trial, ...(earlier ? [earlier] : [])].map(countingFile), [trial, earlier]);
  const hasWhen = file.from !== undefined || files[0]!.readings.length > 1;
  const { data: answers } = useTrialResultsQuery({ at: atOf(home), files }, { skip: !hasWhen });
  const [answer, answerBefore] = answers ?? [];
  const isOpen = state === 'running' || state === 'paused';
  const mostW = configurationsOf(home.system).at(-1)!.limits.continuousW;
  const intoJournal = () =>
    write(() => {
      const instants = [file.from, file.to, ...file.readings.map(({ at }) => at)].flatMap((text) =>
        text === undefined ? [] : [parseInstant(text)],
      );
      return addNote(home.id, {
        fromMs: Math.min(...instants),
        toMs: Math.max(...instants),
        kind: 'test',
        text: file.name ?? protocol.title,
        leaveOut: false,
      });
    });
  return (
    <>
      <h1 className="mt-1 text-xl">{file.name ?? protocol.title}</h1>
      <p className="text-faint">
        It tells {protocol.tells}. {state === 'paused' && 'It is paused.'}
        {state === 'abandoned' && 'It was abandoned.'}
      </p>
      {/* Above what is computed: it does not move away from a pointer when a result arrives. */}
      <p className="mt-2 flex flex-wrap gap-4 print:hidden">
        {state === 'running' && (
          <>
            <button
              type="button"
              className="action"
              onClick={() => void write(() => setTrialState(id, 'done'))}
            >
              End the trial
            </button>
            <button
              type="button"
              className="quiet"
              onClick={() => void write(() => setTrialState(id, 'paused'))}
            >
              Pause
            </button>
            <button
              type="button"
              className="quiet text-faint"
              onClick={() => void write(() => setTrialState(id, 'abandoned'))}
            >
              Abandon
            </button>
          </>
        )}
        {state !== 'running' && (
          <button
            type="button"
            className="quiet"
            onClick={() => void write(() => setTrialState(id, 'running'))}
          >
            Go on with it
          </button>
        )}
        {state === 'done' && (hasWhen || struck.length > 0) && (
          <button type="button" className="quiet" onClick={() => void intoJournal()}>
            Write it into the journal as a test
          </button>
        )}
        <button type="button" className="quiet" onClick={() => window.print()}>
          Print
        </button>
        <button
          type="button"
          className="quiet"
          onClick={() =>
            save(
              `${stemOf(home)}-${file.kind}.json`,
              new Blob([`${JSON.stringify(countingFile(trial), null, 1)}\n`], { type: 'application/json' }),
            )
          }
        >
          Save as a file
        </button>
        {!isOpen && (
          <button
            type="button"
            className="quiet text-red"
            onClick={() =>
              void write(async () => {
                await removeTrial(trial);
                await navigate(`/h/${home.id}/trials`);
              })
            }
          >
            Take it out for good
          </button>
        )}
      </p>
      {isOpen && <Steps protocol={protocol} readings={file.readings.length} />}
      {failure}
      {state === 'running' && (
        <TrialReadingForm
          fields={protocol.fields}
          timeZone={timeZone}
          mostW={mostW}
          onSave={(reading) => write(() => addTrialReading(id, reading))}
        />
      )}
      {answer &&
        ('result' in answer ? (
          <Outcome result={answer.result} timeZone={home.system.timeZone} />
        ) : (
          <p role="alert">{answer.problem}</p>
        ))}
      {earlier && answer && 'result' in answer && answerBefore && 'result' in answerBefore && (
        <Before earlier={earlier} before={answerBefore.result} after={answer.result} timeZone={timeZone} />
      )}
      {file.readings.length > 0 && (
        <Readings
          trial={trial}
          timeZone={timeZone}
          onStrike={
            isOpen
              ? (place) =>
                  void write(() => strikeTrialReading(id, place), {
                    says: 'A reading of the trial is changed.',
                    undo: () => strikeTrialReading(id, place),
                  })
              : null
          }
        />
      )}
      {state === 'done' && protocol.after.length > 0 && (
        <ul className="mt-3 list-disc pl-5 text-[13px]" aria-label="Afterwards">
          {protocol.after.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
    </>
  );
}

/** The step that is due, with its cautions: before the first reading, and while it runs. */
function Steps({ protocol, readings }: { readonly protocol: Protocol; readonly readings: number }) {
  const [title, items] =
    readings === 0
      ? (['Before you begin', protocol.before] as const)
      : (['While it runs', protocol.during] as const);
  return (
    <section aria-label={title} className="mt-3 border-l-4 border-margin pl-3">
      <h2 className="text-[15px]">{title}</h2>
      <ul className="list-disc pl-5">
        {items.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      <p className="text-[13px] text-faint">
        Local codes, the equipment’s manual and licensed practice come first; the warranty’s own terms too.
      </p>
    </section>
  );
}

const UNITS: Readonly<Record<string, string>> = {
  soc: '% charge',
  dischargeKWh: 'kWh out',
  chargeKWh: 'kWh in',
  solarKWh: 'kWh solar',
  importKWh: 'kWh import',
  exportKWh: 'kWh export',
  loadKWh: 'kWh load',
  loadW: 'W load',
  solarW: 'W solar',
  batteryW: 'W battery',
  hz: 'Hz',
};

interface ReadingsProps {
  readonly trial: StoredTrial;
  readonly timeZone: string;
  readonly onStrike: ((place: number) => void) | null;
}

function Readings({ trial, timeZone, onStrike }: ReadingsProps) {
  const { file, struck } = trial;
  return (
    <section aria-label="Readings" className="mt-4">
      <h2 className="text-[16px]">Readings</h2>
      <ol className="text-[13.5px]">
        {file.readings.map((one, place) => {
          const atMs = parseInstant(one.at);
          const isStruck = struck.includes(place);
          const shown = Object.entries(UNITS).flatMap(([key, unit]) => {
            const value = one[key as keyof typeof one];
            if (typeof value !== 'number') return [];
            return [
              `${key === 'soc' ? decimal(100 * value, Number.isInteger(Math.round(1000 * value) / 10) ? 0 : 1) : value} ${unit}`,
            ];
          });
          if (one.batteryC !== undefined) shown.push(`${degreesTyped(one.batteryC)} ${degreeUnit()}`);
          return (
            <li
              key={place}
              className={`flex flex-wrap items-baseline gap-x-3 border-b border-rule ${isStruck ? 'text-faint line-through' : ''}`}
            >
              <span className="whitespace-nowrap">{momentText(atMs, timeZone)}</span>
              <span>
                {[
                  ...(one.appliance ? [one.appliance] : []),
                  ...shown,
                  ...(one.legW ? [`${one.legW.join(' · ')} W legs`] : []),
                  ...(one.isTapered ? ['truly full'] : []),
                  ...(one.event && one.event !== 'none' ? [one.event] : []),
                  ...(one.note ? [one.note] : []),
                ].join(', ')}
              </span>
              {onStrike && (
                <button
                  type="button"
                  className="quiet text-faint print:hidden"
                  onClick={() => onStrike(place)}
                >
                  {isStruck ? 'Let it count' : 'Strike out'}
                </button>
              )}
              <Pictures trial={trial} place={place} isOpen={onStrike !== null} />
            </li>
          );
        })}
      </ol>
    </section>
  );
}
