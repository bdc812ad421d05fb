/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { PowerSeries } from '@long-tally/core';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import fc from 'fast-check';
import { takenApart } from '../testing/drawing.js';
import { runs } from '../../../core/src/testing/long.js';

// How a chart is saved is tested in the browser.
jest.unstable_mockModule('../ui/Saveable.js', () => ({
  Saveable: ({ children }: { readonly children: React.ReactNode }) => children,
}));
const { CourseReader } = await import('../ui/CourseReader.js');
const { CourseChart } = await import('./CourseChart.js');

// Invented data.
const [START_MS, STEP_MS, CELLS] = [Date.UTC(2024, 5, 4), 900_000, 96];
/** Room at the sides of the chart for its axes and names, px. */
const [LEFT, RIGHT] = [46, 70];

afterEach(cleanup);

const courseOf = (more: Partial<PowerSeries> = {}): PowerSeries => ({
  range: { fromMs: START_MS, toMs: START_MS + CELLS * STEP_MS },
  ...{ startMs: START_MS, stepMs: STEP_MS, configuration: 'two modules' },
  solar: Float64Array.from({ length: CELLS }, (_, i) =>
    Math.max(0, 3000 * Math.sin((Math.PI * (i - 24)) / 48)),
  ),
  load: Float64Array.from({ length: CELLS }, (_, i) => 400 + (i % 9) * 150),
  grid: new Float64Array(CELLS),
  battery: Float64Array.from({ length: CELLS }, (_, i) => (i > 30 && i < 60 ? -1200 : 350)),
  soc: Float64Array.from({ length: CELLS }, (_, i) => 0.3 + 0.005 * i),
  ...{ gridDown: new Uint8Array(CELLS), carriedFromMs: null, peak: null, fills: [], faults: [] },
  limits: {
    ...{ continuousW: 5000, batteryOnlyW: 5000, islandW: 5000 },
    ...{ perLegW: null, lowChargeW: null, lowCharge: 0.1 },
  },
  ...more,
});
const chart = (course: PowerSeries, width: number, onRead: (at: number | null) => void = () => undefined) => (
  <CourseChart course={course} timeZone="UTC" width={width} at={null} onRead={onRead} />
);

describe('the course of a day', () => {
  const column = fc.option(
    fc
      .array(fc.option(fc.integer({ min: -9000, max: 9000 })), { minLength: CELLS, maxLength: CELLS })
      .map((list) => Float64Array.from(list, (watts) => watts ?? NaN)),
  );

  const moment = fc.integer({ min: 0, max: CELLS - 1 }).map((cell) => START_MS + cell * STEP_MS);
  const stretch = moment.chain((fromMs) =>
    fc.integer({ min: 1, max: 20 }).map((cells) => ({
      fromMs,
      toMs: Math.min(START_MS + CELLS * STEP_MS, fromMs + cells * STEP_MS),
    })),
  );
  const told = fc.record({
    carriedFromMs: fc.option(moment),
    peak: fc.option(fc.record({ watts: fc.integer({ min: 0, max: 9000 }), atMs: moment })),
    fills: fc.array(
      stretch.map((at) => ({ ...at, quantity: 'load' as const, source: 'the meter of the cellar.csv' })),
      { maxLength: 4 },
    ),
    faults: fc.uniqueArray(
      stretch.map((at) => ({ ...at, text: `Grid relay open, code ${at.fromMs % 97}`, code: 1 })),
      { maxLength: 5, selector: ({ fromMs }) => fromMs },
    ),
  });

  test('is drawn within its drawing, with numbers alone, whatever is known of it', () => {
    fc.assert(
      fc.property(
        fc.record({ solar: column, load: column, grid: column, battery: column }),
        fc.array(fc.integer({ min: 0, max: 1 }), { minLength: CELLS, maxLength: CELLS }),
        told,
        fc.integer({ min: 340, max: 1400 }),
        (flows, down, more, width) => {
          const { container, unmount } = render(
            chart(courseOf({ ...flows, ...more, gridDown: Uint8Array.from(down) }), width),
          );
          const { broken, points, height, texts } = takenApart(container.querySelector('svg')!);
          expect(broken).toEqual([]);
          expect(points.filter(([x, y]) => x < -1 || x > width + 1 || y < -1 || y > height + 1)).toEqual([]);
          // “grid down” and the names at the line ends stand where their line is.
          const placed = texts.filter(({ text }) => /load|relay|cellar/.test(text));
          expect(placed.filter(({ left, right }) => left < -1 || right > width + 1)).toEqual([]);
          unmount();
        },
      ),
      runs(10, 25),
    );
  });

  test('hatches just the time in which something is missing, and that without the grid', () => {
    const holed = courseOf({
      load: Float64Array.from({ length: CELLS }, (_, i) => (i >= 40 && i < 52 ? NaN : 500)),
      gridDown: Uint8Array.from({ length: CELLS }, (_, i) => Number(i >= 70 && i < 78)),
    });
    const width = LEFT + RIGHT + 960;
    const { container } = render(chart(holed, width));
    const boxes = (fill: string) =>
      [...container.querySelectorAll(`rect[fill="${fill}"]`)].map((box) => Number(box.getAttribute('width')));
    // Ten pixels a cell.
    expect(boxes('url(#hatch-missing)')).toEqual([120]);
    expect(boxes('url(#hatch-red)')).toEqual([80]);
    expect(screen.getByText('grid down')).toBeTruthy();
  });

  test('is read out at the pointer, cell by cell, and not beside the drawing', () => {
    const read: (number | null)[] = [];
    const width = LEFT + RIGHT + 960;
    const { container } = render(chart(courseOf(), width, (at) => void read.push(at)));
    const svg = container.querySelector('svg')!;
    for (const x of [LEFT + 5, LEFT + 15, LEFT + 955, LEFT - 5, LEFT + 965]) {
      fireEvent(svg, new MouseEvent('pointermove', { bubbles: true, clientX: x, clientY: 50 }));
    }
    fireEvent(svg, new MouseEvent('pointerout', { bubbles: true }));
    expect(read.slice(0, 5)).toEqual([0, 1, 95, null, null]);
    expect(read.at(-1)).toBeNull();
  });
});

describe('the read-out by keys', () => {
  const opened = (course = courseOf()) => {
    render(
      <CourseReader course={course} timeZone="UTC">
        <p>beneath</p>
      </CourseReader>,
    );
    return screen.getByRole('slider', { name: 'Time of day read out' });
  };
  const press = (slider: HTMLElement, key: string) => act(() => void fireEvent.keyDown(slider, { key }));

  test('goes by intervals, by hours and to both ends, and no further', () => {
    const slider = opened();
    expect(slider.getAttribute('aria-valuetext')).toBe('nothing read out');
    const places: string[] = [];
    for (const key of ['Home', 'ArrowLeft', 'ArrowRight', 'PageDown', 'End', 'ArrowRight', 'PageUp']) {
      press(slider, key);
      places.push(screen.getByRole('heading', { level: 2 }).textContent);
    }
    expect(places).toEqual([
      '00:00 – 00:15',
      '00:00 – 00:15',
      '00:15 – 00:30',
      '01:15 – 01:30',
      '23:45 – 00:00',
      '23:45 – 00:00',
      '22:45 – 23:00',
    ]);
  });

  test('tells every flow, what is missing, and which source filled in', () => {
    const slider = opened(
      courseOf({
        grid: new Float64Array(CELLS).fill(NaN),
        solar: null,
        fills: [{ quantity: 'load', source: 'meter.csv', fromMs: START_MS, toMs: START_MS + STEP_MS }],
      }),
    );
    press(slider, 'Home');
    expect(slider.getAttribute('aria-valuetext')).toBe(
      '00:00: S solar missing, H load 400 W, G grid missing, B battery 350 W, charge 30 %',
    );
    expect(screen.getByRole('row', { name: /^H load/ }).textContent).toBe('H load400 Wfrom meter.csv');
    press(slider, 'ArrowRight');
    expect(screen.getByRole('row', { name: /^H load/ }).textContent).toBe('H load550 W');
  });

  test('leaves other keys alone', () => {
    const slider = opened();
    press(slider, 'a');
    expect(slider.getAttribute('aria-valuetext')).toBe('nothing read out');
    expect(screen.getByText('beneath')).toBeTruthy();
  });
});
