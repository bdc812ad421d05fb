import type { z } from 'zod';
import { InputError, type Problem } from './problem.js';

/** No file that is known here nests deeper; what does is made to exhaust whoever reads it. */
const DEEPEST = 60;
const [QUOTE, BACKSLASH, BRACKET, BRACE] = [34, 92, 91, 123];

/**
 * The value that a JSON text holds.
 * @param where name of the file, for the messages
 * @throws InputError when it is no JSON, naming the line, or is nested without end
 */
export function jsonOf(text: string, where: string, mend: string): unknown {
  const plain = text.replace(/^\uFEFF/, '');
  if (depthOf(plain) > DEEPEST) {
    const found = `The JSON is nested more than ${DEEPEST} levels deep.`;
    throw new InputError([{ where, found, mend }]);
  }
  try {
    return JSON.parse(plain) as unknown;
  } catch (error) {
    // The engine tells a position in its own words, or none where the text breaks off.
    const position = Number(/position (\d+)/.exec((error as Error).message)?.[1] ?? plain.length);
    const line = plain.slice(0, position).split('\n').length;
    const found =
      plain.trim() === '' ? 'The file is empty.' : 'This is not JSON: it is malformed or breaks off here.';
    throw new InputError([{ where, line, found, mend }]);
  }
}

/** How deep brackets are nested in a JSON text; those within its strings are none. */
function depthOf(text: string): number {
  let depth = 0;
  let deepest = 0;
  let isText = false;
  for (let i = 0; i < text.length; i++) {
    const sign = text.charCodeAt(i);
    if (sign === QUOTE) isText = !isText;
    else if (isText) i += sign === BACKSLASH ? 1 : 0;
    else if (sign === BRACKET || sign === BRACE) deepest = Math.max(deepest, ++depth);
    else if (sign === BRACKET + 2 || sign === BRACE + 2) depth--;
  }
  return deepest;
}

/**
 * JSON text as its Zod schema has it.
 * @param where name of the file, for the messages
 * @param what the file that is wanted, for the messages
 * @throws InputError with one problem for each key that is wrong, naming the key and the value found
 */
export function parseJson<T>(schema: z.ZodType<T>, text: string, where: string, what: string): T {
  return checkJson(schema, jsonOf(text, where, `Bring ${what}.`), where);
}

/** As {@link parseJson}, for a value that is already an object. */
export function checkJson<T>(schema: z.ZodType<T>, json: unknown, where: string): T {
  const result = schema.safeParse(json, { error: (issue) => mendOf(issue) });
  if (result.success) return result.data;
  throw new InputError(result.error.issues.map((issue) => problemOf(issue, json, where)));
}

const TYPES: Readonly<Record<string, string>> = {
  string: 'text between quotes',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object of keys and values',
  tuple: 'a list',
  null: 'null',
};

/** How to mend what a schema refuses, where the schema itself does not say it. */
function mendOf(issue: z.core.$ZodRawIssue): string {
  const list = (values: readonly unknown[]) => values.map((value) => JSON.stringify(value)).join(', ');
  switch (issue.code) {
    case 'invalid_type':
      return `write ${TYPES[issue.expected] ?? 'another value'}`;
    case 'too_small':
      return issue.origin === 'number' || issue.origin === 'int'
        ? `write a number ${issue.inclusive === false ? 'above' : 'of at least'} ${issue.minimum}`
        : `give at least ${issue.minimum}`;
    case 'too_big':
      return issue.origin === 'number' || issue.origin === 'int'
        ? `write a number ${issue.inclusive === false ? 'below' : 'of at most'} ${issue.maximum}`
        : `give at most ${issue.maximum}`;
    case 'invalid_value':
      return issue.values.length === 1 ? `write ${list(issue.values)}` : `write one of ${list(issue.values)}`;
    case 'unrecognized_keys':
      return `take out ${list(issue.keys)}, which is not known here`;
    case 'invalid_union':
      return 'write it in one of the forms that its schema names';
    default:
      return 'write another value';
  }
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
