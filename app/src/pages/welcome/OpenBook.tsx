import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { FileButton } from '../../ui/FileButton.js';
import { counted } from '../../ui/format.js';
import { settingsFound } from '../../store/preferences.js';
import { useAppDispatch } from '../../store/store.js';
import { beginImport, type ImportSession } from '../../workers/client.js';
import type { FoundBook, Restored } from '../../protocol.js';

/** Opens a book, or several in one file: what is in it is said, and it is asked before a home is replaced. */
export function OpenBook() {
  const dispatch = useAppDispatch();
  const intake = useRef<ImportSession | null>(null);
  const [books, setBooks] = useState<readonly FoundBook[]>([]);
  const [done, setDone] = useState<ReadonlyMap<number, Restored>>(new Map());
  const [busy, setBusy] = useState<number | 'looking' | null>(null);
  useEffect(() => () => intake.current?.end(), []);
  const look = async (file: File) => {
    intake.current?.end();
    intake.current = beginImport();
    setBooks([]);
    setDone(new Map());
    setBusy('looking');
    try {
      const { books: found, problems } = await intake.current.ask((remote) => remote.books(file));
      if (problems.length > 0) throw new Error(problems.join(' '));
      setBooks(found);
    } finally {
      setBusy(null);
    }
  };
  const restore = async (index: number, place: 'new' | 'replace', damaged: 'refuse' | 'salvage') => {
    setBusy(index);
    try {
      const restored = await intake.current!.ask((remote) => remote.restore(index, place, damaged));
      setDone(new Map(done).set(index, restored));
      dispatch(settingsFound(restored.settings));
    } catch (error) {
      setDone(
        new Map(done).set(index, { homeId: null, settings: null, problems: [(error as Error).message] }),
      );
    }
    setBusy(null);
  };
  return (
    <section className="mt-6" aria-label="Open a book">
      <FileButton label="Open a book (.zip) that was saved before:" accept=".zip" onFile={look} />
      <div aria-live="polite">
        {busy === 'looking' && <p className="text-faint">Checking every member of it …</p>}
        {books.map((book, index) => (
          <Book
            key={book.name}
            book={book}
            restored={done.get(index) ?? null}
            isBusy={busy !== null}
            onRestore={(place, damaged) => void restore(index, place, damaged)}
          />
        ))}
      </div>
    </section>
  );
}

interface Props {
  readonly book: FoundBook;
  readonly restored: Restored | null;
  readonly isBusy: boolean;
  readonly onRestore: (place: 'new' | 'replace', damaged: 'refuse' | 'salvage') => void;
}

function Book({ book: { homeName, holds, replaces, lost }, restored, isBusy, onRestore }: Props) {
  const damaged = lost.length > 0 ? 'salvage' : 'refuse';
  const what = lost.length > 0 ? 'what is whole of it' : 'it';
  if (restored?.homeId)
    return (
      <div className="mt-2">
        <p>
          {homeName} is opened.{' '}
          <Link className="quiet" to={`/h/${restored.homeId}/days`}>
            See {homeName}
          </Link>
        </p>
        <Problems problems={restored.problems} />
      </div>
    );
  return (
    <div className="mt-2 border-t border-rule pt-2">
      <p>
        <b className="font-semibold">{homeName}</b>: {counted(holds.logs, 'log')},{' '}
        {counted(holds.notes, 'note')}, {counted(holds.readings, 'reading')}, {counted(holds.trials, 'trial')}
        .
      </p>
      {lost.length > 0 && (
        <>
          <p className="text-red">This book is damaged. Nothing of this browser has changed.</p>
          <Problems problems={lost} />
        </>
      )}
      {replaces && (
        <p>
          {replaces.name} of this book is here already. Replacing it deletes what this browser has of it;
          opened beside it, both stay.
        </p>
      )}
      <p className="mt-1 flex flex-wrap items-baseline gap-4">
        {replaces && (
          <button
            type="button"
            className="action"
            disabled={isBusy}
            onClick={() => onRestore('replace', damaged)}
          >
            Replace {replaces.name} by {what}
          </button>
        )}
        <button type="button" className="action" disabled={isBusy} onClick={() => onRestore('new', damaged)}>
          {replaces ? `Open ${what} beside the one that is here` : `Open ${what}`}
        </button>
      </p>
      {restored && <Problems problems={restored.problems} />}
    </div>
  );
}

function Problems({ problems }: { readonly problems: readonly string[] }) {
  if (problems.length === 0) return null;
  return (
    <ul role="alert">
      {problems.map((problem) => (
        <li key={problem} className="text-red">
          {problem}
        </li>
      ))}
    </ul>
  );
}
