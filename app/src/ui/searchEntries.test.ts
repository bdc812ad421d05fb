import { describe, expect, test } from '@jest/globals';
import type { RollDay } from '@long-tally/core';
import { dayEntries, found, standingEntries } from './searchEntries.js';

const VIEWS = [
  { path: 'days', name: 'Days' },
  { path: 'losses', name: 'Losses' },
];
const DAYS = [
  { date: '2024-05-20', solar: 30, notes: [], coverage: 1 },
  {
    date: '2024-05-21',
    solar: 10,
    notes: [{ kind: 'outage', hours: 2, atMs: 0, isPlanned: false }],
    coverage: 1,
  },
  { date: '2024-05-22', solar: 20, notes: [], coverage: 1 },
] as unknown as RollDay[];
const standing = standingEntries(VIEWS);
const days = dayEntries(DAYS, 'UTC');
const titles = (query: string, recent: readonly string[] = []) =>
  found(query, standing, days, DAYS, recent).map(({ title }) => title);

describe('the search', () => {
  test('finds a day by its date and by what explains it', () => {
    expect(titles('outage 21 may 2024')).toEqual(['Tuesday, 21 May 2024']);
    expect(titles('2024-05-2')).toHaveLength(3);
  });

  test('ranks the days where one asks for the most or the least', () => {
    expect(titles('least solar')[0]).toMatch(/21 May 2024/);
    expect(titles('most solar')[0]).toMatch(/20 May 2024/);
  });

  test('finds views, what can be done, and figures by label and meaning, the label first', () => {
    expect(titles('loss')[0]).toBe('Losses');
    expect(titles('storm')).toContain('Plan for a storm');
    const idle = found('idle battery', standing, days, DAYS, []);
    expect(idle[0]).toMatchObject({ kind: 'figure', path: 'losses' });
    expect(idle.some(({ id }) => id === 'figure losses.idle.battery')).toBe(true);
    expect(titles('no such word anywhere')).toEqual([]);
  });

  test('shows what was chosen lately, then the views, while nothing is typed', () => {
    expect(titles('', ['day 2024-05-22', 'view losses', 'figure gone.since'])).toEqual([
      'Wednesday, 22 May 2024',
      'Losses',
      'Days',
    ]);
  });

  test('leads every figure of the registry to a view that there is', () => {
    const paths = new Set(standing.filter(({ kind }) => kind === 'figure').map(({ path }) => path));
    expect([...paths].sort()).toEqual(['account', 'losses', 'money', 'outages', 'wear']);
  });
});
