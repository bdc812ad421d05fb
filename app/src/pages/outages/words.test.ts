import { describe, expect, test } from '@jest/globals';
import type { ToldOutage } from '@long-tally/core';
import { carriedText, evidenceText, expectedHours, expectedText } from './words.js';

type Expected = NonNullable<ToldOutage['expected']>;
const outage = (expected: Partial<Expected> | null, more: Partial<ToldOutage> = {}) =>
  ({ evidence: 'voltage', isPlanned: false, expected, ...more }) as ToldOutage;

describe('an outage in words', () => {
  test.each([
    ['flag', 'state of the grid'],
    ['voltage', 'voltage'],
    ['frequency', 'frequency'],
    ['inferred', 'inferred'],
    ['journal', 'journal'],
  ] as const)('is shown by %s', (evidence, says) => {
    expect(evidenceText(outage(null, { evidence }))).toBe(says);
    expect(evidenceText(outage(null, { evidence, isPlanned: true }))).toBe(
      `${says}; planned, by the journal`,
    );
  });

  test('could be expected to be carried so long, and beyond a week no further', () => {
    const of = (value: number, low: number, high: number) =>
      expectedText(outage({ expectedH: { value, low, high } }));
    expect(of(9, 7.5, 12)).toBe(
      'In its first minute it could be expected to carry the home for 9 h 00 (7 h 30 to 12 h 00), as the days before it went.',
    );
    expect(of(100, 40, 168)).toMatch(/for 100 h 00 \(40 h 00 to more than a week\)/);
    expect(expectedHours(168)).toBe('more than a week');
    expect(expectedHours(0.5)).toBe('30 min');
    expect(expectedText(outage(null))).toMatch(/^Too little lies before it/);
    expect(expectedText(outage({ expectedH: null }))).toMatch(/^Too little lies before it/);
  });

  test('tells what came, and where it was otherwise than expected', () => {
    const came = (end: Expected['end'], isHeld: boolean | null) =>
      carriedText(outage({ end, isHeld, lastedH: 2.25 }));
    expect(came('grid', true)).toBe('The grid came back after 2 h 15.');
    expect(came('grid', null)).toBe('The grid came back after 2 h 15.');
    expect(came('grid', false)).toBe('The grid came back after 2 h 15, not as expected.');
    expect(came('empty', true)).toBe(
      'It carried the home for 2 h 15, until the charge ran out, as expected.',
    );
    expect(came('empty', null)).toBe('It carried the home for 2 h 15, until the charge ran out.');
    expect(carriedText(outage(null))).toBe('');
  });
});
