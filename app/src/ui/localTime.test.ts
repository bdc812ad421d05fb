import { describe, expect, test } from '@jest/globals';
import { shownLocal, typedLocal } from './localTime.js';

describe('local dates and times', () => {
  test('are shown with the month as a word', () => {
    expect(shownLocal('2024-09-14T18:00', 'time')).toBe('14 Sep 2024, 18:00');
    expect(shownLocal('2024-09-14', 'date')).toBe('14 Sep 2024');
    expect(shownLocal('', 'time')).toBe('');
    expect(shownLocal('soon', 'date')).toBe('soon');
  });

  test.each([
    ['2024-09-14T18:00', '2024-09-14T18:00'],
    ['2024-09-14T18:00:30', '2024-09-14T18:00'],
    ['2024-09-14 18:00', '2024-09-14T18:00'],
    ['14 Sep 2024, 18:00', '2024-09-14T18:00'],
    ['14 September 2024 6:05 pm', '2024-09-14T18:05'],
    ['Sep 14, 2024 9:05', '2024-09-14T09:05'],
    ['14.9.2024 18:00', '2024-09-14T18:00'],
    ['14 Sep 2024', '2024-09-14T00:00'],
  ])('%s is read as %s', (typed, read) => {
    expect(typedLocal(typed, 'time')).toBe(read);
    expect(typedLocal(shownLocal(read, 'time'), 'time')).toBe(read);
  });

  test.each(['9/14/2024 18:00', '14/9/24', '31 Jun 2024', 'tomorrow', '', '14 Sep 24'])(
    '“%s” is not guessed at',
    (typed) => {
      expect(typedLocal(typed, 'time')).toBeNull();
      expect(typedLocal(typed, 'date')).toBeNull();
    },
  );
});
