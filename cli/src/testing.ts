import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { tally as run } from './tally.js';

export const root = fileURLToPath(new URL('../..', import.meta.url));
export const folder = mkdtempSync(join(tmpdir(), 'tally-'));

/** How a command ended, and what it wrote. */
export interface Ended {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** Runs the command line within this process, one call after the other; what it writes is caught. */
export async function tally(...args: string[]): Promise<Ended> {
  const { stdout, stderr } = process;
  const [toOut, toErr] = [stdout.write.bind(stdout), stderr.write.bind(stderr)];
  let [out, err] = ['', ''];
  const caught = (take: (text: string) => void) =>
    ((text: string, done?: () => void) => {
      take(text);
      done?.();
      return true;
    }) as typeof stdout.write;
  stdout.write = caught((text) => (out += text));
  stderr.write = caught((text) => (err += text));
  try {
    return { code: await run(args), out, err };
  } finally {
    stdout.write = toOut;
    stderr.write = toErr;
  }
}

/** Writes a file for a command to read; its path. */
export function file(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}
