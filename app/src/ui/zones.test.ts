import { describe, expect, test } from '@jest/globals';
import { zonesLike } from './zones.js';

const found = (typed: string) => zonesLike(typed).map(({ zone }) => zone);

describe('zones by what is typed', () => {
  test('are found by their city, its words in any order, or by their name', () => {
    expect(found('auck')).toEqual(['Pacific/Auckland']);
    expect(found('buenos')[0]).toMatch(/Buenos_Aires$/);
    expect(found('angeles los')).toEqual(['America/Los_Angeles']);
    expect(found('Europe/Lisbon')).toEqual(['Europe/Lisbon']);
  });

  test('whose city begins so come first, and they are few', () => {
    const known = ['America/North_Dakota/Center', 'Europe/Dublin', 'Asia/Dubai', 'America/Port_Dub'];
    expect(zonesLike('du', known).map(({ place }) => place)).toEqual(['Dublin', 'Dubai', 'Port Dub']);
    expect(found('a').length).toBe(10);
  });

  test('are none for nothing and for no place', () => {
    expect([found(''), found('  '), found('Mars/Olympus')]).toEqual([[], [], []]);
  });
});
