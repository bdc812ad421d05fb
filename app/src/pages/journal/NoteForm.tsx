import { instantOfLocal, NOTE_KINDS, zoneOf, type JournalNote, type NoteKind } from '@long-tally/core';
import { useId, useState } from 'react';
import type { StoredNote } from '../../db/database.js';
import { clockOf } from '../../ui/format.js';
import { Labelled } from '../../ui/Labelled.js';

interface Props {
  readonly timeZone: string;
  /** The note that is changed; null for a new one. */
  readonly edited: StoredNote | null;
  readonly onCancel: () => void;
  /** True when it was written. */
  readonly onSave: (note: JournalNote) => Promise<boolean>;
}

/** Where a note is written: when, for how long, what about, in which words. */
export function NoteForm({ timeZone, edited, onCancel, onSave }: Props) {
  const id = useId();
  const [from, setFrom] = useState(edited ? clockOf(edited.fromMs, timeZone) : '');
  const [hours, setHours] = useState(
    edited ? String(Number(((edited.toMs - edited.fromMs) / 3_600_000).toFixed(2))) : '24',
  );
  const [kind, setKind] = useState<NoteKind>(edited?.kind ?? 'other');
  const [text, setText] = useState(edited?.text ?? '');
  const [leaveOut, setLeaveOut] = useState(edited?.leaveOut ?? false);
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
      aria-label={edited ? 'A note changed' : 'A new note'}
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
      <label className="col-span-full flex items-baseline gap-2">
        <input type="checkbox" checked={leaveOut} onChange={(event) => setLeaveOut(event.target.checked)} />
        Leave this stretch out of every figure
      </label>
      <p className="col-span-full flex gap-4">
        <button type="submit" className="action">
          {edited ? 'Write the change' : 'Write the note'}
        </button>
        {edited && (
          <button type="button" className="quiet text-faint" onClick={onCancel}>
            Leave it as it was
          </button>
        )}
      </p>
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </form>
  );
}
