import { ACCOUNT_FIGURES } from '../books/account/figures.js';
import { CAPACITY_FIGURES } from '../books/capacity/figures.js';
import { LOSSES_FIGURES } from '../books/losses/figures.js';
import { MONEY_FIGURES } from '../books/money/figures.js';
import { OUTAGE_FIGURES } from '../books/outage/figures.js';
import { PARTS_FIGURES } from '../books/parts/figures.js';
import { PEAK_FIGURES } from '../books/peak/figures.js';
import { SOLAR_FIGURES } from '../books/solar/figures.js';
import { TRIAL_FIGURES } from '../books/trial/trialFigures.js';
import { WEAR_FIGURES } from '../books/wear/figures.js';
import type { FigureEntry } from '../model/figure.js';

/** Every figure there is, by book; the report, its schema, the names on screen and the tables of the documents come from it. */
export const REGISTRY: readonly { readonly book: string; readonly figures: readonly FigureEntry[] }[] = [
  { book: 'Energy account', figures: ACCOUNT_FIGURES },
  { book: 'Losses', figures: LOSSES_FIGURES },
  { book: 'Wear and warranty', figures: WEAR_FIGURES },
  { book: 'Capacity', figures: CAPACITY_FIGURES },
  { book: 'Outages', figures: OUTAGE_FIGURES },
  { book: 'Peaks', figures: PEAK_FIGURES },
  { book: 'Solar not made', figures: SOLAR_FIGURES },
  { book: 'Money and weather', figures: MONEY_FIGURES },
  { book: 'Parts of the home', figures: PARTS_FIGURES },
];

/** Figures of trials: they stand in the result of a trial, not in the report. */
export const TRIAL_REGISTRY: readonly FigureEntry[] = Object.entries(TRIAL_FIGURES).map(([key, entry]) => ({
  key: `trial.${key}`,
  ...entry,
  cost: 'samples',
}));

/** Every figure, of the report and of trials. */
export const ALL_FIGURES: readonly FigureEntry[] = [
  ...REGISTRY.flatMap(({ figures }) => figures),
  ...TRIAL_REGISTRY,
];

const byKey = new Map(ALL_FIGURES.map((entry) => [entry.key, entry] as const));

/**
 * The entry of a figure.
 * @throws Error when there is none: every figure has one
 */
export function figureEntry(key: string): FigureEntry {
  const [, of, name] = /^(solar|load)\.part\.(.+)$/.exec(key) ?? [];
  const entry = byKey.get(of ? `${of}.part.NAME` : key);
  if (entry && name) return { ...entry, key, label: `${of === 'solar' ? 'Solar' : 'Load'}, ${name}` };
  if (!entry) throw new Error(`The figure ${key} is not in the registry.`);
  return entry;
}

/** The registry as a table of Markdown for the documents, one for each book. */
export function figuresTable(): string {
  const cell = (text: string) => text.replaceAll('|', '\\|');
  return [...REGISTRY, { book: 'Trials', figures: TRIAL_REGISTRY }]
    .map(({ book, figures }) =>
      [
        `### ${book}`,
        '',
        '| Figure | Key, unit | What it says | Formula | Source |',
        '| --- | --- | --- | --- | --- |',
        ...figures.map(
          ({ key, unit, label, meaning, method }) =>
            `| ${label} | \`${key}\`, ${unit} | ${cell(meaning)} | ${cell(method.formula)} | ${cell(method.source)} |`,
        ),
      ].join('\n'),
    )
    .join('\n\n');
}
