import type { System } from '@long-tally/core';
import { db, type Change } from './database.js';

/** The list goes back so far; figures never depend on it. */
const MOST = 300;

/** Puts a change into the list of a home’s changes. What was written stays written, also where the list has no room for it. */
export async function recordChange(homeId: string, says: string): Promise<void> {
  const recorded = db.homes
    .where('id')
    .equals(homeId)
    .modify((home) => {
      const before: readonly Change[] = Array.isArray(home.changes) ? (home.changes as Change[]) : [];
      const changes = [...before, { atMs: Date.now(), says }].slice(-MOST);
      Object.assign(home, { changes });
    });
  await recorded.catch(() => 0);
}

const PARTS: readonly (readonly [key: keyof System, says: string])[] = [
  ['name', 'name'],
  ['timeZone', 'time zone'],
  ['currency', 'currency'],
  ['latitude', 'latitude'],
  ['longitude', 'longitude'],
  ['configurations', 'configurations'],
  ['tariffs', 'tariffs'],
  ['accuracy', 'accuracy of the meters'],
  ['degreeDays', 'degree days'],
  ['gridFreeKWh', 'limit of a grid-free day'],
  ['discountRate', 'discount rate'],
  ['priceRise', 'rise of prices'],
];

/** What of a description is another than before, in words; null where nothing is. */
export function systemChangeText(before: System, after: System): string | null {
  const changed = PARTS.filter(([key]) => JSON.stringify(before[key]) !== JSON.stringify(after[key]));
  return changed.length === 0
    ? null
    : `The description was changed: ${changed.map(([, says]) => says).join(', ')}.`;
}
