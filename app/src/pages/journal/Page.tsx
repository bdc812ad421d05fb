import {
  instantOfLocal,
  journalText,
  NOTE_KINDS,
  offsetAt,
  parseJournal,
  zoneOf,
  type JournalNote,
  type NoteKind,
} from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useId, useState } from 'react';
import { Link } from 'react-router';
import { db, type StoredNote } from '../../db/database.js';
import { addNote, addNotes, removeNote } from '../../db/journal.js';
import { checkedRows, noteRow } from '../../db/rows.js';
import { save, stemOf } from '../../ui/download.js';
import { FileButton } from '../../ui/FileButton.js';
import { counted, localDateText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { Labelled } from '../../ui/Labelled.js';
import { useWrite } from '../../ui/useWrite.js';

/** The journal: what was changed, what failed and why a day was as it was; a stretch may be left out of analysis. */
export default function JournalPage() {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const [taken, setTaken] = useState<string | null>(null);
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
        <NoteForm timeZone={timeZone} onSave={(note) => write(() => addNote(home.id, note))} />
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
                onRemove={() => write(() => removeNote(note))}
              />
            ))}
        </ul>
      </div>
    </main>
  );
}

interface NoteProps {
  readonly note: StoredNote;
  readonly timeZone: string;
  readonly onRemove: () => Promise<unknown>;
}

function Note({ note: { homeId, fromMs, toMs, kind, text, leaveOut }, timeZone, onRemove }: NoteProps) {
  const [first, last] = [isoDate(fromMs, timeZone), isoDate(toMs - 1, timeZone)];
  const words = NOTE_KINDS.find(([one]) => one === kind)![2];
  return (
    <li className="grid grid-cols-[220px_1fr_auto] gap-x-4 border-t border-rule py-1.5">
      <Link className="quiet" to={`/h/${homeId}/days?from=${first}&to=${last}`}>
        {localDateText(fromMs, timeZone)}
        {first !== last && ` to ${localDateText(toMs - 1, timeZone)}`}
      </Link>
      <span>
        <b className="font-semibold">{words}</b>
        {text && `: ${text}`}
        {leaveOut && <span className="text-red"> Left out of every figure.</span>}
      </span>
      <button
        type="button"
        className="quiet text-faint"
        aria-label={`Strike out the note of ${localDateText(fromMs, timeZone)}: ${words}`}
        onClick={() => void onRemove()}
      >
        strike out
      </button>
    </li>
  );
}

function isoDate(ms: number, timeZone: string): string {
  return new Date(ms + offsetAt(zoneOf(timeZone), ms)).toISOString().slice(0, 10);
}

interface FormProps {
  readonly timeZone: string;
  /** True when it was written. */
  readonly onSave: (note: JournalNote) => Promise<boolean>;
}

function NoteForm({ timeZone, onSave }: FormProps) {
  const id = useId();
  const [from, setFrom] = useState('');
  const [hours, setHours] = useState('24');
  const [kind, setKind] = useState<NoteKind>('other');
  const [text, setText] = useState('');
  const [leaveOut, setLeaveOut] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const lasts = Number(hours.replace(',', '.'));
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(from)) {
      setProblem('Choose the date and time from which it holds.');
      return;
    }
    if (!(lasts > 0 && lasts <= 24 * 3660)) {
      setProblem('Write how many hours it lasted, for example 24.');
      return;
    }
    const fromMs = instantOfLocal(zoneOf(timeZone), Date.parse(`${from}Z`));
    setProblem(null);
    const note = { fromMs, toMs: fromMs + lasts * 3_600_000, kind, text: text.trim(), leaveOut };
    if (!(await onSave(note))) return;
    setText('');
    setLeaveOut(false);
  };
  return (
    <form
      className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-4"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <Labelled id={`${id}-from`} text="From">
        <input
          id={`${id}-from`}
          type="datetime-local"
          className="field"
          value={from}
          onChange={(event) => setFrom(event.target.value)}
        />
      </Labelled>
      <Labelled id={`${id}-hours`} text="Lasts, h">
        <input
          id={`${id}-hours`}
          className="field"
          inputMode="decimal"
          value={hours}
          onChange={(event) => setHours(event.target.value)}
        />
      </Labelled>
      <Labelled id={`${id}-kind`} text="About">
        <select
          id={`${id}-kind`}
          className="field"
          value={kind}
          onChange={(event) => setKind(event.target.value as NoteKind)}
        >
          {NOTE_KINDS.map(([one, , words]) => (
            <option key={one} value={one}>
              {words}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}-text`} text="In your words">
        <input
          id={`${id}-text`}
          className="field"
          maxLength={2000}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </Labelled>
      <label className="col-span-2 flex items-baseline gap-2 md:col-span-3">
        <input type="checkbox" checked={leaveOut} onChange={(event) => setLeaveOut(event.target.checked)} />
        Leave this stretch out of every figure
      </label>
      <button type="submit" className="action justify-self-start">
        Write the note
      </button>
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </form>
  );
}
