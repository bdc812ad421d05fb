import { describe, expect, test } from '@jest/globals';
import { testData } from '../../testing/logs.js';
import { indicesOf } from './reliabilityIndices.js';

describe('indices of reliability', () => {
  test('are those of the example in IEEE 1366, Annex B: SAIFI 1.61, SAIDI 86.11 min, CAIDI 53.57 min', () => {
    const { customers, events, expected } = testData('ieee1366.json') as {
      customers: number;
      events: [day: string, from: string, to: string, customers: number, kind: string][];
      expected: { SAIFI: number; SAIDI_min: number; CAIDI_min: number };
    };
    const seconds = (text: string) => text.split(':').reduce((sum, part) => sum * 60 + Number(part), 0);
    const list = events.map(([, from, to, hit]) => ({
      minutes: (seconds(to) - seconds(from)) / 60,
      customers: hit,
    }));
    const { saifi, saidi, caidi, maifi } = indicesOf(list, customers);
    expect(saifi).toBeCloseTo(expected.SAIFI, 4);
    expect(saidi).toBeCloseTo(expected.SAIDI_min, 3);
    expect(caidi).toBeCloseTo(expected.CAIDI_min, 3);
    expect(maifi).toBeCloseTo((400 + 2000) / 2000, 9);
    // By the three minutes of EN 50160 nothing changes here: the two brief ones last half a minute and one.
    expect(indicesOf(list, customers, 3)).toEqual(indicesOf(list, customers));
  });

  test('of a home are counts and minutes', () => {
    expect(indicesOf([{ minutes: 4, customers: 1 }], 1)).toEqual({
      saifi: 0,
      saidi: 0,
      caidi: NaN,
      maifi: 1,
    });
    expect(
      indicesOf(
        [
          { minutes: 90, customers: 1 },
          { minutes: 30, customers: 1 },
        ],
        1,
      ),
    ).toMatchObject({
      saifi: 2,
      saidi: 120,
      caidi: 60,
    });
  });
});
