import { type System, parseSystem, surveyFile } from '@long-tally/core';
import { assertFile, bytesOf, textOf } from '../files.js';
import { print, tell } from '../output.js';
import { onlyFile, optionsIn } from '../usage.js';

/** Prints how a file would be read: one mapping for each text in it, with what speaks for every part of it. */
export async function detect(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { system: { type: 'string' } });
  const file = onlyFile(positionals, 'Name one file.');
  const system: System = values.system
    ? parseSystem(await textOf(values.system), values.system)
    : { schema: 'long-tally/system@1', name: 'unknown home', timeZone: 'UTC' };
  await assertFile(file);
  const { surveys, leftOut } = await surveyFile(file, () => bytesOf(file), system);
  for (const { refusal } of surveys) if (refusal) throw refusal;
  const found = surveys.map(({ part, recognition }) => ({
    file: part.name,
    ...recognition.mapping,
    evidence: recognition.conclusions.map(({ about, says, evidence, confidence, asks, alternatives }) => ({
      about,
      says,
      confidence,
      asks,
      evidence,
      ...(alternatives.length > 0 ? { alternatives } : {}),
    })),
    ignored: recognition.ignored,
  }));
  for (const { name, why } of leftOut) tell(`${name} is not read: ${why}`);
  await print(`${JSON.stringify(found.length === 1 ? found[0] : found, null, 1)}\n`);
}
