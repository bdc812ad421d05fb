import { parseSystem } from '@long-tally/core';
import { textOf } from '../files.js';
import { print } from '../output.js';
import { onlyFile } from '../usage.js';

/** Says whether a system file describes a home. */
export async function validate(args: readonly string[]): Promise<void> {
  const file = onlyFile(args, 'Name one system file.');
  const { name } = parseSystem(await textOf(file), file);
  await print(`${file}: ${name} is a valid long-tally/system@1.\n`);
}
