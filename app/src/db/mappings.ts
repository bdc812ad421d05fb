import type { Mapping } from '@long-tally/core';
import { db } from './database.js';

/** The mapping that was last used for a file of this shape, if any. */
export async function rememberedMapping(shape: string): Promise<Mapping | null> {
  return (await db.mappings.get(shape))?.mapping ?? null;
}
