/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, describe, expect, test } from '@jest/globals';
import type { BillRow, Clock, LossesView, RollDay, ScenarioOutcome, WearView } from '@long-tally/core';
import { cleanup, render } from '@testing-library/react';
import fc from 'fast-check';
import { overlapping, takenApart, type Drawing } from '../testing/drawing.js';
import { BillBars } from './BillBars.js';
import { CapacityChart } from './CapacityChart.js';
import { DepthBars } from './DepthBars.js';
import { EnergyBars } from './EnergyBars.js';
import { PaybackChart } from './PaybackChart.js';
import { RoundTripMonths } from './RoundTripMonths.js';
import { ScenarioCourses } from './ScenarioCourses.js';
import { SurvivalCurve } from './SurvivalCurve.js';
import { SweepCurve } from './SweepCurve.js';
import { TareLine } from './TareLine.js';
import { WarrantyClocks } from './WarrantyClocks.js';
import { WindowScatter } from './WindowScatter.js';

// Invented data: what is tested is that any data are drawn to scale, within the drawing, and can be read.

const DAY_MS = 86_400_000;
const START_MS = Date.UTC(2021, 2, 1);

afterEach(cleanup);

/** The drawing of a chart; null where it draws none. */
function drawn(chart: React.ReactElement): Drawing | null {
  const { container, unmount } = render(chart);
  const svg = container.querySelector('svg');
  const drawing = svg && takenApart(svg);
  unmount();
  return drawing;
}

const widths = fc.integer({ min: 340, max: 1400 });
/** Any value to a thousandth, as figures are told at their finest. */
const number = (min: number, max: number) =>
  fc
    .integer({ min: Math.ceil(min * 1000), max: Math.floor(max * 1000) })
    .map((thousandths) => thousandths / 1000);
/** A value with its bounds. */
const bounded = (min: number, max: number) =>
  fc
    .tuple(number(min, max), number(min, max), number(min, max))
    .map((three) => three.sort((a, b) => a - b))
    .map(([low, value, high]) => ({ low, value, high }));
const dayMs = (day: number) => START_MS + day * DAY_MS;

const rollDays = fc
  .array(
    fc.record({
      solar: fc.option(number(0, 80)),
      load: fc.option(number(0, 80)),
      import: fc.option(number(0, 80)),
    }),
    { minLength: 1, maxLength: 60 },
  )
  .map((list) =>
    list.map(
      (one, i) =>
        ({
          ...one,
          ...{ date: new Date(dayMs(i)).toISOString().slice(0, 10), fromMs: dayMs(i), toMs: dayMs(i + 1) },
          ...{ export: null, charge: null, discharge: null, closing: null, inflow: 0, coverage: 1 },
          ...{ gridFree: null, notes: [], longer: [] },
        }) as unknown as RollDay,
    ),
  );
const bills = fc
  .array(
    fc.record({
      bill: number(-300, 900),
      withoutSystem: number(0, 1200),
      withoutBattery: fc.option(number(-200, 1000)),
    }),
    { minLength: 1, maxLength: 60 },
  )
  .map((list) =>
    list.map((one, i) => ({ ...one, fromMs: dayMs(30 * i), toMs: dayMs(30 * i + 30) }) as BillRow),
  );
const outcome = (name: string) =>
  fc.array(fc.tuple(number(0, 336), number(0, 1)), { maxLength: 40 }).map((steps) => {
    const hours = steps.map(([hour]) => hour).sort((a, b) => a - b);
    const shares = steps.map(([, share]) => share).sort((a, b) => b - a);
    const curve = [{ hours: 0, share: 1 }, ...hours.map((hour, i) => ({ hours: hour, share: shares[i]! }))];
    return { scenario: { name }, curve } as unknown as ScenarioOutcome;
  });
const wear = fc
  .record({
    estimates: fc.array(
      fc.record({
        day: fc.integer({ min: 0, max: 4000 }),
        kWh: number(2, 40),
        half: number(0.05, 6),
        kind: fc.constantFrom('segment', 'full-run', 'trial'),
        direction: fc.constantFrom('charge', 'discharge'),
        counts: fc.boolean(),
      }),
      { minLength: 1, maxLength: 80 },
    ),
    level: bounded(5, 30),
    fan: fc.array(fc.tuple(bounded(-20, 30), fc.option(number(-5, 30))), { maxLength: 15 }),
    referenceKWh: fc.option(number(5, 40)),
    warrantyKWh: fc.option(number(2, 30)),
    hasStep: fc.boolean(),
  })
  .map(
    ({ estimates, level, fan, referenceKWh, warrantyKWh, hasStep }) =>
      ({
        estimates: [...estimates]
          .sort((a, b) => a.day - b.day)
          .map(({ day, kWh, half, ...one }) => ({
            ...one,
            ...{ atMs: dayMs(day), kWh, low: kWh - half, high: kWh + half, depth: 0.5 },
          })),
        trend: {
          ...{ side: 'dc', level, slope: null, toMs: dayMs(4001), referenceKWh, warrantyKWh, past: [] },
          fan: fan.map(([one, root], year) => ({ ...one, root, atMs: dayMs(4001 + 365 * year) })),
        },
        configurations: [],
        step: hasStep ? { atMs: dayMs(Math.min(...estimates.map(({ day }) => day))) } : null,
      }) as unknown as WearView,
  );
const depths = fc
  .array(fc.tuple(number(0, 900), number(0, 0.2)), { minLength: 10, maxLength: 10 })
  .map((bins) => bins.map(([count, damage], k) => ({ from: k / 10, count, damage })));
const months = fc
  .array(fc.tuple(number(0.4, 1.05), fc.option(bounded(0.3, 1.1))), { minLength: 1, maxLength: 60 })
  .map((list) =>
    list.map(([value, band], k) => ({
      ...{ fromMs: dayMs(30 * k), toMs: dayMs(30 * k + 30), windows: 9, value },
      quartiles: band && ([band.low, band.value, band.high] as [number, number, number]),
    })),
  );
const stretches = fc
  .array(
    fc.record({
      windows: fc.array(fc.record({ lossADay: number(-2, 20), dischargeADay: number(0, 60) }), {
        minLength: 1,
        maxLength: 50,
      }),
      fit: fc.option(fc.record({ idleW: number(0, 400), lambda: number(0, 0.3) })),
    }),
    { minLength: 1, maxLength: 3 },
  )
  .map((list) =>
    list.map(
      ({ windows, fit }, k) =>
        ({
          ...{ fromMs: dayMs(400 * k), windows, idleW: fit?.idleW ?? null, lambda: fit?.lambda ?? null },
        }) as unknown as LossesView['stretches'][number],
    ),
  );
const tare = fc
  .record({
    idleW: number(5, 400),
    slope: number(1, 1.4),
    served: fc.array(number(10, 9000), { minLength: 1 }),
  })
  .map(({ idleW, slope, served }) => ({
    ...{ idleW, slope },
    points: served.map((watts) => [watts, idleW + slope * watts] as const),
  }));
const fan = fc
  .record({ cost: number(500, 60_000), saving: bounded(1, 5000), years: fc.integer({ min: 1, max: 40 }) })
  .map(({ cost, saving, years }) => {
    const at = (year: number) => ({
      atMs: dayMs(365 * year),
      value: saving.value * year - cost,
      low: saving.low * year - cost,
      high: saving.high * year - cost,
    });
    return {
      cost,
      points: Array.from({ length: years + 1 }, (_, year) => at(year)),
      today: at(Math.min(2, years)),
    };
  });
const clocks = fc
  .array(
    fc.record({
      limit: fc.constantFrom<Clock['limit']>('years', 'throughput', 'cycles', 'capacity'),
      used: bounded(0, 1.6),
      runsOutMs: fc.option(bounded(dayMs(100), dayMs(40_000))),
    }),
    { minLength: 1, maxLength: 4 },
  )
  .map((list) =>
    list
      .filter(({ limit }, i) => list.findIndex((one) => one.limit === limit) === i)
      .map((one) => ({ ...one, rate: null, working: [], isFilled: false })),
  );
const warranty = (list: readonly Clock[]) => ({
  ...{ isOffGrid: false, beginsMs: START_MS, clocks: list, allowedADayKWh: null, usedADayKWh: null },
});
const swept = fc
  .array(bounded(0, 1), { minLength: 2, maxLength: 40 })
  .map((list) => list.map(({ value, low, high }, k) => ({ at: k + 1, share: value, low, high })));
const course = fc.array(fc.tuple(fc.option(number(0, 1)), fc.option(number(0, 12_000))), {
  minLength: 24,
  maxLength: 168,
});
const run = (name: string, hours: readonly (readonly [number | null, number | null])[]) => ({
  ...{ name, ink: 'var(--ink)', dash: '' },
  hours: { soc: hours.map(([soc]) => soc), missingW: hours.map(([, watts]) => watts) },
});

/** Any data of each chart, drawn at any width. */
const CHARTS: readonly (readonly [name: string, fc.Arbitrary<(width: number) => React.ReactElement>])[] = [
  [
    'solar, load and import by day or month',
    rollDays.map((days) => (width) => (
      <EnergyBars days={days} range={{ from: 0, to: days.length - 1 }} width={width} />
    )),
  ],
  [
    'bills',
    bills.map((list) => (width) => <BillBars bills={list} currency="EUR" timeZone="UTC" width={width} />),
  ],
  [
    'survival of outages',
    fc
      .tuple(outcome('whole home'), outcome('essentials'), fc.boolean())
      .map(([whole, essentials, both]) => (width) => (
        <SurvivalCurve courses={both ? [whole, essentials] : [whole]} horizonH={336} width={width} />
      )),
  ],
  ['capacity', wear.map((view) => (width) => <CapacityChart course={view} width={width} />)],
  ['cycles by depth', depths.map((bins) => (width) => <DepthBars depths={bins} width={width} />)],
  [
    'round trip by month',
    months.map((list) => (width) => (
      <RoundTripMonths
        course={{ months: list, steps: [], configurations: [] } as unknown as LossesView}
        width={width}
      />
    )),
  ],
  ['losses of windows', stretches.map((list) => (width) => <WindowScatter stretches={list} width={width} />)],
  ['tare line', tare.map((line) => (width) => <TareLine tare={line} width={width} />)],
  ['payback', fan.map((one) => (width) => <PaybackChart fan={one} currency="EUR" width={width} />)],
  [
    'limits of the warranty',
    clocks.map((list) => (width) => (
      <WarrantyClocks warranty={warranty(list)} nowMs={dayMs(900)} width={width} />
    )),
  ],
  [
    'a sweep',
    swept.map((points) => (width) => (
      <SweepCurve points={points} what="share" unit="modules" installed={2} knee={2} width={width} />
    )),
  ],
  [
    'courses of scenarios',
    fc
      .tuple(course, course)
      .map(([a, b]) => (width) => (
        <ScenarioCourses
          label="courses"
          runs={[run('as it is', a), run('changed', b)]}
          ticks={[{ hour: 0, text: '00:00' }]}
          missing="bought"
          width={width}
        />
      )),
  ],
];

describe.each(CHARTS)('%s, whatever the data', (_, charts) => {
  test('has numbers only, lies within its drawing, and no text lies over another', () => {
    fc.assert(
      fc.property(charts, widths, (chart, width) => {
        const drawing = drawn(chart(width));
        if (!drawing) return;
        expect(drawing.broken).toEqual([]);
        // A stroke or the mark of a point may reach over the edge by its own half.
        const outside = drawing.points.filter(
          ([x, y]) => !(x >= -6 && x <= width + 6 && y >= -6 && y <= drawing.height + 6),
        );
        expect(outside).toEqual([]);
        const cut = drawing.texts.filter(({ left, right }) => left < -8 || right > width + 8);
        expect(cut).toEqual([]);
        expect(overlapping(drawing.texts)).toEqual([]);
      }),
      // The same data every time: which data are drawn is no matter of chance in a check that all have to pass.
      { numRuns: 40, seed: 2026 },
    );
  });
});
