import type { StoredTrial } from '../../db/database.js';

/** When a trial began: as written, by its first reading, or when it was made. */
export function firstMs({ file, madeAt }: Pick<StoredTrial, 'file' | 'madeAt'>): number {
  const first = file.from ?? file.readings[0]?.at;
  return first === undefined ? madeAt : Date.parse(first);
}
