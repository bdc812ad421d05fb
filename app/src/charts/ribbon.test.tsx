/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { DayRange, RollDay } from '@long-tally/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { Roll } from '../protocol.js';

const WIDTH = 620;
jest.unstable_mockModule('../ui/useSize.js', () => ({ useWidth: () => [() => undefined, WIDTH] }));
const { RangeRibbon } = await import('./RangeRibbon.js');

const DAY_MS = 86_400_000;
/** Days of an invented home, each with what a rule says of it. */
const rollOf = (count: number, at: (day: number) => Partial<RollDay>): Roll =>
  ({
    configurations: [],
    days: Array.from({ length: count }, (_, i) => {
      const fromMs = Date.UTC(2014, 0, 1) + i * DAY_MS;
      return {
        ...{ date: new Date(fromMs).toISOString().slice(0, 10), fromMs, toMs: fromMs + DAY_MS },
        ...{ load: 10, import: 0, notes: [] },
        ...at(i),
      };
    }),
  }) as unknown as Roll;
/** Where each stroke of a colour begins and how far it goes, px. */
const strokes = (container: HTMLElement, colour: string) =>
  [...container.querySelectorAll(`path[stroke="var(--${colour})"]`)]
    .flatMap((path) => path.getAttribute('d')!.split('M').slice(1))
    .map((stroke) => /^(-?[\d.]+) (-?[\d.]+)v(-?[\d.]+)$/.exec(stroke)!.slice(1).map(Number));
const selected: DayRange[] = [];
const shown = (roll: Roll, range: DayRange) =>
  render(<RangeRibbon roll={roll} range={range} onSelect={(next) => void selected.push(next)} />).container;

describe('the history in a band', () => {
  beforeEach(() => void (selected.length = 0));
  afterEach(cleanup);

  test('has a stroke a day where there is room, and a stroke a pixel where there is not', () => {
    expect(
      strokes(
        shown(
          rollOf(90, () => ({})),
          { from: 0, to: 0 },
        ),
        'home',
      ),
    ).toHaveLength(90);
    cleanup();
    const many = strokes(
      shown(
        rollOf(3652, () => ({})),
        { from: 0, to: 0 },
      ),
      'home',
    );
    expect(many).toHaveLength(WIDTH);
    for (const [x] of many) expect(x! > 0 && x! < WIDTH).toBe(true);
  });

  test('hides no day that bought: the highest of a pixel is drawn', () => {
    const bought = new Map([
      [702, 3],
      [703, 12],
      [2900, 8],
    ]);
    const container = shown(
      rollOf(3652, (i) => ({ import: bought.get(i) ?? 0 })),
      { from: 0, to: 0 },
    );
    const drawn = strokes(container, 'grid');
    expect(drawn.map(([x]) => Math.round((x! / WIDTH) * 3652))).toEqual([
      expect.closeTo(702, -1),
      expect.closeTo(2900, -1),
    ]);
    expect(drawn[0]![2]).toBeGreaterThan(drawn[1]![2]!);
  });

  test('shows a day without any measurement as missing, and draws nothing else there', () => {
    const container = shown(
      rollOf(100, (i) => (i >= 40 && i < 45 ? { load: null, import: null } : {})),
      { from: 0, to: 0 },
    );
    expect(
      container.querySelectorAll('path[stroke-dasharray="2 2"]')[0]!.getAttribute('d')!.match(/M/g),
    ).toHaveLength(5);
    expect(strokes(container, 'home')).toHaveLength(95);
  });

  test('is chosen from by key, and never beyond its ends', () => {
    shown(
      rollOf(50, () => ({})),
      { from: 10, to: 20 },
    );
    const first = screen.getByRole('slider', { name: 'First day of the selection' });
    const last = screen.getByRole('slider', { name: 'Last day of the selection' });
    fireEvent.keyDown(first, { key: 'ArrowLeft' });
    fireEvent.keyDown(first, { key: 'PageUp' });
    fireEvent.keyDown(last, { key: 'ArrowRight' });
    fireEvent.keyDown(last, { key: 'PageUp' });
    fireEvent.keyDown(last, { key: 'x' });
    expect(selected).toEqual([
      { from: 9, to: 20 },
      { from: 20, to: 20 },
      { from: 10, to: 21 },
      { from: 10, to: 49 },
    ]);
    expect(first.getAttribute('aria-valuetext')).toBe('Saturday, 11 January 2014');
  });
});
