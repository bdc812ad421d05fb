import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The store of a browser that has imported the demo home, as one file: a head of JSON, and behind it what is binary. */
export const STORE_FILE = join(tmpdir(), 'long-tally-demo-store.bin');

/** Where the tests' server hands it out: through the browser's own hands, 35 MB would take longer than filling the store. */
export const STORE_PATH = '/demo-store.bin';
