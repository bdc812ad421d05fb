import { InputError } from '@long-tally/core';
import { db, type StoredPicture, type StoredTrial } from './database.js';
import { countChange } from './homes.js';

/** A picture of a display is no larger than this. */
const MOST_BYTES = 5_000_000;
const TYPES = [
  ['image/png', [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]],
  ['image/jpeg', [0xff, 0xd8, 0xff]],
] as const;

/** The kind of a picture by its first bytes, whatever its name says; null for none of those that are kept. */
export function pictureType(bytes: Uint8Array): (typeof TYPES)[number][0] | null {
  return TYPES.find(([, mark]) => mark.every((byte, i) => bytes[i] === byte))?.[0] ?? null;
}

/**
 * Keeps a picture of a display beside a reading of a trial.
 * @param place of the reading in the trial
 * @throws InputError for what is no picture, or a larger one than is kept
 */
export async function addPicture({ id, homeId }: StoredTrial, place: number, file: File): Promise<void> {
  if (file.size > MOST_BYTES)
    throw new InputError([
      {
        where: file.name,
        found: `The picture has ${(file.size / 1e6).toFixed(1)} MB; up to ${MOST_BYTES / 1e6} MB are kept.`,
        mend: 'Make it smaller, or cut it to the display.',
      },
    ]);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const type = pictureType(bytes);
  if (!type)
    throw new InputError([
      {
        where: file.name,
        found: 'It is neither a PNG nor a JPEG picture.',
        mend: 'Bring a photograph or a screenshot of the display in one of these.',
      },
    ]);
  // Of its bytes and its kind by them: what the name or the sender says of it counts for nothing.
  const picture = new Blob([bytes], { type });
  await db.transaction('rw', db.attachments, db.homes, async () => {
    await db.attachments.add({ homeId, trialId: id, place, name: file.name, picture, addedAt: Date.now() });
    await countChange(homeId);
  });
}

/** Takes a picture out for good. */
export function removePicture({ id, homeId }: StoredPicture): Promise<void> {
  return db.transaction('rw', db.attachments, db.homes, async () => {
    await db.attachments.delete(id);
    await countChange(homeId);
  });
}
