import { db } from './database.js';

/** What browsers that let a page write into a folder have beyond the standard types. */
interface Picking {
  showDirectoryPicker?: (options: {
    readonly mode: 'readwrite';
    readonly id: string;
  }) => Promise<FileSystemDirectoryHandle>;
}
interface Permitted {
  queryPermission?: (wanted: { readonly mode: 'readwrite' }) => Promise<PermissionState>;
  requestPermission?: (wanted: { readonly mode: 'readwrite' }) => Promise<PermissionState>;
}

/** True where the browser lets a page write into a folder that its reader chooses. */
export function canKeepFolder(): boolean {
  return (window as Picking).showDirectoryPicker !== undefined;
}

/** Lets the reader choose a folder for the book of a home. */
export async function chooseFolder(homeId: string): Promise<void> {
  const handle = await (window as Picking).showDirectoryPicker!({ mode: 'readwrite', id: 'long-tally-book' });
  await db.folders.put({ homeId, handle });
}

/** Leaves a folder as it is and writes into it no more. */
export async function leaveFolder(homeId: string): Promise<void> {
  await db.folders.delete(homeId);
}

/**
 * Whether a folder may be written into now.
 * @param mayAsk true in answer to a click, in which the browser may ask its reader
 */
export async function mayWrite(handle: FileSystemDirectoryHandle, mayAsk: boolean): Promise<boolean> {
  const { queryPermission, requestPermission } = handle as Permitted;
  const wanted = { mode: 'readwrite' } as const;
  if (!queryPermission) return true;
  if ((await queryPermission.call(handle, wanted)) === 'granted') return true;
  return (
    mayAsk && requestPermission !== undefined && (await requestPermission.call(handle, wanted)) === 'granted'
  );
}

/** Writes a file into a folder, in the place of one of its name: whole, or not at all. */
export async function writeInto(
  handle: FileSystemDirectoryHandle,
  name: string,
  content: Blob,
): Promise<void> {
  const file = await handle.getFileHandle(name, { create: true });
  const stream = await file.createWritable();
  await stream.write(content);
  await stream.close();
}
