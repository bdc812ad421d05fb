/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import {
  DEFAULT_SETTINGS,
  figureEntry,
  prepare,
  report as reportOf,
  type RangeReport,
} from '@long-tally/core';
import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { HAND_HOME, hourlyLog, rangeOf } from '../../../core/src/testing/handHome.js';
import { figureText, intervalText, showAs, valueText } from './format.js';
import { localized } from './localized.js';

jest.unstable_mockModule('./HomeLayout.js', () => ({
  useOverview: () => ({ home: { system: HAND_HOME }, roll: null }),
}));
const { Figures } = await import('./Figures.js');
const { Findings } = await import('./Findings.js');
const { WorkingPanel } = await import('./WorkingPanel.js');

// Invented: ten days of a home of which no outage, temperature or leg is logged.
const log = hourlyLog(10, (hour) => {
  const at = hour % 24;
  const sun = at > 7 && at < 17 ? 2600 : 0;
  return {
    solar: sun,
    load: 700,
    grid: at > 20 ? 400 : 0,
    battery: 700 - sun - (at > 20 ? 400 : 0),
    soc: 0.5,
  };
});
const prepared = prepare(HAND_HOME, [log]);
const REPORT: RangeReport = reportOf(prepared, rangeOf(log));
const keys = Object.keys(REPORT.figures);
const told = keys.filter((key) => REPORT.figures[key]!.value !== null);
const untold = keys.filter((key) => REPORT.figures[key]!.value === null);

const plain = (text: string | null) => (text ?? '').replace(/\s+/g, ' ').trim();
const panelOf = (key: string) => {
  const { container, unmount } = render(
    <MemoryRouter>
      <WorkingPanel figureKey={key} figure={REPORT.figures[key]!} onClose={() => undefined} />
    </MemoryRouter>,
  );
  const text = plain(container.textContent);
  unmount();
  return text;
};

beforeEach(() => showAs(DEFAULT_SETTINGS));
afterEach(cleanup);

describe('figures side by side', () => {
  const opened: string[] = [];
  const shown = () =>
    render(
      <Figures keys={keys} report={REPORT} workingKey={told[0]!} onOpen={(key) => void opened.push(key)} />,
    );
  beforeEach(() => void (opened.length = 0));

  test('each has its value and its interval, and leads to its working', () => {
    shown();
    for (const key of told) {
      const figure = REPORT.figures[key]!;
      const cell = document.querySelector(`[data-figure="${key}"]`)!;
      expect(plain(cell.textContent)).toContain(valueText(figure.value!, figure.unit));
      expect(cell.textContent).toContain(intervalText(figure));
      expect(cell.getAttribute('aria-pressed')).toBe(String(key === told[0]));
      act(() => void fireEvent.click(cell));
    }
    expect(opened).toEqual(told);
  });

  test('those that are not told share a line, which opens to each reason once with all that it keeps back', () => {
    shown();
    const line = screen.getByRole('button', { name: new RegExp(`^${untold.length} figures not available:`) });
    for (const key of untold) expect(line.textContent).toContain(figureEntry(key).label);
    act(() => void fireEvent.click(line));
    const reasons = new Set(untold.map((key) => REPORT.figures[key]!.reason!));
    for (const reason of reasons) {
      const own = untold.filter((key) => REPORT.figures[key]!.reason === reason);
      const place = document.querySelector(`[data-figure="${own[0]}"]`)!.closest('p')!;
      expect(place.textContent.endsWith(localized(reason))).toBe(true);
      const inIt = [...place.querySelectorAll('[data-figure]')];
      expect(inIt.map((one) => one.getAttribute('data-figure'))).toEqual(own);
    }
  });

  test('a key that the report does not have is left out', () => {
    const { container } = render(
      <Figures keys={['no.such']} report={REPORT} workingKey={null} onOpen={() => undefined} />,
    );
    expect(container.querySelectorAll('button')).toHaveLength(0);
  });
});

describe('the working of a figure', () => {
  test.each(told)('%s has every line of its sum, its interval, its assumptions and its source', (key) => {
    const { working, assumptions, source, value, low, high, unit } = REPORT.figures[key]!;
    const text = panelOf(key);
    for (const { label } of working) expect(text).toContain(plain(localized(label)));
    for (const assumption of assumptions) expect(text).toContain(plain(localized(assumption)));
    expect(text).toContain(plain(source));
    expect(text).toContain(plain(intervalText({ value, low, high, unit })));
    expect(text).not.toMatch(/undefined|NaN|null|\[object/);
  });

  test.each(untold)('%s says why it is not told, and where the method comes from', (key) => {
    const { reason, source } = REPORT.figures[key]!;
    const text = panelOf(key);
    expect(text).toContain(plain(localized(reason!)));
    expect(text).toContain(plain(source));
    expect(text).not.toMatch(/about 95 %|undefined|NaN|null/);
  });

  test('is written in the marks that its reader has chosen, but for the sources', () => {
    showAs({ ...DEFAULT_SETTINGS, numbers: '1.234,5' });
    for (const key of told) {
      const { source } = REPORT.figures[key]!;
      const text = panelOf(key).replace(plain(source), '');
      expect([key, text.match(/(?<![\d.])\d+\.\d{1,2}(?![\d.])/g)]).toEqual([key, null]);
    }
  });

  test('is copied with its home, its unit and its interval', async () => {
    const written: string[] = [];
    Object.assign(navigator, {
      clipboard: { writeText: (text: string) => Promise.resolve(void written.push(text)) },
    });
    const key = 'account.load';
    render(
      <MemoryRouter>
        <WorkingPanel figureKey={key} figure={REPORT.figures[key]!} onClose={() => undefined} />
      </MemoryRouter>,
    );
    await act(async () => {
      fireEvent.click(screen.getByRole('button', { name: 'copy' }));
      await Promise.resolve();
    });
    expect(written).toEqual([`By hand, Load: ${figureText(REPORT.figures[key]!, 'EUR')}`]);
    expect(written[0]).toMatch(/^By hand, Load: 168\.0 kWh \(1\d\d\.\d – 1\d\d\.\d\)$/);
  });
});

describe('findings', () => {
  const finding = (message: string, kWh: number | null, source: string | null = null) =>
    ({
      code: message,
      severity: 'note',
      message,
      kWh,
      source,
      from: null,
      to: null,
    }) as unknown as RangeReport['findings'][number];

  test('stand with their energy, or how grave they are, and no more of them than wanted', () => {
    render(
      <Findings
        most={2}
        findings={[
          finding('A loss of 1266 kWh.', 1266),
          finding('A gap.', null, 'a.csv'),
          finding('More.', 3),
        ]}
      />,
    );
    const lines = within(screen.getByRole('region', { name: 'Worth a look' })).getAllByRole('listitem');
    expect(lines.map(({ textContent }) => textContent)).toEqual([
      '1,266 kWhA loss of 1,266 kWh.',
      'notea.csv: A gap.',
    ]);
  });

  test('none leave nothing', () => {
    expect(render(<Findings most={3} findings={[]} />).container.textContent).toBe('');
  });
});
