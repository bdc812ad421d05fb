import type { ReportLayout } from '@long-tally/core';
import { db } from './database.js';
import { countChange } from './homes.js';

/** Keeps how the report of a home is set out. */
export async function saveLayout(homeId: string, layout: ReportLayout): Promise<void> {
  await db.transaction('rw', db.layouts, db.homes, async () => {
    await db.layouts.put({ homeId, layout });
    await countChange(homeId);
  });
}
