import { describe, expect, test } from '@jest/globals';
import { readings } from '../../testing/savedBook.js';
import { parseReadings, readingsText } from './readingsFile.js';

describe('the file of readings', () => {
  test('reads back what was written, and tells each row that cannot be used', () => {
    expect(parseReadings(readingsText(readings), 'r.csv')).toEqual(readings);
    expect(() =>
      parseReadings(
        'time,import_kwh\n2024-02-30T00:00:00Z,5\n2024-02-01T00:00:00Z,-5\n2024-02-01T00:00:00Z,many\n',
        'r.csv',
      ),
    ).toThrow(
      /r\.csv, line 2: "2024-02-30T00:00:00Z" is no time.*\n.*line 3: A counter is negative.*\n.*line 4: "many" is not a number/,
    );
    expect(() => parseReadings('when,import\n1,2\n', 'r.csv')).toThrow(/no column "time"|is no time/);
  });
});
