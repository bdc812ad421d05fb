import { instantOfLocal, NOTE_KINDS, zoneOf, type JournalNote, type NoteKind } from '@long-tally/core';
import { useId, useState } from 'react';
import type { StoredNote } from '../../db/database.js';
import { clockOf, fieldText } from '../../ui/format.js';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { NumberField } from '../../ui/NumberField.js';
import { localMs } from '../../ui/localTime.js';
import { TimeField } from '../../ui/TimeField.js';
import { Labelled } from '../../ui/Labelled.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { useEntry } from '../../ui/useEntry.js';
import { Tick } from '../../ui/Tick.js';

interface Props {
  readonly timeZone: string;
  /** The note that is changed; null for a new one. */
  readonly edited: StoredNote | null;
  readonly onCancel: () => void;
  /** True when it was written. */
  readonly onSave: (note: JournalNote) => Promise<boolean>;
}

const BLANK_KIND: NoteKind = 'other';

/** Where a note is written: when, for how long, what about, in which words. */
export function NoteForm({ timeZone, edited, onCancel, onSave }: Props) {
  const id = useId();
  const entry = useEntry(
    () => ({
      from: edited ? clockOf(edited.fromMs, timeZone) : '',
      hours: edited ? fieldText(Number(((edited.toMs - edited.fromMs) / 3_600_000).toFixed(2))) : '24',
      kind: edited?.kind ?? BLANK_KIND,
      text: edited?.text ?? '',
      leaveOut: edited?.leaveOut ?? false,
    }),
    (sent) => ({ ...sent, text: '', leaveOut: false }),
  );
  const { from, hours, kind, text, leaveOut } = entry.typed;
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const lasts = typedNumber(hours);
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(from)) {
      setProblem('Choose the date and time from which it holds.');
      return;
    }
    if (!(lasts > 0 && lasts <= 24 * 3660)) {
      setProblem('Write how many hours it lasted, for example 24.');
      return;
    }
    const fromMs = instantOfLocal(zoneOf(timeZone), localMs(from));
    setProblem(null);
    const note = { fromMs, toMs: fromMs + lasts * 3_600_000, kind, text: text.trim(), leaveOut };
    await entry.send(() => onSave(note));
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
      <TimeField text="From" value={from} onChange={(time) => entry.change({ from: time })} />
      <NumberField text="Lasts, h" value={hours} onChange={(value) => entry.change({ hours: value })} />
      <ChoiceField
        text="About"
        value={kind}
        choices={NOTE_KINDS.map(([one, , words]) => [one, words] as const)}
        onChange={(one) => entry.change({ kind: one })}
      />
      <Labelled id={`${id}-text`} text="In your words">
        <input
          id={`${id}-text`}
          className="field"
          maxLength={2000}
          value={text}
          onChange={(event) => entry.change({ text: event.target.value })}
        />
      </Labelled>
      <Tick
        className="col-span-full"
        checked={leaveOut}
        onChange={(isOut) => entry.change({ leaveOut: isOut })}
      >
        Leave this stretch out of every figure
      </Tick>
      <FormFoot
        write={edited ? 'Write the change' : 'Write the note'}
        onCancel={edited ? onCancel : null}
        problem={problem}
      />
    </form>
  );
}
