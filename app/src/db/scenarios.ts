import type { ScenarioFile } from '@long-tally/core';
import { db } from './database.js';
import { countChange } from './homes.js';

/** Keeps the scenarios of a home in the place of what was kept. */
export async function saveScenarios(homeId: string, scenarios: readonly ScenarioFile[]): Promise<void> {
  await db.transaction('rw', db.scenarios, db.homes, async () => {
    await db.scenarios.put({ homeId, scenarios });
    await countChange(homeId);
  });
}
