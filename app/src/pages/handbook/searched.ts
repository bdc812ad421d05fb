import { ALL_FIGURES } from '@long-tally/core';
import type { Term } from './glossary.js';
import { TOPICS, topicOf } from '../../ui/handbookTopics.js';

/** Something of the Handbook that a search finds. */
export interface Result {
  /** The page, and the place on it. */
  readonly path: string;
  readonly title: string;
  readonly says: string;
  readonly page: string;
}

/** What has every word of a query in it: pages first, then figures, then words of the glossary. */
export function searched(query: string, terms: readonly Term[]): Result[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (...texts: readonly string[]) => {
    const all = texts.join(' ').toLowerCase();
    return words.every((word) => all.includes(word));
  };
  const pages = TOPICS.filter(({ title, answers, paragraphs }) => has(title, answers, ...paragraphs)).map(
    ({ path, title, answers }) => ({ path, title, says: answers, page: 'page' }),
  );
  const figures = ALL_FIGURES.filter(({ label, meaning, method }) =>
    has(label, meaning, method.formula),
  ).flatMap(({ key, label, meaning }) => {
    const topic = topicOf(key);
    return topic ? [{ path: `${topic.path}#${key}`, title: label, says: meaning, page: topic.title }] : [];
  });
  const explained = terms
    .filter(({ word, means }) => has(word, means))
    .map(({ word, means }) => ({
      path: `glossary#${encodeURIComponent(word)}`,
      title: word,
      says: means,
      page: 'glossary',
    }));
  return [...pages, ...figures, ...explained];
}
