import { z } from 'zod';
import { checkJson, parseJson } from '../model/validation.js';
import { InputError } from '../model/problem.js';
import { parseDate, parseInstant } from '../time/instant.js';
import { systemSchema, type System } from './schema.js';

/**
 * A system from the text of its file.
 * @param text JSON of `long-tally/system@1`
 * @param where name of the file, for the messages
 * @throws InputError with one problem for each key that is wrong, naming the key and the value found
 */
export function parseSystem(text: string, where: string): System {
  return ordered(parseJson(systemSchema, text, where, 'a system file, schema long-tally/system@1'), where);
}

/** As {@link parseSystem}, for a value that is already an object. */
export function checkSystem(json: unknown, where: string): System {
  return ordered(checkJson(systemSchema, json, where), where);
}

/** A system whose configurations follow each other; its tariffs are put in the order of their dates. */
function ordered(given: System, where: string): System {
  const system = given.tariffs
    ? { ...given, tariffs: [...given.tariffs].sort((a, b) => parseDate(a.from) - parseDate(b.from)) }
    : given;
  const froms = (system.configurations ?? []).map(({ from }) => parseInstant(from));
  const unordered = froms.findIndex((ms, i) => i > 0 && ms <= froms[i - 1]!);
  if (unordered < 1) return system;
  throw new InputError([
    {
      where,
      column: `key configurations[${unordered}].from`,
      found: `"${system.configurations![unordered]!.from}" does not come after the configuration before it.`,
      mend: 'Order the configurations by date, each with a date of its own.',
    },
  ]);
}

/** JSON Schema of the system file, generated from the Zod schema that is its single source. */
export function systemJsonSchema(): object {
  return z.toJSONSchema(systemSchema, { io: 'input', unrepresentable: 'any' });
}
