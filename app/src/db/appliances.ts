import type { Appliance } from '@long-tally/core';
import { db } from './database.js';

/** Keeps the appliances of a home in the place of what was kept. */
export async function saveAppliances(homeId: string, appliances: readonly Appliance[]): Promise<void> {
  await db.appliances.put({ homeId, appliances });
}
