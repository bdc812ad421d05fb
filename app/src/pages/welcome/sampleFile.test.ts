import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { STRIP_SLOTS } from '@long-tally/core';
import { fetchSample, sampleOf } from './sampleFile.js';

// Invented: one day.
const SAMPLE = {
  home: 'Kauri Bend',
  timeZone: 'Pacific/Auckland',
  year: '2024',
  days: [{ date: '2024-05-21', solar: 4.2, notes: [{ kind: 'battery-empty', atMs: 0 }] }],
  strips: {
    soc: Array.from({ length: STRIP_SLOTS }, (_, slot) => (slot === 0 ? null : 0.5)),
    marks: Array.from({ length: STRIP_SLOTS }, (_, slot) => (slot === 0 ? null : 1)),
  },
  sun: [7, 17],
  figures: [
    {
      ...{ key: 'account.solar', value: 4.2, low: 4, high: 4.4, unit: 'kWh', status: 'measured' },
      working: [{ label: 'solar', value: 4.2, unit: 'kWh', role: 'result' }],
    },
  ],
};
const answered = (body: unknown, ok = true) =>
  jest.fn(() => Promise.resolve({ ok, json: () => Promise.resolve(body) })) as unknown as typeof fetch;
const before = globalThis.fetch;

afterEach(() => void (globalThis.fetch = before));

describe('the piece of a demo home that the first page shows', () => {
  test('is a roll with its strips and figures; what is missing in a strip stays missing', () => {
    const { roll, figures, home } = sampleOf(SAMPLE)!;
    expect(home).toBe('Kauri Bend');
    expect(roll.days[0]).toMatchObject({ date: '2024-05-21', solar: 4.2 });
    expect([...roll.strips.soc.slice(0, 2)]).toEqual([NaN, 0.5]);
    expect([...roll.strips.marks.slice(0, 2)]).toEqual([0, 1]);
    expect(figures[0]).toMatchObject({ key: 'account.solar', figure: { value: 4.2, unit: 'kWh' } });
    expect(figures[0]!.figure).not.toHaveProperty('key');
  });

  test.each([
    ['no object', 'a page of the server'],
    ['no day', { ...SAMPLE, days: [] }],
    ['a strip that is too short', { ...SAMPLE, strips: { ...SAMPLE.strips, soc: [0.5] } }],
    ['the sun of other days', { ...SAMPLE, sun: [7] }],
    ['a figure without its bounds', { ...SAMPLE, figures: [{ key: 'account.solar', value: 4.2 }] }],
  ])('is left out where it is none: %s', (_, fetched) => {
    expect(sampleOf(fetched)).toBeNull();
  });

  test('is left out where none is handed out, and where there is no server', async () => {
    globalThis.fetch = answered(SAMPLE);
    expect(await fetchSample()).toMatchObject({ home: 'Kauri Bend' });
    globalThis.fetch = answered('', false);
    expect(await fetchSample()).toBeNull();
    globalThis.fetch = jest.fn(() => Promise.reject(new Error('offline')));
    expect(await fetchSample()).toBeNull();
  });
});
