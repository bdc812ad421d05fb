import {
  FLOWS,
  instantOfLocal,
  offsetAt,
  parseReadings,
  readingsText,
  zoneOf,
  type Flow,
  type Reading,
} from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useId, useState } from 'react';
import { Link } from 'react-router';
import { db, type StoredReading } from '../../db/database.js';
import { addReading, addReadings, removeReading } from '../../db/readings.js';
import { checkedRows, readingRow } from '../../db/rows.js';
import { save, stemOf } from '../../ui/download.js';
import { FileButton } from '../../ui/FileButton.js';
import { counted, decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { Labelled } from '../../ui/Labelled.js';
import { useWrite } from '../../ui/useWrite.js';

/** Counters read by hand: when, what each showed, and a note. Totals between two readings are exact. */
export default function ReadingsPage() {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const [taken, setTaken] = useState<string | null>(null);
  const rows =
    useLiveQuery(() => db.readings.where('homeId').equals(home.id).sortBy('atMs'), [home.id]) ?? [];
  const readings = checkedRows(readingRow, rows).good;
  const { timeZone } = home.system;
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <div className="max-w-5xl">
        <h1 className="text-xl">Counter readings of {home.system.name}</h1>
        <p className="mt-1 max-w-3xl">
          Write what each counter shows in kWh, as many as you have; leave the others empty. From the second
          reading on the energy between them counts in every total. Times are those of {timeZone}. Read the
          displays only; open no cover for it.
        </p>
        <ReadingForm timeZone={timeZone} onSave={(reading) => write(() => addReading(home.id, reading))} />
        {failure}
        <div className="mt-3 flex flex-wrap items-baseline gap-x-5">
          {readings.length > 0 && (
            <button
              type="button"
              className="quiet"
              onClick={() =>
                save(`${stemOf(home)}-readings.csv`, new Blob([readingsText(readings)], { type: 'text/csv' }))
              }
            >
              Save the readings
            </button>
          )}
          <FileButton
            label="Add the readings of a file (.csv):"
            accept=".csv,text/csv"
            onFile={async (file) => {
              const read = parseReadings(await file.text(), file.name);
              const written = await addReadings(home.id, read);
              setTaken(
                `${counted(written, 'reading')} of ${read.length} written; the others are here already.`,
              );
            }}
          />
        </div>
        <p role="status">{taken}</p>
        {readings.length === 0 ? (
          <p className="mt-4 text-faint">No reading yet.</p>
        ) : (
          <ReadingTable
            readings={readings}
            timeZone={timeZone}
            onRemove={(reading) => write(() => removeReading(reading))}
          />
        )}
        {readings.length > 1 && (
          <p className="mt-3">
            <Link className="quiet" to={`/h/${home.id}/days`}>
              See the days
            </Link>
          </p>
        )}
      </div>
    </main>
  );
}

interface FormProps {
  readonly timeZone: string;
  /** True when it was written. */
  readonly onSave: (reading: Reading) => Promise<boolean>;
}

const EMPTY: Readonly<Record<Flow, string>> = {
  solar: '',
  load: '',
  import: '',
  export: '',
  charge: '',
  discharge: '',
};

function ReadingForm({ timeZone, onSave }: FormProps) {
  const id = useId();
  const [at, setAt] = useState('');
  const [shown, setShown] = useState(EMPTY);
  const [note, setNote] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const counters = Object.fromEntries(
      FLOWS.flatMap((flow) =>
        shown[flow].trim() === '' ? [] : [[flow, Number(shown[flow].replace(',', '.'))]],
      ),
    ) as Reading['counters'];
    const wrong = FLOWS.find(
      (flow) => counters[flow] !== undefined && !(counters[flow] >= 0 && counters[flow] <= 1e9),
    );
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(at)) setProblem('Choose the date and time of the reading.');
    else if (wrong)
      setProblem(`"${shown[wrong]}" is no reading of the ${wrong} counter: write kWh, for example 12345.6.`);
    else if (Object.keys(counters).length === 0) setProblem('Write what at least one counter shows.');
    else {
      setProblem(null);
      const atMs = instantOfLocal(zoneOf(timeZone), Date.parse(`${at}Z`));
      if (!(await onSave({ atMs, counters, note: note.trim() }))) return;
      setShown(EMPTY);
      setNote('');
    }
  };
  return (
    <form
      className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-4"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <Labelled id={`${id}-at`} text="Read at">
        <input
          id={`${id}-at`}
          type="datetime-local"
          className="field"
          value={at}
          onChange={(event) => setAt(event.target.value)}
        />
      </Labelled>
      {FLOWS.map((flow) => (
        <Labelled key={flow} id={`${id}-${flow}`} text={`${flow} counter, kWh`}>
          <input
            id={`${id}-${flow}`}
            className="field text-right"
            inputMode="decimal"
            value={shown[flow]}
            onChange={(event) => setShown({ ...shown, [flow]: event.target.value })}
          />
        </Labelled>
      ))}
      <Labelled id={`${id}-note`} text="Note">
        <input
          id={`${id}-note`}
          className="field"
          maxLength={500}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </Labelled>
      <button type="submit" className="action self-end justify-self-start">
        Write down
      </button>
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </form>
  );
}

interface TableProps {
  readonly readings: readonly StoredReading[];
  readonly timeZone: string;
  readonly onRemove: (reading: StoredReading) => Promise<unknown>;
}

function ReadingTable({ readings, timeZone, onRemove }: TableProps) {
  const used = FLOWS.filter((flow) => readings.some(({ counters }) => counters[flow] !== undefined));
  const time = (ms: number) =>
    new Date(ms + offsetAt(zoneOf(timeZone), ms)).toISOString().slice(0, 16).replace('T', ' ');
  return (
    <table className="mt-4 w-full border-collapse">
      <thead>
        <tr className="border-b border-rule-2 text-left text-faint">
          <th className="py-1 pr-3 font-normal">read at</th>
          {used.map((flow) => (
            <th key={flow} className="py-1 pr-3 text-right font-normal">
              {flow}, kWh
            </th>
          ))}
          <th className="py-1 pr-3 font-normal">note</th>
          <th>
            <span className="sr-only">strike out</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {readings.map((reading) => (
          <tr key={reading.id} className="border-b border-rule">
            <th scope="row" className="py-1 pr-3 text-left font-normal">
              {time(reading.atMs)}
            </th>
            {used.map((flow) => (
              <td key={flow} className="py-1 pr-3 text-right">
                {reading.counters[flow] === undefined ? '–' : decimal(reading.counters[flow], 1)}
              </td>
            ))}
            <td className="py-1 pr-3">{reading.note}</td>
            <td className="py-1 text-right">
              <button
                type="button"
                className="quiet text-faint"
                aria-label={`Strike out the reading of ${time(reading.atMs)}`}
                onClick={() => void onRemove(reading)}
              >
                strike out
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
