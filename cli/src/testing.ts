import { execFile } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';

export const root = fileURLToPath(new URL('../..', import.meta.url));
export const folder = mkdtempSync(join(tmpdir(), 'tally-'));

/** How a command ended, and what it wrote. */
export interface Ended {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** Runs the command line. */
export async function tally(...args: string[]): Promise<Ended> {
  try {
    const { stdout, stderr } = await promisify(execFile)(
      process.execPath,
      ['--import', 'tsx', join(root, 'cli/src/main.ts'), ...args],
      {
        cwd: root,
        maxBuffer: 1 << 26,
        env: { ...process.env, NODE_OPTIONS: '' },
      },
    );
    return { code: 0, out: stdout, err: stderr };
  } catch (error) {
    const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string };
    return { code, out: stdout, err: stderr };
  }
}

/** Writes a file for a command to read; its path. */
export function file(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}
