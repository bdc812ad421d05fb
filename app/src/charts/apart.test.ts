import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { apart } from './apart.js';
import { captionLines, LETTER, LINE } from './Caption.js';

const HEIGHT = 400;

describe('names at the ends of lines', () => {
  test('stay where they are while they have room, and stand around their place where two share one', () => {
    expect(apart([{ at: 90 }, { at: 20 }], HEIGHT)).toEqual([{ at: 20 }, { at: 90 }]);
    expect(apart([{ at: 50 }, { at: 50 }], HEIGHT)).toEqual([{ at: 50 }, { at: 64 }]);
  });

  test('never lie over each other nor below the foot, and keep their order, however many', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: HEIGHT, noNaN: true }), { maxLength: 20 }), (heights) => {
        const placed = apart(
          heights.map((at) => ({ at, wish: at })),
          HEIGHT,
        );
        placed.forEach(({ at, wish }, i) => {
          expect(at).toBeLessThanOrEqual(HEIGHT);
          expect(at).toBeGreaterThanOrEqual(0);
          if (i === 0) return;
          expect(at - placed[i - 1]!.at).toBeGreaterThanOrEqual(LINE - 1e-9);
          expect(wish).toBeGreaterThanOrEqual(placed[i - 1]!.wish);
        });
      }),
    );
  });
});

describe('a caption', () => {
  test('takes as many lines as its width needs, every word once and in order', () => {
    fc.assert(
      fc.property(
        fc.array(fc.stringMatching(/^[a-z]{1,20}$/), { minLength: 1, maxLength: 30 }),
        fc.integer({ min: 60, max: 900 }),
        (words, width) => {
          const lines = captionLines(words.join(' '), width);
          expect(lines.join(' ').split(' ')).toEqual(words);
          for (const line of lines)
            expect(line.includes(' ') ? line.length * LETTER : 0).toBeLessThanOrEqual(width);
        },
      ),
    );
    expect(captionLines('what it means', 1000)).toEqual(['what it means']);
  });
});
