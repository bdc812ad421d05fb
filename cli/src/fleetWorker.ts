import type { FleetHome } from './fleet/homes.js';
import { rowOf } from './fleet/row.js';

// One home after the other: what was read of one is let go before the next.
process.on('message', (home: FleetHome) => {
  void rowOf(home).then((row) => process.send!(row));
});
// Where the command is gone, nobody waits for a row.
process.on('disconnect', () => process.exit());
