import { STATEMENT_PARTS, type Statement } from '@long-tally/core';
import { figureText } from '../../ui/format.js';
import { labelOf } from '../../ui/localized.js';

/**
 * A statement as a few lines of plain text, to paste into a message.
 * @param title of the range, and @param without parts that are left out
 */
export function shortText(
  { now, findings }: Statement,
  name: string,
  title: string,
  currency: string,
  without: readonly string[],
): string {
  const lines = [`${name}, ${title}`];
  for (const { id, title: part, keys } of STATEMENT_PARTS) {
    if (without.includes(id)) continue;
    const told = keys.flatMap((key) => {
      const figure = now[key];
      return figure?.value == null ? [] : [`${labelOf(key)} ${figureText(figure, currency)}`];
    });
    if (told.length > 0) lines.push(`${part}: ${told.join('; ')}.`);
  }
  if (!without.includes('findings'))
    for (const { message } of findings.slice(0, 3)) lines.push(`– ${message}`);
  lines.push('Values with their intervals at about 95 %.');
  return lines.join('\n');
}
