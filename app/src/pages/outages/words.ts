import type { ToldOutage } from '@long-tally/core';
import { hoursText } from '../../ui/format.js';

/** Hours that an expectation is followed. */
const FARTHEST_H = 7 * 24;

/** Whether an outage has the sun that there was. */
export type Sun = 'with' | 'none';
export const SUN: readonly (readonly [Sun, string])[] = [
  ['with', 'as it was'],
  ['none', 'none'],
];

/** What shows an interruption. */
export function evidenceText({ evidence, isPlanned }: ToldOutage): string {
  const words = {
    flag: 'state of the grid',
    voltage: 'voltage',
    frequency: 'frequency',
    inferred: 'inferred',
    journal: 'journal',
  }[evidence];
  return isPlanned ? `${words}; planned, by the journal` : words;
}

/** Hours as an expectation has them: beyond a week nothing is followed. */
export function expectedHours(hours: number): string {
  return hours >= FARTHEST_H ? 'more than a week' : hoursText(hours);
}

/** What could be expected in the first minute. */
export function expectedText({ expected }: ToldOutage): string {
  const held = expected?.expectedH;
  if (!held) return 'Too little lies before it to say what could be expected.';
  const to = held.high >= FARTHEST_H ? 'more than a week' : hoursText(held.high);
  return `In its first minute it could be expected to carry the home for ${expectedHours(held.value)} (${hoursText(held.low)} to ${to}), as the days before it went.`;
}

/** What came. */
export function carriedText({ expected }: ToldOutage): string {
  if (!expected) return '';
  const lasted = hoursText(expected.lastedH);
  const verdict = expected.isHeld === null ? '' : expected.isHeld ? ', as expected' : ', not as expected';
  if (expected.end === 'grid')
    return `The grid came back after ${lasted}${expected.isHeld === false ? verdict : ''}.`;
  return expected.end === 'empty'
    ? `It carried the home for ${lasted}, until the charge ran out${verdict}.`
    : `The home went dark after ${lasted} with charge left: look for an overload or a trip.`;
}
