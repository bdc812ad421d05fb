import type { z } from 'zod';
import { InputError, type Problem } from './problem.js';

/**
 * JSON text as its Zod schema has it.
 * @param where name of the file, for the messages
 * @param what the file that is wanted, for the messages
 * @throws InputError with one problem for each key that is wrong, naming the key and the value found
 */
export function parseJson<T>(schema: z.ZodType<T>, text: string, where: string, what: string): T {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    const found = `This is not JSON: ${(error as Error).message}.`;
    throw new InputError([{ where, found, mend: `Bring ${what}.` }]);
  }
  return checkJson(schema, json, where);
}

/** As {@link parseJson}, for a value that is already an object. */
export function checkJson<T>(schema: z.ZodType<T>, json: unknown, where: string): T {
  const result = schema.safeParse(json);
  if (result.success) return result.data;
  throw new InputError(result.error.issues.map((issue) => problemOf(issue, json, where)));
}

function problemOf(issue: z.core.$ZodIssue, json: unknown, where: string): Problem {
  const key = issue.path
    .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
    .join('');
  const value = issue.path.reduce<unknown>(
    (node, part) =>
      typeof node === 'object' && node ? (node as Record<PropertyKey, unknown>)[part] : undefined,
    json,
  );
  const found = value === undefined ? 'the key is missing.' : `found ${JSON.stringify(value).slice(0, 80)}.`;
  return {
    where,
    column: `key ${key.slice(key.startsWith('.') ? 1 : 0) || '(the whole file)'}`,
    found: sentence(found),
    mend: sentence(issue.message),
  };
}

/** A message as a sentence of its own: capital first, one full stop. */
function sentence(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1).replace(/\.$/, '')}.`;
}
