import { describe, expect, test } from '@jest/globals';
import { heldBetween, timeLineOf, wallMs, wallText } from './configurationMarks.js';

const named = (from: string, name = '') => ({ from, name });
const TODAY = Date.parse('2025-01-01T00:00Z');

describe('the line of time of configurations', () => {
  test('has a mark for each with a date, in their order, up to today', () => {
    const line = timeLineOf(
      [named('2024-05-01T08:00', 'b'), named(''), named('2023-01-01T00:00', ' a ')],
      TODAY,
    )!;
    expect(line.marks.map(({ index, name }) => [index, name])).toEqual([
      [2, 'a'],
      [0, 'b'],
    ]);
    expect(line.fromMs).toBe(Date.parse('2023-01-01T00:00Z'));
    expect(line.toMs).toBe(TODAY);
    expect(timeLineOf([named('')], TODAY)).toBeNull();
  });

  test('leaves room behind a configuration of today', () => {
    const { fromMs, toMs } = timeLineOf([named('2025-01-01T00:00')], TODAY)!;
    expect(toMs - fromMs).toBeGreaterThan(60 * 86_400_000);
  });

  test('keeps a mark a day away from its neighbours', () => {
    const { marks } = timeLineOf(
      [named('2023-01-01T00:00'), named('2023-06-01T00:00'), named('2024-01-01T00:00')],
      TODAY,
    )!;
    const held = (text: string) => wallText(heldBetween(marks, marks[1]!, wallMs(text)));
    expect(held('2022-01-01T00:00')).toBe('2023-01-02T00:00');
    expect(held('2023-03-05T06:30')).toBe('2023-03-05T06:30');
    expect(held('2026-01-01T00:00')).toBe('2023-12-31T00:00');
    expect(wallText(heldBetween(marks, marks[0]!, wallMs('2001-02-03T04:05')))).toBe('2001-02-03T04:05');
  });
});
