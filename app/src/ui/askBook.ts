import type { SavedBook } from '../protocol.js';
import { store } from '../store/store.js';
import { askHome } from '../workers/client.js';

/** The book of a home as it is stored now, with what its reader has chosen in the settings. */
export function askBook(homeId: string): Promise<SavedBook> {
  return askHome((worker) => worker.book(homeId, store.getState().preferences.settings));
}
