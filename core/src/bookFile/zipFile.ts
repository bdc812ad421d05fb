import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';

declare const TextEncoder: new () => { encode(text: string): Uint8Array };

/** A file of a book: its path in it, and its contents piece by piece. */
export interface Member {
  readonly path: string;
  readonly chunks: Iterable<Uint8Array | string> | AsyncIterable<Uint8Array>;
}

export const MANIFEST = 'MANIFEST.sha256';
export const BOOK_VERSION = 'long-tally/book@1';
/** Of an archive from elsewhere `unzip` takes names with accents for an older alphabet, though they are marked as UTF-8. */
const UNIX = 3;
/** A plain file that its owner may change and all may read, as the archive keeps it: in the upper half of the word. */
const READABLE = 0o100644 * 65_536;
const PACKED = /\.(gz|zip|xlsx)$/i;

/** SHA-256 of bytes, in hexadecimal. */
export function checksumOf(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}

/**
 * Members as a zip archive, piece by piece as it is made, with the checksum of each in a manifest that `sha256sum -c`
 * reads.
 * @param at time that the archive bears for its files, epoch ms
 * @source FIPS 180-4; PKWARE APPNOTE, from memory
 */
export async function* zipOf(members: AsyncIterable<Member>, at: number): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  const ready: Uint8Array[] = [];
  const zip = new Zip((error, chunk) => {
    if (error) throw error;
    ready.push(chunk);
  });
  const sums: string[] = [];
  async function* packed({ path, chunks }: Member): AsyncGenerator<Uint8Array> {
    const file = PACKED.test(path) ? new ZipPassThrough(path) : new ZipDeflate(path, { level: 6 });
    file.mtime = at;
    file.os = UNIX;
    file.attrs = READABLE;
    zip.add(file);
    const hash = sha256.create();
    for await (const piece of chunks) {
      const bytes = typeof piece === 'string' ? encoder.encode(piece) : piece;
      if (bytes.length === 0) continue;
      hash.update(bytes);
      file.push(bytes);
      yield* ready.splice(0);
    }
    file.push(new Uint8Array(0), true);
    sums.push(`${bytesToHex(hash.digest())}  ${path}\n`);
    yield* ready.splice(0);
  }
  for await (const member of members) yield* packed(member);
  yield* packed({ path: MANIFEST, chunks: [sums.join('')] });
  zip.end();
  yield* ready.splice(0);
}
