import type { Conclusion, Mapping } from '@long-tally/core';
import { db, type RememberedMapping } from './database.js';

/** How a file of some shape is recognised: a mapping, and what of it is asked. */
export interface Proposal {
  readonly mapping: Mapping;
  readonly conclusions: readonly Conclusion[];
}

/** The mapping that was last used in a home for files of a shape, if the rows of a new file agree with it. */
export async function rememberedMapping(
  homeId: string,
  shape: string,
  proposal: Proposal,
): Promise<Mapping | null> {
  const known = await db.homeMappings.get([homeId, shape]);
  return known && agrees(known, proposal) ? known.mapping : null;
}

/**
 * True when a mapping used before may serve for new rows: each part of it is what they say themselves, or what they leave
 * open, or what its owner had changed although the rows had said the same for certain.
 */
export function agrees(
  { mapping, proposed, asked }: Pick<RememberedMapping, 'mapping' | 'proposed' | 'asked'>,
  proposal: Proposal,
): boolean {
  const [used, now] = [partsOf(mapping), partsOf(proposal.mapping)];
  const before = proposed && partsOf(proposed);
  const open = new Set(proposal.conclusions.filter(({ asks }) => asks).map(({ about }) => about));
  return [...new Set([...used.keys(), ...now.keys()])].every((part) => {
    if (used.get(part) === now.get(part)) return true;
    if (open.has(part)) return true;
    return before !== null && !asked.includes(part) && before.get(part) === now.get(part);
  });
}

/** The parts of a mapping by what a conclusion about each is called. */
function partsOf({ table, time, columns }: Mapping): Map<string, string> {
  return new Map([
    ['table', table.decimal],
    ['time.format', `${time.columns.join()} ${time.format}`],
    ['time.zone', time.zone],
    ['time.marks', time.marks],
    ...columns.map(({ column, quantity, unit, sign, kind, sample = 'mean' }): [string, string] => [
      `column:${column}`,
      [quantity, unit, sign, kind, sample].join(' '),
    ]),
  ]);
}
