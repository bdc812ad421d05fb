import { describe, expect, test } from '@jest/globals';
import { addPicture } from './attachments.js';
import { db } from './database.js';

describe('a picture of a display', () => {
  const trial = { id: 1, homeId: 'h', file: {}, struck: [], state: 'running', madeAt: 1 } as never;

  test.each([
    [
      'drawing.svg',
      '<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>',
      /neither a PNG nor a JPEG/,
    ],
    ['photo.png', 'GIF89a', /neither a PNG nor a JPEG/],
    ['empty.jpg', '', /neither a PNG nor a JPEG/],
  ])('%s is refused by its bytes, whatever its name says', async (name, text, found) => {
    const before = await db.attachments.count();
    await expect(addPicture(trial, 0, new File([text], name, { type: 'image/png' }))).rejects.toThrow(found);
    expect(await db.attachments.count()).toBe(before);
  });

  test('of more than 5 MB is refused with its size', async () => {
    const bytes = new Uint8Array(6_000_000);
    bytes.set([0xff, 0xd8, 0xff]);
    await expect(addPicture(trial, 0, new File([bytes], 'large.jpg'))).rejects.toThrow(/6\.0 MB; up to 5 MB/);
  });
});
