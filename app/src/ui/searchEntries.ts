import { rankedDays, REGISTRY, type RollDay } from '@long-tally/core';
import { noteText } from '../pages/days/DayNotes.js';
import { dateText, decimal } from './format.js';

/** Something that the search leads to. */
export interface SearchEntry {
  /** Names it among those that were chosen lately. */
  readonly id: string;
  readonly kind: 'view' | 'action' | 'figure' | 'day';
  readonly title: string;
  readonly words: string;
  /** Path within the home. */
  readonly path: string;
}

/** Views on which the working of a figure opens, by what its key begins with. */
const VIEW_OF: readonly (readonly [prefix: string, path: string])[] = [
  ['losses', 'losses'],
  ['solar', 'losses'],
  ['wear', 'wear'],
  ['capacity', 'wear'],
  ['warranty', 'wear'],
  ['outage', 'outages'],
  ['peak', 'outages'],
  ['money', 'money'],
  ['weather', 'money'],
  ['account', 'account'],
];

/** What can be done and set, with the words under which people look for it. */
const ACTIONS: readonly (readonly [title: string, words: string, path: string])[] = [
  ['Read what the log says', 'summary overview what has changed', 'summary'],
  ['Write a note', 'journal event storm away guests', 'journal'],
  ['Type in meter readings', 'counter', 'readings'],
  ['Bring another file', 'import add log source csv', 'sources'],
  ['Correct what is wrong in the log', 'findings spikes swapped sign', 'sources'],
  ['Change capacities and limits', 'modules kWh reserve inverter', 'system'],
  ['Change meter accuracies', 'uncertainty interval class', 'system#accuracy'],
  ['Describe a tariff', 'price rate bill cost', 'system'],
  ['Print the outage sheet', 'storm fridge paper', 'outage-sheet'],
  ['List the appliances', 'what must not run together start', 'trials/appliances'],
  [
    'Change how numbers, dates and the page look',
    'settings theme dark fahrenheit text size comma',
    'settings',
  ],
  ['Run a trial', 'test drawdown capacity idle', 'trials'],
  ['Try another module, a car, more panels', 'scenario change what-if', 'what-if'],
  ['Plan for a storm', 'charge to 100 % before', 'what-if'],
  ['Print a statement', 'month year pdf report', 'report'],
  ['Make an evidence pack', 'warranty claim installer', 'report'],
];

export interface ViewName {
  readonly path: string;
  readonly name: string;
}

/** Views, actions and figures of a home. */
export function standingEntries(views: readonly ViewName[]): SearchEntry[] {
  return [
    ...views.map(({ path, name }) => ({
      ...{ id: `view ${path}`, kind: 'view' as const, title: name, words: '', path },
    })),
    ...ACTIONS.map(([title, words, path]) => ({
      ...{ id: `action ${title}`, kind: 'action' as const, title, words, path },
    })),
    ...REGISTRY.flatMap(({ book, figures }) =>
      figures.flatMap(({ key, label, meaning }) => {
        const view = VIEW_OF.find(([prefix]) => key.startsWith(`${prefix}.`));
        return view && !key.includes('NAME')
          ? [
              {
                id: `figure ${key}`,
                kind: 'figure' as const,
                title: label,
                words: `${book}. ${meaning}`,
                path: view[1],
              },
            ]
          : [];
      }),
    ),
  ];
}

/** Every day with what explains it, the last first. */
export function dayEntries(days: readonly RollDay[], timeZone: string): SearchEntry[] {
  return days
    .map(({ date, notes }) => ({
      ...{ id: `day ${date}`, kind: 'day' as const, title: dateText(date, 'long'), path: pathOfDay(date) },
      words: notes.map((note) => noteText(note, timeZone)).join('; '),
    }))
    .reverse();
}

function pathOfDay(date: string): string {
  return `days?from=${date}&to=${date}`;
}

/**
 * What a query finds: views and actions before figures, figures before days; "least solar" ranks the days instead. An empty one
 * finds what was chosen lately, and the views.
 * @param recent ids, the latest first
 */
export function found(
  query: string,
  standing: readonly SearchEntry[],
  daysOfHome: readonly SearchEntry[],
  days: readonly RollDay[],
  recent: readonly string[],
): readonly SearchEntry[] {
  const wanted = query
    .toLowerCase()
    .split(/[\s,]+/)
    .filter(Boolean);
  if (wanted.length === 0) {
    const all = [...standing, ...daysOfHome];
    const lately = recent.flatMap((id) => all.find((one) => one.id === id) ?? []);
    return [...lately, ...standing.filter((one) => one.kind === 'view' && !lately.includes(one))];
  }
  const ranked = rankedDays(days, query);
  if (ranked)
    return ranked.map(({ index, kWh }) => {
      const { date } = days[index]!;
      return {
        ...{ id: `day ${date}`, kind: 'day', title: dateText(date, 'long'), path: pathOfDay(date) },
        words: `${decimal(kWh, 1)} kWh`,
      };
    });
  const matches = (text: string) => wanted.every((word) => text.toLowerCase().includes(word));
  const hits = [...standing, ...daysOfHome].filter(({ id, kind, title, words }) =>
    matches(`${title} ${words} ${kind === 'day' ? id : ''}`),
  );
  // A title that holds the words stands before one that only speaks of them.
  return [
    ...hits.filter(({ kind, title }) => kind !== 'day' && matches(title)),
    ...hits.filter(({ kind, title }) => kind !== 'day' && !matches(title)),
    ...hits.filter(({ kind }) => kind === 'day'),
  ];
}
