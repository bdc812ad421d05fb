/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, expect, test } from '@jest/globals';
import { cleanup, render } from '@testing-library/react';
import { chartFile } from './chartFile.js';

afterEach(cleanup);

const drawn = () => {
  const { container } = render(
    <div>
      <svg>
        <defs>
          <pattern id="hatch-red">
            <path d="M0 0L4 4" />
          </pattern>
        </defs>
      </svg>
      <svg className="chart" tabIndex={0} width="300" height="200">
        <path className="line" d="M0 0L9 9" style={{ stroke: 'rgb(1, 2, 3)' }} />
        <text style={{ fontSize: '12px' }}>load &lt; 5 kW</text>
      </svg>
    </div>,
  );
  const drawing = container.querySelector<SVGSVGElement>('.chart')!;
  drawing.getBoundingClientRect = () => ({ width: 300, height: 200 }) as DOMRect;
  return chartFile(drawing, 'Load & sun', ['Kauri Bend, May 2024', 'drawn by hand']);
};
const parsed = (svg: string) => new DOMParser().parseFromString(svg, 'image/svg+xml');

test('a chart is a file of its own: its title above it, its sources below it, and room for all', () => {
  const { svg, width, height } = drawn();
  const root = parsed(svg).documentElement;
  expect(root.tagName).toBe('svg');
  expect([width, height]).toEqual([332, 280]);
  expect(root.getAttribute('viewBox')).toBe('0 0 332 280');
  const texts = [...root.querySelectorAll('text')];
  expect(texts.map(({ textContent }) => textContent)).toEqual([
    'Load & sun',
    'load < 5 kW',
    'Kauri Bend, May 2024',
    'drawn by hand',
  ]);
  for (const text of [texts[0]!, texts[2]!, texts[3]!]) {
    expect(Number(text.getAttribute('y'))).toBeGreaterThan(0);
    expect(Number(text.getAttribute('y'))).toBeLessThan(height);
  }
});

test('what it looks like is written into it, and nothing of the page is left', () => {
  const root = parsed(drawn().svg).documentElement;
  expect(root.querySelector('pattern#hatch-red path')).not.toBeNull();
  const line = root.querySelector('svg path[d="M0 0L9 9"]')!;
  expect(line.getAttribute('stroke')).toBe('rgb(1, 2, 3)');
  for (const one of root.querySelectorAll('*'))
    for (const name of ['class', 'style', 'tabindex']) expect(one.hasAttribute(name)).toBe(false);
});
