import { journalText, NOTE_KINDS, parseJournal, type JournalNote } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { Link } from 'react-router';
import { db, type StoredNote } from '../../db/database.js';
import { addNote, addNotes, changeNote, putBackNote, removeNote } from '../../db/journal.js';
import { checkedRows, noteRow } from '../../db/rows.js';
import { save, stemOf } from '../../ui/download.js';
import { FileButton } from '../../ui/FileButton.js';
import { clockOf, counted, hoursText, localDateText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { useWrite } from '../../ui/useWrite.js';
import { Changes } from './Changes.js';
import { NoteForm } from './NoteForm.js';

/** The journal: what was changed, what failed and why a day was as it was; a stretch may be left out of analysis. */
export default function JournalPage() {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const [taken, setTaken] = useState<string | null>(null);
  const [edited, setEdited] = useState<StoredNote | null>(null);
  const rows = useLiveQuery(() => db.journal.where('homeId').equals(home.id).toArray(), [home.id]);
  const notes = rows && checkedRows(noteRow, rows).good;
  const { timeZone } = home.system;
  const saveJournal = (list: readonly JournalNote[]) =>
    save(`${stemOf(home)}-journal.json`, new Blob([journalText(list)], { type: 'application/json' }));
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <div className="max-w-4xl">
        <h1 className="text-xl">Journal of {home.system.name}</h1>
        <p className="mt-1">
          Notes stand in the margin of their days and as flags on the history. On the roll, <kbd>n</kbd>{' '}
          writes one on the selected days. An outage of a few hours written here is entered in the ledger
          where the log cannot show it; a test tells planned runs and drawdowns from all others. Times are
          those of {timeZone}.
        </p>
        <NoteForm
          key={edited?.id ?? 'new'}
          timeZone={timeZone}
          edited={edited}
          onCancel={() => setEdited(null)}
          onSave={async (note) => {
            const isWritten = await write(() => (edited ? changeNote(edited, note) : addNote(home.id, note)));
            if (isWritten) setEdited(null);
            return isWritten;
          }}
        />
        {failure}
        <div className="mt-5 flex items-baseline gap-4">
          <h2 className="text-[16px]">Notes</h2>
          {notes !== undefined && notes.length > 0 && (
            <button type="button" className="quiet" onClick={() => saveJournal(notes)}>
              Save the journal
            </button>
          )}
          <FileButton
            label="Add the notes of a journal file (.json):"
            accept=".json,application/json"
            onFile={async (file) => {
              const read = parseJournal(await file.text(), file.name);
              const written = await addNotes(home.id, read);
              setTaken(`${counted(written, 'note')} of ${read.length} written; the others are here already.`);
            }}
          />
        </div>
        <p role="status">{taken}</p>
        {notes?.length === 0 && <p className="text-faint">No note yet.</p>}
        <ul>
          {[...(notes ?? [])]
            .sort((a, b) => b.fromMs - a.fromMs)
            .map((note) => (
              <Note
                key={note.id}
                note={note}
                timeZone={timeZone}
                onEdit={() => setEdited(note)}
                onRemove={() =>
                  write(() => removeNote(note), {
                    says: 'A note is struck out.',
                    undo: () => putBackNote(note),
                  })
                }
              />
            ))}
        </ul>
        <Changes homeId={home.id} timeZone={timeZone} />
      </div>
    </main>
  );
}

interface NoteProps {
  readonly note: StoredNote;
  readonly timeZone: string;
  readonly onEdit: () => void;
  readonly onRemove: () => Promise<unknown>;
}

function Note({ note, timeZone, onEdit, onRemove }: NoteProps) {
  const { homeId, fromMs, toMs, kind, text, leaveOut } = note;
  const [first, last] = [clockOf(fromMs, timeZone).slice(0, 10), clockOf(toMs - 1, timeZone).slice(0, 10)];
  const begins = clockOf(fromMs, timeZone).slice(11);
  const isOfDays = begins === '00:00' && clockOf(toMs, timeZone).endsWith('00:00');
  const words = NOTE_KINDS.find(([one]) => one === kind)![2];
  return (
    <li className="grid gap-x-4 border-t border-rule py-1.5 sm:grid-cols-[220px_1fr_auto]">
      <Link className="quiet" to={`/h/${homeId}/days?from=${first}&to=${last}`}>
        {localDateText(fromMs, timeZone)}
        {first !== last && ` to ${localDateText(toMs - 1, timeZone)}`}
        {!isOfDays && (
          <span className="block text-[12.5px]">
            from {begins}, {hoursText((toMs - fromMs) / 3_600_000)}
          </span>
        )}
      </Link>
      <span>
        <b className="font-semibold">{words}</b>
        {text && `: ${text}`}
        {leaveOut && <span className="text-red"> Left out of every figure.</span>}
      </span>
      <span className="flex gap-3">
        <button
          type="button"
          className="quiet"
          aria-label={`Change the note of ${localDateText(fromMs, timeZone)}: ${words}`}
          onClick={onEdit}
        >
          change
        </button>
        <button
          type="button"
          className="quiet text-faint"
          aria-label={`Strike out the note of ${localDateText(fromMs, timeZone)}: ${words}`}
          onClick={() => void onRemove()}
        >
          strike out
        </button>
      </span>
    </li>
  );
}
