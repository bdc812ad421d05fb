declare const TextDecoder: new (
  label: string,
  options?: { fatal: boolean },
) => { decode(bytes?: Uint8Array, options?: { stream: boolean }): string };
declare const TextEncoder: new () => { encode(text: string): Uint8Array };

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

const LOOKED_AT = 1 << 16;

/**
 * How a file's text is encoded, from its first bytes: by its mark, by the zeros of UTF-16, else UTF-8 where that holds.
 * @param first at least the first few hundred bytes, if the file has them
 */
export function encodingOf(first: Uint8Array): Encoding {
  if (first[0] === 0xff && first[1] === 0xfe) return 'utf-16le';
  if (first[0] === 0xfe && first[1] === 0xff) return 'utf-16be';
  const head = first.subarray(0, 512);
  const zeros = [0, 0];
  head.forEach((byte, i) => {
    if (byte === 0) zeros[i & 1]!++;
  });
  if (zeros[1]! * 3 > head.length && zeros[0] === 0) return 'utf-16le';
  if (zeros[0]! * 3 > head.length && zeros[1] === 0) return 'utf-16be';
  // The last characters of a chunk may be cut in two.
  const looked = first.subarray(0, LOOKED_AT);
  for (let cut = 0; cut < 4; cut++) {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(looked.subarray(0, looked.length - cut));
      return 'utf-8';
    } catch {
      if (looked.length < LOOKED_AT && cut === 0) break;
    }
  }
  return 'windows-1252';
}

/** Bytes of UTF-8, whatever text the chunks hold; text that is UTF-8 already passes as it is. */
export async function* asUtf8(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let decoder: InstanceType<typeof TextDecoder> | null = null;
  let first = true;
  const encoder = new TextEncoder();
  for await (const chunk of chunks) {
    if (chunk.length === 0) continue;
    if (first) {
      const encoding = encodingOf(chunk);
      if (encoding !== 'utf-8') decoder = new TextDecoder(encoding);
      first = false;
    }
    yield decoder ? encoder.encode(decoder.decode(chunk, { stream: true })) : chunk;
  }
}
