import { build } from 'esbuild';
import { mkdir, mkdtemp, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const dist = join(root, 'cli/dist');

/**
 * Bundles the command line, so that no call of it compiles anything. Commands are parts of their own: help loads none.
 * Two calls may do so at once: each writes apart, and what is ready takes its place whole, the entry last.
 */
export async function bundleCli() {
  await mkdir(dist, { recursive: true });
  const outdir = await mkdtemp(join(root, 'cli/dist/.making-'));
  await build({
    absWorkingDir: root,
    entryPoints: ['cli/src/main.ts', 'cli/src/fleetWorker.ts'],
    outdir,
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    legalComments: 'none',
    logLevel: 'warning',
  });
  const made = await readdir(outdir);
  for (const name of [...made.filter((one) => one !== 'main.js'), 'main.js'])
    await rename(join(outdir, name), join(dist, name));
  await rm(outdir, { recursive: true, force: true });
}
