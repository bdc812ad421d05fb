import { strToU8, zipSync } from 'fflate';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import { bookSaved, removeEverything, removeHome, type BadHome } from '../../db/homes.js';
import { filesOfHome } from '../../db/sources.js';
import { homeOpened } from '../../store/preferences.js';
import { useAppDispatch } from '../../store/store.js';
import { save } from '../../ui/download.js';
import { counted } from '../../ui/format.js';
import { useWrite } from '../../ui/useWrite.js';
import { askBook } from '../../ui/askBook.js';

interface Props {
  readonly homes: readonly Home[];
  readonly bad: readonly BadHome[];
}

/** The homes of this browser: open one, take one away, save or delete all; and those that are damaged. */
export function Homes({ homes, bad }: Props) {
  const dispatch = useAppDispatch();
  const { write, failure } = useWrite();
  const [asked, setAsked] = useState<string | null>(null);
  const [saving, setSaving] = useState(false);
  const ALL = 'everything';
  const saveAll = async () => {
    setSaving(true);
    await write(async () => {
      const books: Record<string, Uint8Array> = {};
      for (const { id, revision } of homes) {
        const { name, blob } = await askBook(id);
        books[name in books ? `${id}-${name}` : name] = new Uint8Array(await blob.arrayBuffer());
        await bookSaved(id, revision);
      }
      books['README.txt'] = strToU8(
        'Books of Long Tally. Each .zip is one home; open this file, or one of them.\n',
      );
      // The books are packed already.
      save('long-tally.books.zip', new Blob([zipSync(books, { level: 0 })], { type: 'application/zip' }));
    });
    setSaving(false);
  };
  return (
    <section className="mt-8">
      <h2 className="text-[18px]">Your homes</h2>
      {failure}
      <ul className="mt-1 max-w-xl">
        {homes.map(({ id, system }) => (
          <li key={id} className="flex justify-between gap-4 border-t border-rule py-1.5">
            <Link className="quiet font-semibold" to={`/h/${id}/days`}>
              {system.name}
            </Link>
            {asked === id ? (
              <span>
                Remove it with all its logs?{' '}
                <button
                  type="button"
                  className="quiet text-red"
                  onClick={() => {
                    dispatch(homeOpened(null));
                    void write(() => removeHome(id));
                  }}
                >
                  Remove {system.name}
                </button>{' '}
                <button type="button" className="quiet" onClick={() => setAsked(null)}>
                  Keep it
                </button>
              </span>
            ) : (
              <button type="button" className="quiet text-faint" onClick={() => setAsked(id)}>
                remove …
              </button>
            )}
          </li>
        ))}
        {bad.map((home) => (
          <Damaged key={home.id} home={home} write={write} />
        ))}
      </ul>
      <p className="mt-2 flex flex-wrap gap-x-5">
        {homes.length > 1 && (
          <Link className="quiet" to="/homes">
            Set all homes side by side
          </Link>
        )}
        {homes.length > 0 && (
          <button type="button" className="quiet" disabled={saving} onClick={() => void saveAll()}>
            {saving ? 'Saving …' : 'Save all homes as one file'}
          </button>
        )}
        {asked === ALL ? (
          <span>
            This deletes {counted(homes.length + bad.length, 'home')} with every log, note and file from this
            browser for good.{' '}
            <button
              type="button"
              className="quiet text-red"
              onClick={() => {
                dispatch(homeOpened(null));
                void write(removeEverything);
              }}
            >
              Delete everything
            </button>{' '}
            <button type="button" className="quiet" onClick={() => setAsked(null)}>
              Keep it
            </button>
          </span>
        ) : (
          <button type="button" className="quiet text-faint" onClick={() => setAsked(ALL)}>
            delete everything …
          </button>
        )}
      </p>
    </section>
  );
}

interface DamagedProps {
  readonly home: BadHome;
  readonly write: (work: () => Promise<unknown>) => Promise<boolean>;
}

/** A home that cannot be opened: its files as they came can still be saved. */
function Damaged({ home: { id, name, part }, write }: DamagedProps) {
  const saveFiles = async () => {
    for (const { name: file, blob } of await filesOfHome(id)) save(file, blob);
  };
  return (
    <li className="border-t border-rule py-1.5">
      <p role="alert">
        <b className="font-semibold">{name}</b> cannot be opened: what is stored of it is damaged ({part}). It
        is set aside; the other homes work.
      </p>
      <button type="button" className="quiet" onClick={() => void write(saveFiles)}>
        Save the files of {name}
      </button>{' '}
      <button type="button" className="quiet text-red" onClick={() => void write(() => removeHome(id))}>
        Remove {name}
      </button>
    </li>
  );
}
