#!/usr/bin/env node
import { readdirSync, statSync } from 'node:fs';

const bundle = new URL('dist/main.js', import.meta.url);
const made = statSync(bundle, { throwIfNoEntry: false })?.mtimeMs ?? 0;

/** True when nothing in a folder was changed after the bundle was made. */
function isOlder(folder) {
  return readdirSync(folder, { withFileTypes: true }).every((entry) => {
    const url = new URL(entry.isDirectory() ? `${entry.name}/` : entry.name, folder);
    return entry.isDirectory() ? isOlder(url) : statSync(url).mtimeMs <= made;
  });
}

// The bundle is made at set-up; where it is missing or its sources have changed, it is made now.
const sources = [new URL('src/', import.meta.url), new URL('../core/src/', import.meta.url)];
if (!sources.every(isOlder)) {
  const { bundleCli } = await import('../scripts/cli.mjs');
  await bundleCli();
}
await import(bundle.href);
