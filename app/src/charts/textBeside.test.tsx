/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, expect, test } from '@jest/globals';
import { cleanup, render } from '@testing-library/react';
import fc from 'fast-check';
import { takenApart } from '../testing/drawing.js';
import { TextBeside } from './TextBeside.js';

afterEach(cleanup);

const placed = (text: string, at: number, right: number) => {
  const { container, unmount } = render(
    <svg width={right} height="20">
      <TextBeside at={at} gap={5} right={right} y={12} fill="var(--ink)">
        {text}
      </TextBeside>
    </svg>,
  );
  const [one] = takenApart(container.querySelector('svg')!).texts;
  unmount();
  return one!;
};

test('a text stands to the right of its mark, to the left where it has no room, and never runs out of its drawing', () => {
  expect(placed('limit', 100, 400).left).toBe(105);
  expect(placed('limit', 390, 400).right).toBeCloseTo(385, 9);
  fc.assert(
    fc.property(
      fc.string({ minLength: 1, maxLength: 60, unit: fc.constantFrom('a', 'W', '1') }),
      fc.integer({ min: 300, max: 1400 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (text, right, share) => {
        const { left, right: end } = placed(text, share * right, right);
        expect(left).toBeGreaterThanOrEqual(-1e-9);
        // One that is wider than the drawing shows where it begins.
        if (end - left <= right) expect(end).toBeLessThanOrEqual(right + 1e-9);
        else expect(left).toBe(0);
      },
    ),
  );
});
