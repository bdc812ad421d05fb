import { lackOf } from '../shared/lacking.js';
import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Method,
} from '../../model/figure.js';
import { stepText } from '../../model/hoursText.js';
import { cellAt } from '../../model/log.js';
import { channelOf, coverageOf, perYear, type RangeData } from '../../passes/rangeData.js';
import { DARK_W } from '../../passes/cutOffs.js';
import type { Outage } from '../../passes/outages.js';
import { mostTrials } from '../../statistics/mostTrials.js';
import { indicesOf, SUSTAINED_MINUTES } from './reliabilityIndices.js';

const SENSE = `Interruptions longer than ${SUSTAINED_MINUTES} minutes are sustained: IEEE Std 1366 (from memory).`;
export const COUNT: Method = {
  id: 'outage.count',
  formula: 'number of interruptions of the grid',
  source: SENSE,
};
export const HOURS: Method = { id: 'outage.hours', formula: 'Σ length of the interruptions', source: SENSE };
export const CARRIED: Method = {
  id: 'outage.carried',
  formula: '1 − time without power in the home ÷ time without the grid',
  source: 'Common practice, no published source.',
};

/** Interruptions of the grid in a range, and what of them the home was carried through. */
export function outageFigures(data: RangeData): Record<string, Figure> {
  return {
    'outage.count': count(data),
    'outage.hours': hours(data),
    'outage.carriedShare': carried(data),
    'outage.unservedHours': unserved(data),
  };
}

export const UNSERVED: Method = {
  id: 'outage.unserved',
  formula: `Σ time with a load below ${DARK_W} W while the grid is down, or where there is none`,
  source: 'Common practice, no published source.',
};
/** A home whose load rests so low for more of the time than this does not show when it is dark. */
const OFTEN = 0.05;

const NO_SIGN =
  'Nothing in the log shows whether the grid is up; grid_up, grid_v or grid_hz would, or a grid power that never rests at zero.';

const RESTS =
  'Here the grid’s power rests at exactly zero anyway while the home carries itself, so a zero does not tell whether the grid is up. A column grid_up, grid_v or grid_hz would.';
/** Zeros of the grid must tell something for so much of the time, else no outage found means nothing. */
const LEAST_SEEN = 0.1;
/** An outage goes over so many states of the battery, and shows if one of them tells. */
const STATES = 2;
/** Of those that fall where zeros tell, so many are long enough to be told from chance. */
const LONG_ENOUGH = 0.9;
/** Left beyond the upper bound of a count. */
const TAIL = 0.05;
/** Those that do not show are shorter than those that do, by about this. */
const UNSEEN_LENGTH = 0.5;
/** Taken for the length of one that did not show, where none did, h. */
const USUAL_H = 1;

/** Why outages cannot be told in this range, or null. */
function lacking({ log, parts, outages, outagesSeenShare }: RangeData): string | null {
  if (parts.every(({ configuration }) => !configuration.hasGrid))
    return 'This home has no grid, so it has no outage of one.';
  if (outagesSeenShare >= LEAST_SEEN || outages.some(({ isPlanned }) => !isPlanned)) return null;
  return log.channels.get('grid')?.origin === 'logged' ? RESTS : NO_SIGN;
}

/** How many outages there may have been: those beyond doubt, and with those that zeros of the grid's power do not show. */
function countBounds(data: RangeData): { low: number; high: number } {
  const { outagesSeenShare } = data;
  const outages = outagesOf(data);
  const low = outages.filter(({ isSure }) => isSure).length;
  const chance =
    outagesSeenShare < 1 ? LONG_ENOUGH * (1 - (1 - Math.max(LEAST_SEEN, outagesSeenShare)) ** STATES) : 1;
  return { low, high: mostTrials(outages.length, chance, TAIL) };
}

/** Interruptions that nobody planned. */
function outagesOf({ outages }: RangeData): Outage[] {
  return outages.filter(({ isPlanned }) => !isPlanned);
}

function basisOf(data: RangeData) {
  const outages = outagesOf(data);
  const planned = data.outages.length - outages.length;
  const evidence = [...new Set(outages.map((one) => one.evidence))];
  return {
    ...(planned > 0 ? { plannedRuns: planned } : {}),
    evidence: evidence.length > 0 ? evidence : ['none seen'],
    stepMinutes: data.log.stepMs / 60_000,
    coverage: coverageOf(data, data.total.gridS),
    ...(data.outagesSeenShare < 1 ? { shareOfTimeThatTells: data.outagesSeenShare } : {}),
  };
}

/** What nobody logged is an estimate. */
function gradeBy(data: RangeData): typeof measured {
  return data.outagesSeenShare < 1 || outagesOf(data).some(isUnlogged) ? estimated : measured;
}

/** Whether no channel shows it. */
function isUnlogged({ evidence }: Outage): boolean {
  return evidence === 'inferred' || evidence === 'journal';
}

function lengthH({ fromMs, toMs }: { readonly fromMs: number; readonly toMs: number }): number {
  return (toMs - fromMs) / 3_600_000;
}

/** What the log's step hides, and what zeros of the grid's power do. */
function hidden({ log, outagesSeenShare }: RangeData): string {
  const step = `Interruptions shorter than the log's step of ${stepText(log.stepMs)} are not seen.`;
  return outagesSeenShare < 1
    ? `${step} They are inferred from a grid power of exactly zero, which tells something for ${Math.round(100 * outagesSeenShare)} % of the time here; the interval allows for those that fall into the rest.`
    : step;
}

function count(data: RangeData): Figure {
  const reason = lacking(data);
  if (reason !== null) return notMeasured('count', COUNT, reason);
  const outages = outagesOf(data);
  const value = outages.length;
  const inferred = outages.filter(isUnlogged).length;
  const bounds = countBounds(data);
  const years = perYear(1, (data.range.toMs - data.range.fromMs) / 1000);
  const minutes = outages.map((one) => ({ minutes: lengthH(one) * 60, customers: 1 }));
  const { saifi, saidi, maifi } = indicesOf(minutes, 1);
  const unserved = outages.map(({ unservedS }) => ({ minutes: unservedS / 60, customers: 1 }));
  const carriedThrough = indicesOf(
    unserved.filter((one) => one.minutes > 0),
    1,
  );
  return gradeBy(data)(
    { value, ...bounds },
    {
      unit: 'count',
      method: COUNT,
      basis: {
        ...basisOf(data),
        saifiAYear: saifi * years,
        saidiMinutesAYear: saidi * years,
        momentaryAYear: maifi * years,
        saifiBehindTheBattery: carriedThrough.saifi * years,
        saidiBehindTheBattery: carriedThrough.saidi * years,
      },
      working: [
        { label: `longer than ${SUSTAINED_MINUTES} min`, value: saifi, unit: 'count', role: 'input' },
        { label: 'shorter', value: maifi, unit: 'count', role: 'input' },
        { label: 'interruptions', value, unit: 'count', role: 'result' },
        ...(inferred > 0
          ? [
              {
                label: 'of them not logged: inferred, or taken from the journal',
                value: inferred,
                unit: 'count',
                role: 'step',
              } as const,
            ]
          : []),
        { label: 'not beyond doubt', value: value - bounds.low, unit: 'count', role: 'uncertainty' },
        { label: 'that may not have shown', value: bounds.high - value, unit: 'count', role: 'uncertainty' },
      ],
      assumptions: [hidden(data)],
    },
  );
}

function hours(data: RangeData): Figure {
  const reason = lacking(data);
  if (reason !== null) return notMeasured('h', HOURS, reason);
  const outages = outagesOf(data);
  const value = outages.reduce((sum, one) => sum + lengthH(one), 0);
  const doubtful = outages.filter(({ isSure }) => !isSure).reduce((sum, one) => sum + lengthH(one), 0);
  const unseen = countBounds(data).high - outages.length;
  const missed = unseen * (outages.length > 0 ? (UNSEEN_LENGTH * value) / outages.length : USUAL_H);
  // Each end lies somewhere in its interval.
  const ends = (Math.sqrt(2 * outages.length) * 1.13 * data.log.stepMs) / 3_600_000 / 2;
  return gradeBy(data)(
    { value, low: Math.max(0, value - ends - doubtful), high: value + ends + missed },
    {
      unit: 'h',
      method: HOURS,
      basis: basisOf(data),
      working: [
        { label: 'interruptions', value: outages.length, unit: 'count', role: 'input' },
        { label: 'their length', value, unit: 'h', role: 'result' },
        { label: 'both ends of each, within a step', value: ends, unit: 'h', role: 'uncertainty' },
        { label: 'not beyond doubt', value: doubtful, unit: 'h', role: 'uncertainty' },
        { label: 'that may not have shown', value: missed, unit: 'h', role: 'uncertainty' },
      ],
      assumptions: [hidden(data)],
    },
  );
}

function carried(data: RangeData): Figure {
  const reason = lacking(data);
  if (reason !== null) return notMeasured('share', CARRIED, reason);
  const lack = lackOf(data, ['load']);
  if (lack) return notMeasured('share', CARRIED, lack);
  const outages = outagesOf(data);
  const down = outages.reduce((sum, one) => sum + lengthH(one), 0);
  if (down === 0)
    return insufficient(
      'share',
      CARRIED,
      'The grid was not down in this range, so nothing had to be carried.',
    );
  const dark = outages.reduce((sum, { unservedS }) => sum + unservedS / 3600, 0);
  const value = 1 - dark / down;
  const half = (Math.sqrt(outages.length) * data.log.stepMs) / 3_600_000 / down / 2;
  return gradeBy(data)(
    { value, low: Math.max(0, value - half), high: Math.min(1, value + half) },
    {
      unit: 'share',
      method: CARRIED,
      basis: basisOf(data),
      working: [
        { label: 'time without the grid', value: down, unit: 'h', role: 'input' },
        { label: 'of it without power in the home', value: dark, unit: 'h', role: 'input' },
        { label: 'share carried', value, unit: 'share', role: 'result' },
        { label: 'the ends of each, within a step', value: half, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: [`A load below ${DARK_W} W while the grid is down is a home without power.`, hidden(data)],
    },
  );
}

/** Time without power: in outages, and without a grid whenever the load is gone. */
function unserved(data: RangeData): Figure {
  const { log, range, parts } = data;
  const load = channelOf(data, 'load')?.values;
  if (!load) return notMeasured('h', UNSERVED, lackOf(data, ['load'])!);
  const alone = parts.flatMap(({ configuration }) => (!configuration.hasGrid ? [configuration] : []));
  let [dark, known, runs] = [0, 0, 0];
  for (const { fromMs, toMs } of alone) {
    const end = cellAt(log, Math.min(range.toMs, toMs));
    let isDark = false;
    for (let i = cellAt(log, Math.max(range.fromMs, fromMs)); i < end; i++) {
      const watts = load[i]!;
      if (watts !== watts) continue;
      known++;
      if (watts < DARK_W) dark++;
      if (watts < DARK_W && !isDark) runs++;
      isDark = watts < DARK_W;
    }
  }
  if (dark > OFTEN * known)
    return insufficient(
      'h',
      UNSERVED,
      `The load rests below ${DARK_W} W for ${Math.round((100 * dark) / known)} % of the time, so it does not show when the home is without power. A log of the inverter's faults would.`,
    );
  const outages = data.outages.filter(({ unservedS }) => unservedS > 0);
  const cellH = log.stepMs / 3_600_000;
  const value = dark * cellH + outages.reduce((sum, { unservedS }) => sum + unservedS / 3600, 0);
  // Each end lies somewhere in its interval.
  const ends = (Math.sqrt(2 * (runs + outages.length)) * 1.13 * cellH) / 2;
  return gradeBy(data)(
    { value, low: Math.max(0, value - ends), high: value + ends },
    {
      unit: 'h',
      method: UNSERVED,
      basis: { interruptions: runs + outages.length, stepMinutes: log.stepMs / 60_000 },
      working: [
        ...(alone.length > 0
          ? [{ label: 'without a grid', value: dark * cellH, unit: 'h', role: 'input' } as const]
          : []),
        { label: 'interruptions', value: runs + outages.length, unit: 'count', role: 'input' },
        { label: 'time without power', value, unit: 'h', role: 'result' },
        { label: 'both ends of each, within a step', value: ends, unit: 'h', role: 'uncertainty' },
      ],
      assumptions: [`A load below ${DARK_W} W is a home without power.`, hidden(data)],
    },
  );
}
