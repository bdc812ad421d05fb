import { parseReadings, readingsText } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { Link } from 'react-router';
import { db, type StoredReading } from '../../db/database.js';
import { addReading, addReadings, changeReading, putBackReading, removeReading } from '../../db/readings.js';
import { checkedRows, readingRow } from '../../db/rows.js';
import { save, stemOf } from '../../ui/download.js';
import { FileButton } from '../../ui/FileButton.js';
import { clockOf, counted } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useWrite } from '../../ui/useWrite.js';
import { ReadingForm } from './ReadingForm.js';
import { ReadingTable } from './ReadingTable.js';

/** Counters read by hand: when, what each showed, and a note. Totals between two readings are exact. */
export default function ReadingsPage() {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const [taken, setTaken] = useState<string | null>(null);
  const [edited, setEdited] = useState<StoredReading | null>(null);
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
          reading on the energy between them counts in every total; the charge read with them narrows the
          losses. Times are those of {timeZone}. Read the displays only; open no cover for it.
        </p>
        <ReadingForm
          key={edited?.id ?? 'new'}
          timeZone={timeZone}
          edited={edited}
          onCancel={() => setEdited(null)}
          onSave={async (reading) => {
            const isWritten = await write(() =>
              edited ? changeReading(edited, reading) : addReading(home.id, reading),
            );
            if (isWritten) setEdited(null);
            return isWritten;
          }}
        />
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
            onEdit={setEdited}
            onRemove={(reading) =>
              write(() => removeReading(reading), {
                says: 'A reading is struck out.',
                undo: () => putBackReading(reading),
              })
            }
          />
        )}
        {readings.length > 1 && (
          <p className="mt-3">
            <Link
              className="quiet"
              to={`/h/${home.id}/days?from=${clockOf(readings[0]!.atMs, timeZone).slice(0, 10)}&to=${clockOf(readings.at(-1)!.atMs, timeZone).slice(0, 10)}`}
            >
              See the days
            </Link>
          </p>
        )}
      </div>
    </main>
  );
}
