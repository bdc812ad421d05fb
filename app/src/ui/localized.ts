import { figureEntry } from '@long-tally/core';
import { dateText, decimal, degreesOf, degreeUnit } from './format.js';

/** Measures before which a whole number of four figures is a quantity, not a year or the number of a standard. */
const MEASURES =
  'kWh|MWh|Wh|kW|W|kVA|VA|V|A|Hz|h|min|s|%|days|nights|hours|rows|samples|steps|intervals|cycles|windows|rests|starts|estimates|logs|files|times';
const NUMBER = '\\d+(?:\\.\\d+)?';
// No part of a name, an address, a version, a clock time or a longer number on either side.
const ALONE = '(?<![\\w.,:/-])';
const ENDS = '(?![\\w/]|[:.,-]\\w)';
const TOKEN = new RegExp(
  [
    `${ALONE}(?<date>\\d{4}-\\d{2}-\\d{2})(?: (?<clock>\\d{2}:\\d{2}))?${ENDS}`,
    `(?<![\\w.,:/])(?<from>[-−]?${NUMBER})(?:(?<between>(?: to | and | – |–))(?<to>[-−]?${NUMBER}))? °C`,
    `${ALONE}(?<quantity>\\d{4,}(?:\\.\\d+)?)(?= (?:(?:to|and|–|of) ${NUMBER} )?(?:${MEASURES})(?!\\w))${ENDS}`,
    `${ALONE}(?<number>\\d+\\.\\d+)${ENDS}`,
  ].join('|'),
  'g',
);

/**
 * A sentence of the computation as its reader writes numbers, dates and temperatures. The computation writes all texts
 * alike (decimal point, no mark of thousands, ISO dates, °C), so that a report reads the same wherever it is made; what
 * stands in quotation marks is somebody's own, and stays.
 */
export function localized(text: string): string {
  return text
    .split(/(“[^”]*”)/)
    .map((part) => (part.startsWith('“') ? part : part.replace(TOKEN, rewritten)))
    .join('');
}

/** The name of a figure, its bounds in the reader’s marks and degrees. */
export function labelOf(key: string): string {
  return localized(figureEntry(key).label);
}

function rewritten(found: string, ...rest: readonly unknown[]): string {
  const { date, clock, from, between, to, quantity, number } = rest.at(-1) as Record<
    string,
    string | undefined
  >;
  if (date !== undefined) {
    if (Number.isNaN(Date.parse(date))) return found;
    return dateText(date, 'plain') + (clock === undefined ? '' : `, ${clock}`);
  }
  if (from !== undefined)
    return `${degrees(from)}${to === undefined ? '' : `${between}${degrees(to)}`} ${degreeUnit()}`;
  const plain = (quantity ?? number)!;
  return decimal(Number(plain), decimalsOf(plain));
}

function degrees(celsius: string): string {
  return decimal(degreesOf(Number(celsius.replace('−', '-'))), decimalsOf(celsius));
}

function decimalsOf(number: string): number {
  return number.split('.')[1]?.length ?? 0;
}
