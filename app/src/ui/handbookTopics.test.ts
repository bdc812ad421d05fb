import { describe, expect, test } from '@jest/globals';
import { ALL_FIGURES } from '@long-tally/core';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { termsOf } from '../pages/handbook/glossary.js';
import { TOPICS, topicOf } from './handbookTopics.js';

const docs = (path: string) => fileURLToPath(new URL(`../../../docs/${path}`, import.meta.url));

describe('the pages of the Handbook', () => {
  test('hold every figure on exactly one of them', () => {
    const keys = ALL_FIGURES.map(({ key }) => key);
    expect(keys.filter((key) => topicOf(key) === null)).toEqual([]);
    const held = TOPICS.map(({ path }) => keys.filter((key) => topicOf(key)?.path === path).length);
    expect(held.reduce((sum, count) => sum + count, 0)).toBe(keys.length);
    expect(TOPICS.filter(({ figures }, i) => figures.length > 0 && held[i] === 0)).toEqual([]);
  });

  test('show pictures that there are, and have names of their own', () => {
    const there = readdirSync(docs('screenshots'));
    expect(
      TOPICS.flatMap(({ picture }) => picture?.name ?? []).filter((name) => !there.includes(`${name}.png`)),
    ).toEqual([]);
    expect(new Set(TOPICS.map(({ path }) => path)).size).toBe(TOPICS.length);
  });
});

test('the glossary is the one of the documents, word by word', () => {
  const terms = termsOf(readFileSync(docs('glossary.md'), 'utf8'));
  expect(terms.length).toBeGreaterThan(25);
  expect(terms.every(({ word, means }) => word.length > 1 && means.length > 10)).toBe(true);
  expect(terms.map(({ word }) => word)).toContain('round trip');
});
