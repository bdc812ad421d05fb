import { parentPort } from 'node:worker_threads';
import type { FleetHome } from './fleet/homes.js';
import { rowOf } from './fleet/row.js';

// One home after the other: what was read of one is let go before the next.
parentPort!.on('message', (home: FleetHome) => {
  void rowOf(home).then((row) => parentPort!.postMessage(row));
});
