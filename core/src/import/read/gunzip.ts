interface Reader {
  read(): Promise<{ readonly done: boolean; readonly value?: Uint8Array }>;
}
interface Writer {
  write(chunk: Uint8Array): Promise<void>;
  close(): Promise<void>;
  abort(reason: unknown): Promise<void>;
}
// The Compression Streams standard, present in browsers and in Node alike; declared here because the core sees neither.
declare const DecompressionStream: new (format: 'gzip') => {
  readonly readable: { getReader(): Reader };
  readonly writable: { getWriter(): Writer };
};

/**
 * Decompresses gzip as it streams, checking its checksum.
 * @throws whatever the standard's stream throws on a damaged or cut file
 * @source RFC 1952; WHATWG Compression Standard
 */
export async function* gunzip(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const stream = new DecompressionStream('gzip');
  const reader = stream.readable.getReader();
  const writer = stream.writable.getWriter();
  let refused: unknown = null;
  const feeding = (async () => {
    try {
      for await (const chunk of chunks) await writer.write(chunk);
      await writer.close();
    } catch (error) {
      refused = error;
      await writer.abort(error).catch(() => undefined);
    }
  })();
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      if (value) yield value;
    }
  } catch (error) {
    await feeding;
    throw refused ?? error;
  }
  await feeding;
}
