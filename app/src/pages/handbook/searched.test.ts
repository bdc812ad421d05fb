import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { ALL_FIGURES } from '@long-tally/core';
import { TOPICS } from '../../ui/handbookTopics.js';
import { termsOf } from './glossary.js';
import { searched } from './searched.js';

const TERMS = termsOf(readFileSync('docs/glossary.md', 'utf8'));

describe('a search of the Handbook', () => {
  test('finds every figure by its label and every word of the glossary by itself', () => {
    for (const { key, label } of ALL_FIGURES)
      expect(searched(label, TERMS).map(({ path }) => path.split('#')[1])).toContain(key);
    for (const { word } of TERMS)
      expect(searched(word, TERMS)).toContainEqual(
        expect.objectContaining({ title: word, page: 'glossary' }),
      );
  });

  test('leads to a page that there is', () => {
    const paths = new Set([...TOPICS.map(({ path }) => path), 'glossary']);
    const found = searched('the', TERMS);
    expect(found.length).toBeGreaterThan(20);
    for (const { path } of found) expect([path, paths.has(path.split('#')[0]!)]).toEqual([path, true]);
  });

  test('wants every word, in any order and in capitals or not; pages come first', () => {
    const found = searched('  TRIP round ', TERMS);
    expect(found.length).toBeGreaterThan(0);
    expect(found[0]!.page).toBe('page');
    expect(searched('round trip', TERMS)).toEqual(found);
    expect(searched('round zebra', TERMS)).toEqual([]);
    const pages = found.map(({ page }) => page);
    expect(pages.lastIndexOf('page')).toBeLessThan(pages.indexOf('glossary'));
  });
});
