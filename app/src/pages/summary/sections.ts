import { MONTH_NAMES, type Figure, type RollDay, type Statement } from '@long-tally/core';
import { counted, decimal, figureText, unitText, valueText } from '../../ui/format.js';
import { labelOf, localized } from '../../ui/localized.js';

/** Something that a log says, in sentences, and the view that says more of it. */
export interface SummarySection {
  readonly title: string;
  readonly says: readonly string[];
  /** Path within the home. */
  readonly path: string;
  readonly view: string;
}

type Figures = Readonly<Record<string, Figure>>;

const MOST_FINDINGS = 4;
const MOST_ABSENT = 3;
/** Of a watt all year. */
const KWH_A_YEAR = 8.766;

/**
 * What a log says of a home, the most important first; what nothing tells is left out.
 * @param schools figures of self-sufficiency, the one that the reader wants to lead first
 */
export function sectionsOf(
  { now, findings, range }: Pick<Statement, 'now' | 'findings' | 'range'>,
  days: readonly RollDay[],
  currency: string,
  schools: readonly string[],
): SummarySection[] {
  const years = (range.toMs - range.fromMs) / (365.25 * 86_400_000);
  return [
    {
      title: 'How self-sufficient the home is',
      says: selfSufficiency(now, days, currency, schools),
      ...{ path: 'account', view: 'Account' },
    },
    { title: 'What is lost', says: losses(now, years, currency), path: 'losses', view: 'Losses' },
    { title: 'How the battery wears', says: wear(now, years, currency), path: 'wear', view: 'Wear' },
    {
      title: isTold(now, 'account.selfSufficiency.grid')
        ? 'When the grid is gone'
        : 'How long the charge lasts',
      says: outages(now, currency),
      ...{ path: 'outages', view: 'Outages' },
    },
    { title: 'What it costs and saves', says: money(now, currency), path: 'money', view: 'Money' },
    {
      title: 'What is worth a look in the log',
      says: findings
        .slice(0, MOST_FINDINGS)
        .map(({ source, message }) => (source ? `${source}: ${localized(message)}` : localized(message))),
      ...{ path: 'sources', view: 'Sources' },
    },
    { title: 'What would tell more', says: wanted(now), path: 'system', view: 'System' },
  ].filter(({ says }) => says.length > 0);
}

function isTold(figures: Figures, key: string): boolean {
  return figures[key]?.value != null;
}

/** A sentence about a figure, where it is told. */
function about(
  figures: Figures,
  key: string,
  currency: string,
  sentence: (text: string, value: number) => string,
): string[] {
  const figure = figures[key];
  return figure?.value == null ? [] : [sentence(figureText(figure, currency), figure.value)];
}

function selfSufficiency(
  figures: Figures,
  days: readonly RollDay[],
  currency: string,
  schools: readonly string[],
): string[] {
  const key = schools.find((one) => isTold(figures, one));
  const of = key ? about(figures, key, currency, (text) => `${labelOf(key)}: ${text}.`) : [];
  return [
    ...of,
    ...dearestMonth(days),
    ...about(figures, 'account.gridFreeDays', currency, (text) => `It ran without the grid on ${text}.`),
  ];
}

/** Sun beyond so much of the load, in the mean of a month, would have filled a larger battery. */
const AMPLE = 1.4;

/** Why it is not more: the month of the year in which most is bought, and what the sun gave in it. */
function dearestMonth(days: readonly RollDay[]): string[] {
  const sums = MONTH_NAMES.map(() => ({ import: 0, solar: 0, load: 0, days: 0 }));
  for (const { date, import: bought, solar, load } of days) {
    if (bought === null || load === null) continue;
    const sum = sums[Number(date.slice(5, 7)) - 1]!;
    sum.import += bought;
    sum.solar += solar ?? 0;
    sum.load += load;
    sum.days++;
  }
  const means = sums.flatMap((sum, month) =>
    sum.days >= 10
      ? [{ month, import: sum.import / sum.days, solar: sum.solar / sum.days, load: sum.load / sum.days }]
      : [],
  );
  const [most] = [...means].sort((a, b) => b.import - a.import);
  if (!most || means.length < 2 || most.import < 0.1) return [];
  const kWh = (value: number) => `${decimal(value, 1)} kWh`;
  const why =
    most.solar < most.load
      ? `the sun gave ${kWh(most.solar)} of the ${kWh(most.load)} that were used`
      : most.solar < AMPLE * most.load
        ? `the sun gave ${kWh(most.solar)} where ${kWh(most.load)} were used, little beyond the losses and not on every day`
        : `the sun gave more than was used, ${kWh(most.solar)} against ${kWh(most.load)}, so that it is the storage that was short`;
  return [`Most is bought in ${MONTH_NAMES[most.month]!}, ${kWh(most.import)} a day: ${why}.`];
}

function losses(figures: Figures, years: number, currency: string): string[] {
  const trip = ['losses.roundTrip.fullToFull', 'losses.roundTrip.counter'].find((key) =>
    isTold(figures, key),
  );
  return [
    ...(trip ? about(figures, trip, currency, (text) => `Of what is charged ${text} comes back.`) : []),
    ...['losses.idle.battery', 'losses.idle.inverter'].flatMap((key) =>
      about(figures, key, currency, (text) => {
        const { value, low, high } = figures[key]!;
        const [own, least, most] = [value, low, high].map((watts) => decimal(watts! * KWH_A_YEAR, 0));
        return `${labelOf(key)}: ${text}, ${own} kWh a year (${least} – ${most}).`;
      }),
    ),
    ...(years >= 0.95
      ? about(
          figures,
          'money.idleCost',
          currency,
          (text) => `Over the whole log that idle draw costs ${text}.`,
        )
      : []),
  ];
}

function wear(figures: Figures, years: number, currency: string): string[] {
  return [
    ...about(figures, 'capacity.now', currency, (text) => `The battery holds ${text} now.`),
    ...about(figures, 'capacity.fadePerYear', currency, (text) =>
      figures['capacity.fadePerYear']!.low! > 0
        ? `It loses ${text} of it.`
        : `It is too early to say whether it loses any: ${text}.`,
    ),
    ...about(
      figures,
      'wear.efc.nameplate',
      currency,
      (text, cycles) =>
        `It has gone through ${text}${years >= 0.25 ? `, ${decimal(cycles / years, 0)} a year` : ''}.`,
    ),
    ...about(
      figures,
      'warranty.first',
      currency,
      (text) => `The first limit of the warranty is reached in ${text}.`,
    ),
  ];
}

function outages(figures: Figures, currency: string): string[] {
  return [
    ...about(
      figures,
      'outage.runtime.now',
      currency,
      (text) => `The charge at the end of the log lasts ${text} with the usual load.`,
    ),
    ...about(
      figures,
      'outage.survive.12h',
      currency,
      (text) => `Of possible outages of 12 hours ${text} are carried.`,
    ),
    ...about(
      figures,
      'outage.reserve.12h90',
      currency,
      (text) => `A reserve of ${text} would carry nine of ten of them.`,
    ),
    ...about(figures, 'outage.count', currency, (_, count) =>
      count > 0 ? `The log holds ${counted(count, 'outage')}.` : 'The log holds no outage.',
    ),
  ];
}

function money(figures: Figures, currency: string): string[] {
  return [
    ...about(figures, 'money.savingPerYear', currency, (text) => `The system saves ${text} a year.`),
    ...about(
      figures,
      'money.batterySavingPerYear',
      currency,
      (text) => `Of that the battery saves ${text} a year.`,
    ),
    ...about(figures, 'money.payback', currency, (text) => `At this rate it is paid back after ${text}.`),
  ];
}

/** What is not told, by the reason, and so by what would supply it: the reasons that keep most figures back. */
function wanted(figures: Figures): string[] {
  const reasons = new Map<string, string[]>();
  for (const [key, { value, reason }] of Object.entries(figures))
    if (value === null && reason) reasons.set(reason, [...(reasons.get(reason) ?? []), labelOf(key)]);
  return [...reasons]
    .sort(([, a], [, b]) => b.length - a.length)
    .slice(0, MOST_ABSENT)
    .map(
      ([reason, labels]) =>
        `${labels.slice(0, 3).join(', ')}${labels.length > 3 ? ` and ${labels.length - 3} more` : ''}: ${localized(reason)}`,
    );
}

/** Figures by which one sees what has changed since the page was opened before. */
export const COMPARED = [
  ...['account.selfSufficiency.grid', 'account.selfSufficiency.supply', 'account.selfSufficiency.solar'],
  'losses.roundTrip.fullToFull',
  'losses.idle.battery',
  'capacity.now',
  'capacity.fadePerYear',
  'wear.efc.nameplate',
  'outage.survive.12h',
  'money.savingPerYear',
];

/**
 * What of these has changed, in words: from what to what.
 * @param schools figures of self-sufficiency, of which only the first that is told counts
 */
export function changesSince(
  before: Readonly<Record<string, number>>,
  now: Figures,
  schools: readonly string[],
): string[] {
  const leading = schools.find((one) => isTold(now, one));
  return COMPARED.flatMap((key) => {
    if (schools.includes(key) && key !== leading) return [];
    const figure = now[key];
    const was = before[key];
    if (figure?.value == null || was === undefined) return [];
    const [then, text] = [valueText(was, figure.unit), valueText(figure.value, figure.unit)];
    return then === text ? [] : [`${labelOf(key)}: ${then} → ${text} ${unitText(figure.unit)}`.trim()];
  });
}
