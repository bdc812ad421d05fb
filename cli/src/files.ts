import { createReadStream } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { InputError } from '@long-tally/core';
import { visible } from './output.js';

/** @throws InputError when there is no file of that name */
export async function assertFile(file: string): Promise<void> {
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) throw missing(file);
}

/** The bytes of a file, its progress on standard error where that is a terminal. */
export async function* bytesOf(file: string): AsyncGenerator<Uint8Array> {
  const isShown = process.stderr.isTTY;
  const { size } = await stat(file);
  let done = 0;
  for await (const chunk of createReadStream(file, { highWaterMark: 1 << 22 }) as AsyncIterable<Uint8Array>) {
    yield chunk;
    done += chunk.length;
    if (isShown)
      process.stderr.write(
        `\r${visible(basename(file))}: ${Math.round((100 * done) / size)} %${done === size ? '\n' : ''}`,
      );
  }
}

/** @throws InputError when the file is not there or cannot be read */
export async function textOf(file: string): Promise<string> {
  try {
    return await readFile(file, 'utf8');
  } catch {
    throw missing(file);
  }
}

/** @throws InputError when the file is not there or cannot be read */
export async function wholeOf(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch {
    throw missing(file);
  }
}

function missing(where: string): InputError {
  return new InputError([
    { where, found: 'This file is not there or cannot be read.', mend: 'Check the path.' },
  ]);
}
