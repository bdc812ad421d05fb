import { z } from 'zod';
import { InputError, type Problem } from '../problem.js';
import { parseInstant } from '../time/instant.js';
import { systemSchema, type System } from './schema.js';

/**
 * A system from the text of its file.
 * @param text JSON of `long-tally/system@1`
 * @param where name of the file, for the messages
 * @throws InputError with one problem for each key that is wrong, naming the key and the value found
 */
export function parseSystem(text: string, where: string): System {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    const found = `This is not JSON: ${(error as Error).message}.`;
    throw new InputError([{ where, found, mend: 'Bring a system file, schema long-tally/system@1.' }]);
  }
  return checkSystem(json, where);
}

/** As {@link parseSystem}, for a value that is already an object. */
export function checkSystem(json: unknown, where: string): System {
  const result = systemSchema.safeParse(json);
  if (!result.success) {
    throw new InputError(result.error.issues.map((issue) => problemOf(issue, json, where)));
  }
  const froms = (result.data.configurations ?? []).map(({ from }) => parseInstant(from));
  const unordered = froms.findIndex((ms, i) => i > 0 && ms <= froms[i - 1]!);
  if (unordered > 0) {
    throw new InputError([
      {
        where,
        column: `key configurations[${unordered}].from`,
        found: `"${result.data.configurations![unordered]!.from}" does not come after the configuration before it.`,
        mend: 'Order the configurations by date, each with a date of its own.',
      },
    ]);
  }
  return result.data;
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

/** JSON Schema of the system file, generated from the Zod schema that is its single source. */
export function systemJsonSchema(): object {
  return z.toJSONSchema(systemSchema, { io: 'input', unrepresentable: 'any' });
}

/** A message as a sentence of its own: capital first, one full stop. */
function sentence(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1).replace(/\.$/, '')}.`;
}
