import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { db, type Home } from '../../db/database.js';
import { belongings, bookSaved, removeHome } from '../../db/homes.js';
import { homeOpened } from '../../store/preferences.js';
import { useAppDispatch } from '../../store/store.js';
import { canKeepFolder, chooseFolder, leaveFolder, mayWrite } from '../../db/folders.js';
import { writeBook } from '../../ui/BookKeeper.js';
import { save } from '../../ui/download.js';
import { counted, decimal, localDateText } from '../../ui/format.js';
import { useWrite } from '../../ui/useWrite.js';
import { askBook } from '../../ui/askBook.js';

interface Space {
  readonly used: number;
  readonly quota: number;
  readonly isPersistent: boolean;
}

async function spaceNow(): Promise<Space> {
  const { usage = 0, quota = 0 } = await navigator.storage.estimate();
  return { used: usage, quota, isPersistent: await navigator.storage.persisted() };
}

/** How the browser keeps the data, asked of the browser itself; null while it has not answered. */
function useSpace(): { readonly space: Space | null; readonly ask: () => Promise<void> } {
  const [space, setSpace] = useState<Space | null>(null);
  useEffect(() => {
    spaceNow().then(setSpace, () => setSpace(null));
  }, []);
  return {
    space,
    ask: async () => {
      await navigator.storage.persist();
      setSpace(await spaceNow());
    },
  };
}

/** Where the data of a home are, its book, and how to take the home away. */
export function Keeping({ home }: { readonly home: Home }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { write, failure } = useWrite();
  const { space, ask } = useSpace();
  const [state, setState] = useState<'rest' | 'saving'>('rest');
  const [without, setWithout] = useState<readonly string[]>([]);
  const [asked, setAsked] = useState(false);
  const own = useLiveQuery(() => belongings(home.id), [home.id]);
  // Saving a book changes no figure, so the overview does not hear of it.
  const kept = useLiveQuery(() => db.homes.get(home.id), [home.id]) ?? home;
  const saveBook = async () => {
    setState('saving');
    await write(async () => {
      const book = await askBook(home.id);
      save(book.name, book.blob);
      setWithout(book.without);
      await bookSaved(home.id, kept.revision);
    });
    setState('rest');
  };
  const { savedAt, savedRevision } = kept;
  const changes = savedRevision === null ? null : kept.revision - savedRevision;
  return (
    <section id="keeping" aria-label="Keeping the data" className="mt-8 max-w-4xl border-t border-ink pt-3">
      <h2 className="text-[16px]">Keeping the data</h2>
      <p className="mt-1">
        {savedAt === null
          ? 'The book of this home was never saved: everything of it is in this browser only.'
          : changes === 0
            ? `The book was saved on ${localDateText(savedAt, home.system.timeZone)}, and nothing has changed since.`
            : `The book was saved on ${localDateText(savedAt, home.system.timeZone)}; ${counted(changes!, 'change has', 'changes have')} come since.`}{' '}
        It holds every file byte by byte, the system, the journal, readings, trials with their pictures,
        appliances, offers, scenarios and corrections, the report and its evidence, with a checksum of each.
      </p>
      <p className="mt-2">
        <button
          type="button"
          className="action"
          disabled={state === 'saving'}
          onClick={() => void saveBook()}
        >
          {state === 'saving' ? 'Saving the book …' : 'Save the book of this home'}
        </button>
      </p>
      {canKeepFolder() && <Folder home={kept} />}
      {without.length > 0 && (
        <p role="alert" className="mt-1 text-red">
          Not in the book, since what is stored of them is damaged: {without.join(', ')}.
        </p>
      )}
      {space && (
        <p className="mt-2">
          {decimal(space.used / 1e6, 1)} MB are used of {decimal(space.quota / 1e6, 0)} that the browser
          allows.{' '}
          {space.isPersistent
            ? 'The browser keeps them until you delete them.'
            : 'The browser may delete them when the disk runs full.'}{' '}
          {!space.isPersistent && (
            <button type="button" className="quiet" onClick={() => void ask()}>
              Ask it to keep them
            </button>
          )}
        </p>
      )}
      {failure}
      <p className="mt-3">
        {asked && own ? (
          <>
            This deletes {home.system.name} with {counted(own.logs, 'log')} and their files,{' '}
            {counted(own.notes, 'note')}, {counted(own.readings, 'reading')} and{' '}
            {counted(own.corrections, 'correction')} from this browser for good.{' '}
            <button
              type="button"
              className="quiet text-red"
              onClick={() =>
                void write(() => removeHome(home.id)).then((isRemoved) => {
                  if (!isRemoved) return;
                  dispatch(homeOpened(null));
                  void navigate('/?choose');
                })
              }
            >
              Delete {home.system.name}
            </button>{' '}
            <button type="button" className="quiet" onClick={() => setAsked(false)}>
              Keep it
            </button>
          </>
        ) : (
          <button type="button" className="quiet text-faint" onClick={() => setAsked(true)}>
            delete this home …
          </button>
        )}
      </p>
    </section>
  );
}

/** A folder of this machine in which the book is kept up to date. */
function Folder({ home }: { readonly home: Home }) {
  const { write, failure } = useWrite();
  const folder = useLiveQuery(() => db.folders.get(home.id).then((found) => found ?? null), [home.id]);
  const choose = () =>
    void write(async () => {
      try {
        await chooseFolder(home.id);
      } catch (error) {
        // Whoever closes the choice without choosing wants nothing.
        if ((error as Error).name === 'AbortError') return;
        throw error;
      }
      const chosen = await db.folders.get(home.id);
      if (chosen && (await mayWrite(chosen.handle, true))) await writeBook(home, chosen.handle);
    });
  return (
    <div className="mt-2">
      {folder ? (
        <p>
          The book is kept up to date in the folder “{folder.handle.name}”, a little after each change while
          this home is open.{' '}
          <button type="button" className="quiet" onClick={choose}>
            Choose another folder
          </button>{' '}
          <button
            type="button"
            className="quiet text-faint"
            onClick={() => void write(() => leaveFolder(home.id))}
          >
            stop keeping it there
          </button>
        </p>
      ) : (
        <button type="button" className="quiet" onClick={choose}>
          Keep the book up to date in a folder …
        </button>
      )}
      {failure}
    </div>
  );
}
