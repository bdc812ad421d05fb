import { lackOf } from '../shared/lacking.js';
import { fadeOf, capacityAssessment } from '../shared/capacityAssessment.js';
import { type WorkingLine } from '../../model/figure.js';
import type { DayEntry } from '../../passes/dayEntries.js';
import { configurationAt, type Configuration, type WarrantyTerms } from '../../system/configuration.js';
import type { RangeData } from '../../passes/rangeData.js';
import { socCycles } from './cycles.js';
import { YEAR_DAYS, YEAR_MS } from '../../time/days.js';

const DAY_MS = 86_400_000;
/** A log that begins so soon after the warranty holds all of its use. */
const SOON_MS = 7 * DAY_MS;
const HORIZON_YEARS = 100;
/** Cycles counted by what went in and out stand so far from those of the charge: losses, and the capacity as described. */
const THROUGH_OFF = 0.1;

/** One limit of a warranty: how much of it is used, and when it runs out. */
export interface Clock {
  readonly limit: 'years' | 'throughput' | 'cycles' | 'capacity';
  /** Share used, with its interval. */
  readonly used: { readonly value: number; readonly low: number; readonly high: number };
  /** Share a year at the rate of the last 365 days; null where the log does not give one. */
  readonly rate: { readonly value: number; readonly low: number; readonly high: number } | null;
  /** When it is reached; null where it never is within a hundred years. */
  readonly runsOutMs: { readonly value: number; readonly low: number; readonly high: number } | null;
  readonly working: readonly WorkingLine[];
  /** Whether use before the log began had to be taken as like the use in it. */
  readonly isFilled: boolean;
}

/** The warranty that holds at the end of a range, with its clocks. */
export interface WarrantyState {
  readonly configuration: Configuration;
  readonly terms: WarrantyTerms;
  readonly isOffGrid: boolean;
  readonly beginsMs: number;
  readonly clocks: readonly Clock[];
  /** Discharge a day that stays inside the throughput for all of the years, kWh; null where one is not stated. */
  readonly allowedADayKWh: number | null;
}

/** The warranty's state at the end of a range, from all of the log up to there; null where no terms are described. */
export function warrantyState(data: RangeData): WarrantyState | null {
  const configuration = configurationAt(data.configurations, data.range.toMs - 1);
  if (!configuration.warranty) return null;
  const { terms, use } = configuration.warranty;
  // The clock began with the first of the configurations in a row that have these terms.
  const alike = data.configurations.filter(
    ({ index, warranty }) =>
      index <= configuration.index && JSON.stringify(warranty) === JSON.stringify(configuration.warranty),
  );
  const first =
    alike.find((one, k) => alike.length - k === configuration.index - one.index + 1) ?? configuration;
  const begins = first.installedMs ?? first.fromMs;
  const history = data.history.filter(({ configuration: { index } }) => index >= first.index);
  return {
    configuration,
    terms,
    isOffGrid: use === 'off-grid',
    beginsMs: begins,
    clocks: [
      ...yearsClock(data, terms, begins),
      ...throughputClock(data, terms, begins, history),
      ...cyclesClock(data, terms, begins, history),
      ...capacityClock(data, terms),
    ],
    allowedADayKWh:
      terms.throughputKWh !== undefined && terms.years !== undefined
        ? terms.throughputKWh / (terms.years * YEAR_DAYS)
        : null,
  };
}

function yearsClock({ range }: RangeData, { years }: WarrantyTerms, begins: number): Clock[] {
  if (years === undefined) return [];
  const value = Math.max(0, range.toMs - begins) / YEAR_MS / years;
  const end = begins + years * YEAR_MS;
  return [
    {
      limit: 'years',
      used: { value, low: value, high: value },
      rate: { value: 1 / years, low: 1 / years, high: 1 / years },
      runsOutMs: end < range.toMs + HORIZON_YEARS * YEAR_MS ? { value: end, low: end, high: end } : null,
      working: [
        { label: 'days since it began', value: (range.toMs - begins) / DAY_MS, unit: 'days', role: 'input' },
        { label: '÷ days warranted', value: years * YEAR_DAYS, unit: 'days', role: 'input' },
        { label: 'used', value, unit: 'share', role: 'result' },
      ],
      isFilled: false,
    },
  ];
}

function throughputClock(
  data: RangeData,
  { throughputKWh }: WarrantyTerms,
  begins: number,
  history: readonly DayEntry[],
): Clock[] {
  if (throughputKWh === undefined) return [];
  const perDay = [
    ...history.map((entry) => ({
      fromMs: entry.fromMs,
      toMs: entry.toMs,
      amount: entry.sums.dischargeWh / 1000,
      knownS: entry.sums.batteryS,
    })),
    ...data.lumpsBefore
      .filter(({ flow, toMs }) => flow === 'discharge' && toMs > begins)
      .map(({ fromMs, toMs, wh, unknownS }) => ({ fromMs, toMs, amount: wh / 1000, knownS: unknownS })),
  ].sort((x, y) => x.fromMs - y.fromMs);
  return clockOf(data, 'throughput', begins, perDay, throughputKWh, data.accuracy.battery, [
    ['discharge in the log and its totals', 'kWh'],
    ['÷ throughput warranted', 'kWh'],
  ]);
}

function cyclesClock(
  data: RangeData,
  { cycles, cycleDepth }: WarrantyTerms,
  begins: number,
  history: readonly DayEntry[],
): Clock[] {
  if (cycles === undefined || history.length === 0) return [];
  const depth = cycleDepth ?? 1;
  const { usableWh } = configurationAt(data.configurations, data.range.toMs - 1);
  if (lackOf(data, ['soc']) && usableWh !== null)
    return cyclesFromTotals(data, cycles, depth, begins, usableWh);
  const fromMs = history[0]!.fromMs;
  const ended = socCycles(data.turningPointsBefore)
    .filter(({ toMs }) => toMs >= fromMs)
    .sort((x, y) => x.toMs - y.toMs);
  let next = 0;
  const perDay = history.map((entry) => {
    let amount = 0;
    for (; next < ended.length && ended[next]!.toMs < entry.toMs; next++)
      amount += (ended[next]!.count * ended[next]!.depth) / depth;
    return { fromMs: entry.fromMs, toMs: entry.toMs, amount, knownS: entry.sums.socS };
  });
  return clockOf(data, 'cycles', begins, perDay, cycles, data.accuracy.soc, [
    [`cycles of ${Math.round(100 * depth)} % in the log`, 'cycles'],
    ['÷ cycles warranted', 'cycles'],
  ]);
}

/** Where the charge is not logged, what went through the battery gives its cycles: full ones, whatever their depth. */
function cyclesFromTotals(
  data: RangeData,
  cycles: number,
  depth: number,
  begins: number,
  usableWh: number,
): Clock[] {
  const used = data.lumpsBefore
    .filter(({ flow, toMs }) => (flow === 'charge' || flow === 'discharge') && toMs > begins)
    .map(({ fromMs, toMs, wh, unknownS }) => ({
      fromMs,
      toMs,
      amount: wh / 2 / usableWh / depth,
      knownS: unknownS / 2,
    }));
  if (used.length === 0) return [];
  return clockOf(data, 'cycles', begins, used, cycles, Math.hypot(data.accuracy.battery, THROUGH_OFF), [
    [`cycles of ${Math.round(100 * depth)} % from the battery’s throughput`, 'cycles'],
    ['÷ cycles warranted', 'cycles'],
  ]);
}

interface DayOfUse {
  readonly fromMs: number;
  readonly toMs: number;
  readonly amount: number;
  readonly knownS: number;
}

/** A limit that use eats up: what the log holds, filled at its mean rate where the log has nothing. */
function clockOf(
  data: RangeData,
  limit: 'throughput' | 'cycles',
  begins: number,
  days: readonly DayOfUse[],
  most: number,
  accuracy: number,
  [used, of]: readonly [
    readonly [label: string, unit: 'kWh' | 'cycles'],
    readonly [label: string, unit: 'kWh' | 'cycles'],
  ],
): Clock[] {
  const { toMs } = data.range;
  const total = days.reduce((sum, { amount }) => sum + amount, 0);
  const knownMs = days.reduce((sum, { knownS }) => sum + knownS * 1000, 0);
  if (knownMs < DAY_MS) return [];
  const missingMs = Math.max(0, toMs - begins - knownMs);
  const firstKnown = days.find(({ knownS }) => knownS > 0)!;
  const isFilled = firstKnown.fromMs > begins + SOON_MS || missingMs > 0.1 * (toMs - begins);
  const filled = (total / knownMs) * missingMs;
  const value = (total + filled) / most;
  const half = Math.hypot(accuracy * value, (0.3 * filled) / most);
  const lately = days.filter(({ fromMs }) => fromMs >= toMs - 365 * DAY_MS);
  const latelyMs = lately.reduce((sum, { knownS }) => sum + knownS * 1000, 0);
  const rate = latelyMs > 0 ? (lately.reduce((sum, { amount }) => sum + amount, 0) / latelyMs) * YEAR_MS : 0;
  // A year's rate is one season's round; less of a year may be the wrong half of it.
  const spread = Math.hypot(accuracy, 0.1, 0.5 * Math.max(0, 1 - latelyMs / (0.9 * YEAR_MS)));
  const rates = { value: rate / most, low: (rate * (1 - spread)) / most, high: (rate * (1 + spread)) / most };
  const at = (left: number, perYear: number) => toMs + (Math.max(0, left) / perYear) * YEAR_MS;
  const runsOut = {
    value: at(1 - value, rates.value),
    low: at(1 - value - half, rates.high),
    high: at(1 - value + half, rates.low),
  };
  return [
    {
      limit,
      used: { value, low: Math.max(0, value - half), high: value + half },
      rate: rates,
      runsOutMs: rate > 0 && runsOut.value < toMs + HORIZON_YEARS * YEAR_MS ? runsOut : null,
      working: [
        { label: used[0], value: total, unit: used[1], role: 'input' },
        ...(isFilled
          ? [
              {
                label: '+ time without a log, at its mean rate',
                value: filled,
                unit: used[1],
                role: 'input',
              } as const,
            ]
          : []),
        { label: of[0], value: most, unit: of[1], role: 'input' },
        { label: 'used', value, unit: 'share', role: 'result' },
        { label: 'meter, and time without a log', value: half, unit: 'share', role: 'uncertainty' },
      ],
      isFilled,
    },
  ];
}

/** The capacity that must be left at the end: used is the part of the way there. */
function capacityClock(data: RangeData, { endCapacity }: WarrantyTerms): Clock[] {
  const assessment = endCapacity === undefined || endCapacity >= 1 ? null : capacityAssessment(data);
  if (!assessment?.reference) return [];
  const { trend, reference } = assessment;
  const lost = (wh: number) => (1 - wh / reference.wh) / (1 - endCapacity!);
  const fade = fadeOf(assessment);
  const value = lost(trend.level.value);
  const left = (1 - value) * (1 - endCapacity!);
  const at = (rate: number) => data.range.toMs + (Math.max(0, left) / rate) * YEAR_MS;
  const isTold = fade !== null && fade.low > 0;
  return [
    {
      limit: 'capacity',
      used: { value, low: lost(trend.level.high), high: lost(trend.level.low) },
      rate:
        fade === null
          ? null
          : {
              value: fade.value / (1 - endCapacity!),
              low: fade.low / (1 - endCapacity!),
              high: fade.high / (1 - endCapacity!),
            },
      runsOutMs: isTold ? { value: at(fade.value), low: at(fade.high), high: at(fade.low) } : null,
      working: [],
      isFilled: false,
    },
  ];
}
