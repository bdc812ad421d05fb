import { configure, Writer } from '@zip.js/zip.js';

export { Uint8ArrayReader, ZipReader } from '@zip.js/zip.js';

// The reader runs in a worker already, and a strict content policy forbids workers made of text.
configure({ useWebWorkers: false });

/** Takes bytes up to the size that the archive states, and no further. */
export class BoundedWriter extends Writer<Uint8Array> {
  readonly #bytes: Uint8Array;
  #at = 0;

  constructor(size: number) {
    super();
    this.#bytes = new Uint8Array(size);
  }

  override writeUint8Array(chunk: Uint8Array): Promise<void> {
    if (this.#at + chunk.length > this.#bytes.length)
      return Promise.reject(new RangeError('It unpacks to more than it states.'));
    this.#bytes.set(chunk, this.#at);
    this.#at += chunk.length;
    return Promise.resolve();
  }

  override getData(): Promise<Uint8Array> {
    if (this.#at < this.#bytes.length)
      return Promise.reject(new RangeError('It unpacks to less than it states.'));
    return Promise.resolve(this.#bytes);
  }
}
