import type { Appliance } from '@long-tally/core';
import { db } from './database.js';
import { countChange } from './homes.js';

/** Keeps the appliances of a home in the place of what was kept. */
export async function saveAppliances(homeId: string, appliances: readonly Appliance[]): Promise<void> {
  await db.transaction('rw', db.appliances, db.homes, async () => {
    await db.appliances.put({ homeId, appliances });
    await countChange(homeId);
  });
}
