import type { Offer } from '@long-tally/core';
import { db } from './database.js';
import { countChange } from './homes.js';

/** Keeps the offers that a home compares in the place of what was kept. */
export async function saveOffers(homeId: string, offers: readonly Offer[]): Promise<void> {
  await db.transaction('rw', db.offers, db.homes, async () => {
    await db.offers.put({ homeId, offers });
    await countChange(homeId);
  });
}
