import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useEffectEvent, useState } from 'react';
import { Link } from 'react-router';
import { db, type Home } from '../db/database.js';
import { mayWrite, writeInto } from '../db/folders.js';
import { bookSaved } from '../db/homes.js';
import { failureText } from '../workers/words.js';
import { counted } from './format.js';
import { askBook } from './askBook.js';

/** So long after the last change the book is written into its folder, ms. */
const QUIET_MS = 20_000;

/** Writes the book of a home into its folder, and marks it saved. */
export async function writeBook(home: Home, handle: FileSystemDirectoryHandle): Promise<void> {
  const { name, blob } = await askBook(home.id);
  await writeInto(handle, name, blob);
  await bookSaved(home.id, home.revision);
}

/** A quiet reminder of what the saved book lacks; where a folder is chosen, it is kept up to date by itself. */
export function BookKeeper({ homeId }: { readonly homeId: string }) {
  const home = useLiveQuery(() => db.homes.get(homeId), [homeId]);
  const folder = useLiveQuery(() => db.folders.get(homeId).then((found) => found ?? null), [homeId]);
  const [failed, setFailed] = useState<string | null>(null);
  const [isWaiting, setWaiting] = useState(false);
  const changes = home?.savedRevision == null ? null : home.revision - home.savedRevision;
  const isDue = folder != null && home !== undefined && changes !== 0;
  const keep = async (mayAsk: boolean) => {
    try {
      const may = await mayWrite(folder!.handle, mayAsk);
      setWaiting(!may);
      if (may) await writeBook(home!, folder!.handle);
      setFailed(null);
    } catch (error) {
      setFailed(failureText(error));
    }
  };
  const keepByItself = useEffectEvent(() => void keep(false));
  useEffect(() => {
    if (!isDue) return undefined;
    const timer = setTimeout(() => keepByItself(), QUIET_MS);
    return () => clearTimeout(timer);
  }, [isDue, home, folder]);
  if (failed)
    return (
      <p role="status" className="text-[12.5px] text-red">
        The book could not be written into its folder: {failed}
      </p>
    );
  if (folder && isWaiting && changes !== 0)
    return (
      <button type="button" className="quiet text-[12.5px]" onClick={() => void keep(true)}>
        Let the book be kept in “{folder.handle.name}”
      </button>
    );
  if (changes === null || changes === 0 || folder) return null;
  return (
    <Link className="quiet text-[12.5px] text-faint" to={`/h/${homeId}/system#keeping`}>
      {counted(changes, 'change')} not in the saved book
    </Link>
  );
}
