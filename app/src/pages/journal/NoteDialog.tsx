import { NOTE_KINDS, type NoteKind } from '@long-tally/core';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import { addNote } from '../../db/journal.js';
import { useWrite } from '../../ui/useWrite.js';
import { localDateText } from '../../ui/format.js';
import { Tick } from '../../ui/Tick.js';

interface Props {
  readonly homeId: string;
  readonly timeZone: string;
  readonly fromMs: number;
  readonly toMs: number;
  readonly onClose: () => void;
}

/** A note on the selected days: one letter says what it is about and writes it; words may be added first. */
export function NoteDialog({ homeId, timeZone, fromMs, toMs, onClose }: Props) {
  const { write, failure } = useWrite();
  const [text, setText] = useState('');
  const [leaveOut, setLeaveOut] = useState(false);
  const save = async (kind: NoteKind) => {
    const isWritten = await write(() => addNote(homeId, { fromMs, toMs, kind, text: text.trim(), leaveOut }));
    if (isWritten) onClose();
  };
  const [first, last] = [localDateText(fromMs, timeZone), localDateText(toMs - 1, timeZone)];
  return (
    <Dialog
      open
      onClose={onClose}
      className="fixed inset-0 z-30"
      onKeyDown={(event) => {
        if (event.target instanceof HTMLInputElement && event.target.type === 'text') return;
        const kind = NOTE_KINDS.find(([, key]) => key === event.key)?.[0];
        if (!kind || event.ctrlKey || event.metaKey || event.altKey) return;
        event.preventDefault();
        void save(kind);
      }}
    >
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-start justify-center p-4 pt-24">
        <DialogPanel className="w-[520px] border border-rule-2 bg-paper p-4 text-ink">
          <DialogTitle className="text-lg">
            Note on {first === last ? first : `${first} to ${last}`}
          </DialogTitle>
          <div className="mt-2 grid grid-cols-2 gap-x-4" role="group" aria-label="What it is about">
            {NOTE_KINDS.map(([kind, key, words], i) => (
              <button
                key={kind}
                type="button"
                data-autofocus={i === 0 || undefined}
                autoFocus={i === 0}
                className="flex gap-2 border-b border-rule px-2 py-1 text-left hover:bg-selected"
                onClick={() => void save(kind)}
              >
                <kbd className="font-semibold">{key}</kbd> {words}
              </button>
            ))}
          </div>
          <label className="mt-3 block">
            <span className="text-[12.5px] text-faint">In your words, if the kind does not say it</span>
            <input
              type="text"
              className="field"
              maxLength={2000}
              value={text}
              onChange={(event) => setText(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter' && text.trim() !== '') void save('other');
              }}
            />
          </label>
          <Tick className="mt-2" checked={leaveOut} onChange={setLeaveOut}>
            Leave these days out of every figure
          </Tick>
          {failure}
          <button type="button" className="action mt-3" onClick={onClose}>
            Write nothing
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
