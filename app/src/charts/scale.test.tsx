/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, describe, expect, test } from '@jest/globals';
import { MARK, STRIP_SLOTS, type Figure } from '@long-tally/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import fc from 'fast-check';
import { Ladder } from '../pages/money/Ladder.js';
import { takenApart } from '../testing/drawing.js';
import { DayStrip } from './DayStrip.js';
import { FlowBars } from './FlowBars.js';
import { HourTable } from './HourTable.js';
import { LossBudget } from './LossBudget.js';
import { TallyStrokes } from './TallyStrokes.js';

// Invented data: what is tested is that lengths are true to their numbers.

const WIDTH = 800;
afterEach(cleanup);

const figureOf = (value: number | null): Figure =>
  ({
    ...{ value, low: value, high: value, unit: 'kWh', status: value === null ? 'insufficient' : 'measured' },
    ...{ reason: value === null ? 'It is not known for 12.5 h.' : null },
  }) as unknown as Figure;
const figuresOf = (values: Readonly<Record<string, number | null>>) =>
  Object.fromEntries(Object.entries(values).map(([key, value]) => [key, figureOf(value)]));
const energy = fc.integer({ min: 0, max: 90_000 }).map((tenths) => tenths / 10);
/** The width and the left edge of the part of a figure, px. */
const partOf = (key: string) => {
  const { style } = document.querySelector<HTMLElement>(`button[data-figure="${key}"]`)!;
  return { left: parseFloat(style.left), width: parseFloat(style.width) };
};

describe('where the energy went', () => {
  test('what came in and what went out stand on one scale, end to end; every part leads to its figure', () => {
    fc.assert(
      fc.property(
        // Where nothing at all is lost no part has a length.
        fc.record({
          solar: energy,
          import: energy,
          load: energy,
          export: energy,
          losses: energy.map((kWh) => kWh + 0.1),
        }),
        fc.integer({ min: -200, max: 200 }),
        (account, store) => {
          const figures = figuresOf({
            ...Object.fromEntries(Object.entries(account).map(([key, kWh]) => [`account.${key}`, kWh])),
            'account.storeChange': store,
            'losses.part.idle': account.losses / 2,
            'losses.part.conversion': account.losses / 3,
            'losses.unexplained': account.losses / 6,
          });
          cleanup();
          const opened: string[] = [];
          render(<LossBudget figures={figures} width={WIDTH} onOpen={(key) => void opened.push(key)} />);
          const went = account.load + account.export + account.losses + Math.max(0, store);
          const total = Math.max(account.solar + account.import + Math.max(0, -store), went, 1e-9);
          for (const key of ['solar', 'import', 'load', 'export', 'losses'] as const)
            expect(partOf(`account.${key}`).width).toBeCloseTo(
              Math.max(0, (account[key] / total) * WIDTH - 1),
              3,
            );
          expect(partOf('account.import').left).toBeCloseTo((account.solar / total) * WIDTH, 3);
          const parts = ['losses.part.idle', 'losses.part.conversion', 'losses.unexplained'].map(partOf);
          expect(parts.reduce((sum, { width }) => sum + width, 0)).toBeCloseTo(WIDTH, 3);
          parts
            .slice(1)
            .forEach(({ left }, k) => expect(left).toBeCloseTo(parts[k]!.left + parts[k]!.width, 3));
          fireEvent.click(document.querySelector('button[data-figure="losses.unexplained"]')!);
          expect(opened).toEqual(['losses.unexplained']);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('without parts of the losses their reason stands there', () => {
    render(
      <LossBudget
        figures={figuresOf({ 'account.solar': 10, 'account.load': 8, 'losses.unexplained': null })}
        width={WIDTH}
        onOpen={() => undefined}
      />,
    );
    expect(screen.getByText('It is not known for 12.5 h.')).toBeTruthy();
  });

  test('flows keep their ratio over all three sources', () => {
    const keys = [
      'solarToLoad',
      'solarToStore',
      'solarToExport',
      'storeToLoad',
      'storeToExport',
      'gridToLoad',
    ];
    fc.assert(
      fc.property(fc.array(energy, { minLength: 7, maxLength: 7 }), (kWh) => {
        const flows = [...keys, 'gridToStore'].map((key, k) => [`account.flow.${key}`, kWh[k]!] as const);
        const { unmount } = render(
          <FlowBars
            figures={figuresOf({ ...Object.fromEntries(flows), 'account.import': kWh[5]! + kWh[6]! })}
            width={WIDTH}
            onOpen={() => undefined}
          />,
        );
        const shown = flows.filter(([, one]) => one > 0);
        const sums = [
          [0, 3],
          [3, 5],
          [5, 7],
        ].map(([from, to]) => kWh.slice(from, to).reduce((sum, one) => sum + one, 0));
        const scale = (WIDTH - 190) / Math.max(1e-9, ...sums);
        for (const [key, one] of shown) expect(partOf(key).width).toBeCloseTo(Math.max(3, one * scale), 3);
        unmount();
      }),
      { numRuns: 40 },
    );
  });
});

describe('a day in a line', () => {
  const slots = fc.array(fc.constantFrom(0, MARK.grid, MARK.outage, MARK.missing, MARK.grid | MARK.outage), {
    minLength: STRIP_SLOTS,
    maxLength: STRIP_SLOTS,
  });
  const charge = fc.array(fc.option(fc.integer({ min: 0, max: 100 })), {
    minLength: STRIP_SLOTS,
    maxLength: STRIP_SLOTS,
  });

  test('hatches just what is missing, marks just the contacts and outages, and breaks its line where no charge is known', () => {
    fc.assert(
      fc.property(slots, charge, (marks, socs) => {
        const { container, unmount } = render(
          <DayStrip
            strips={{
              soc: Float32Array.from(socs, (soc) => (soc === null ? NaN : soc / 100)),
              marks: Uint8Array.from(marks),
            }}
            sun={Float32Array.of(NaN, NaN)}
            index={0}
          />,
        );
        const svg = container.querySelector('svg')!;
        expect(takenApart(svg).broken).toEqual([]);
        const covered = (paint: string) => {
          const path = svg.querySelector(`path[fill="${paint}"]`)?.getAttribute('d') ?? '';
          const boxes = [...path.matchAll(/M([\d.]+) [\d.]+H([\d.]+)/g)];
          return boxes.reduce((sum, [, from, to]) => sum + Number(to) - Number(from), 0);
        };
        const slot = 208 / STRIP_SLOTS;
        for (const [paint, mark] of [
          ['url(#hatch-missing)', MARK.missing],
          ['var(--grid)', MARK.grid],
          ['url(#hatch-red)', MARK.outage],
        ] as const)
          // Edges are written to a tenth of a pixel.
          expect(
            Math.abs(covered(paint) - slot * marks.filter((bits) => (bits & mark) !== 0).length),
          ).toBeLessThan(0.1 * STRIP_SLOTS);
        const line = svg.querySelector('path[stroke="var(--battery)"]')!.getAttribute('d')!;
        const points = (line.match(/[ML]/g) ?? []).length;
        expect(points).toBe(socs.filter((soc) => soc !== null).length);
        const stretches = socs.filter((soc, i) => soc !== null && (socs[i - 1] ?? null) === null).length;
        expect((line.match(/M/g) ?? []).length).toBe(stretches);
        unmount();
      }),
      { numRuns: 40 },
    );
  });
});

describe('strokes, steps and hours', () => {
  test('there is a stroke for each day, in bundles of five, and one day is one day', () => {
    for (const count of [1, 4, 5, 23]) {
      const { container, unmount } = render(<TallyStrokes count={count} />);
      const path = container.querySelector('path')!.getAttribute('d')!;
      expect((path.match(/M/g) ?? []).length).toBe(count);
      expect((path.match(/L/g) ?? []).length).toBe(Math.floor(count / 5));
      expect(container.querySelector('svg')!.getAttribute('aria-label')).toBe(
        count === 1 ? '1 grid-free day' : `${count} grid-free days`,
      );
      unmount();
    }
  });

  test('the steps of a bill begin where the one before ended, a credit left of nothing', () => {
    const amount = fc.integer({ min: -30_000, max: 60_000 }).map((cents) => cents / 100);
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 90_000 }),
        fc.array(amount, { minLength: 5, maxLength: 5 }),
        (cents, parts) => {
          const without = cents / 100;
          const bill = without - parts.reduce((sum, one) => sum + one, 0);
          const [solarDirect, solarStored, shifted, exported, other] = parts as [
            number,
            number,
            number,
            number,
            number,
          ];
          const { container, unmount } = render(
            <Ladder
              currency="EUR"
              figures={figuresOf({
                ...{ 'money.withoutSystem': without, 'money.bill': bill },
                ...{ 'money.saving.solarDirect': solarDirect, 'money.saving.solarStored': solarStored },
                ...{
                  'money.saving.shifted': shifted,
                  'money.saving.export': exported,
                  'money.saving.other': other,
                },
              })}
            />,
          );
          const bars = [...container.querySelectorAll<HTMLElement>('span[style*="background"]')].map(
            ({ style }) => {
              const left = parseFloat(style.left);
              return [left, left + parseFloat(style.width)] as const;
            },
          );
          expect(bars).toHaveLength(7);
          for (const [left, right] of bars) {
            expect(left).toBeGreaterThanOrEqual(-1e-6);
            expect(right).toBeLessThanOrEqual(100.31);
          }
          // Neighbours share an end: one begins where the other stopped. The thinnest bar has a third of a per cent.
          for (let k = 1; k < bars.length; k++) {
            const gaps = bars[k]!.flatMap((a) => bars[k - 1]!.map((b) => Math.abs(a - b)));
            expect(Math.min(...gaps)).toBeLessThan(0.31);
          }
          unmount();
        },
      ),
      { numRuns: 40 },
    );
  });

  test('a table by hours writes every value, what is longer than seen, and what is not known', () => {
    const rows = Array.from({ length: 12 }, (_, month) =>
      Array.from({ length: 24 }, (_hour, hour) => (hour === 3 ? null : hour === 4 ? 'longer' : month + hour)),
    );
    render(
      <HourTable
        label="hours"
        caption="how long"
        rows={rows}
        most={30}
        last={{ heading: 'reserve', texts: rows.map((_, month) => `${month} %`) }}
      />,
    );
    const cells = [...document.querySelectorAll('tbody tr')].map((row) =>
      [...row.querySelectorAll('td')].map(({ textContent }) => textContent),
    );
    expect(cells.map((row) => row.slice(0, 24))).toEqual(
      rows.map((row) =>
        row.map((value) => (value === null ? '–' : value === 'longer' ? '>' : String(value))),
      ),
    );
    expect(cells.map((row) => row[24])).toEqual(rows.map((_, month) => `${month} %`));
    expect(document.querySelector('caption')!.textContent).toMatch(/^how long; > longer than seen/);
  });
});
