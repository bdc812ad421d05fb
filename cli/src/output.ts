import { rename, rm, writeFile } from 'node:fs/promises';
import { InputError } from '@long-tally/core/problem';

/** Writes to standard output, and waits until it is taken. Of control characters JSON leaves some as they are. */
export function print(text: string): Promise<unknown> {
  const escaped = text.replace(
    /[\u007f-\u009f]/g,
    (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
  return new Promise((resolve) => process.stdout.write(escaped, resolve));
}

/** Writes a file that the user names. */
export async function writeTo(file: string, content: string | AsyncIterable<Uint8Array>): Promise<void> {
  // Written beside it first: what stood there before is not lost when this fails half way.
  const part = `${file}.part`;
  try {
    await writeFile(part, content);
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true }).catch(() => undefined);
    if (error instanceof InputError) throw error;
    const { code } = error as NodeJS.ErrnoException;
    const found =
      code === 'ENOENT'
        ? 'The folder of this file does not exist.'
        : code === 'EISDIR'
          ? 'This is a folder, not a file.'
          : code === 'ENOSPC'
            ? 'The disk is full.'
            : 'This file cannot be written.';
    throw new InputError([
      { where: file, found, mend: 'Name a file in a folder that is there and may be written to.' },
    ]);
  }
}

/** Control and direction characters, which would steer a terminal. */
const CONTROL = /[\p{Cc}\u202a-\u202e\u2066-\u2069]/gu;

/** Text of a file as a terminal may show it. */
export function visible(text: string): string {
  return text.replace(CONTROL, (sign) => (sign === '\n' ? sign : '\ufffd'));
}

/** Writes lines to standard error. */
export function tell(text: string): void {
  process.stderr.write(`${visible(text)}\n`);
}
