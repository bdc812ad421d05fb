import type { Figure } from '../../model/figure.js';
import type { TrialKind } from '../../model/trialRecord.js';
import type { System } from '../../system/schema.js';
import { configurationsOf } from '../../system/configuration.js';
import { isoOf } from '../../time/instant.js';
import { evaluateTrial } from './evaluate.js';
import { trialOf, type TrialFile } from './trialFile.js';

/** What a trial would add to what the home's log tells already. */
export interface TrialWorth {
  readonly kind: TrialKind;
  /** Half-width now ÷ half-width with the trial; Infinity where nothing is known now, 1 where it would add nothing. */
  readonly gain: number;
  /** In words, what is known now and what it would come to. */
  readonly says: string;
}

/** A trial from full to a little above the cut-off; where nothing else is described, of a battery of this capacity. */
const DRAWN_TO = 0.15;
const USUAL_KWH = 10;
const NIGHT_H = 9;
/** Readings as displays usually show them. */
const [SOC, KWH] = [0.01, 0.1];

/** Trials whose result is a number that the log may know as well: its figure, the log's, and what it is called. */
const NUMBERS: readonly (readonly [
  kind: TrialKind,
  key: string,
  known: readonly string[],
  name: string,
  what: string,
])[] = [
  [
    'drawdown',
    'trial.capacity',
    ['capacity.now'],
    'The capacity',
    `a drawdown from full to ${100 * DRAWN_TO} %`,
  ],
  [
    'idle',
    'trial.idleW',
    ['losses.idle.battery', 'losses.idle.inverter'],
    'The idle draw',
    `one night of ${NIGHT_H} h with everything off`,
  ],
  [
    'recharge',
    'trial.efficiency',
    ['losses.roundTrip.fullToFull'],
    'What charging loses',
    'a recharge by its counters',
  ],
];
/** Trials that show what a log seldom does; what it shows in which figure. */
const SIGHTS: readonly (readonly [
  kind: TrialKind,
  known: readonly string[],
  missing: string,
  seen: string,
])[] = [
  [
    'full-load',
    ['peak.leg.tripped', 'peak.leg.held'],
    'What the inverter and each leg hold without the grid is not seen in the log.',
    'The log shows what a leg holds.',
  ],
  [
    'off-grid-run',
    ['outage.carriedShare'],
    'The log holds no outage that was carried, so no runtime is proven.',
    'Outages in the log have tested the runtime.',
  ],
  [
    'curtailment',
    ['solar.heldBack'],
    'How solar is held back without the grid is not seen in the log.',
    'The log shows solar held back.',
  ],
  [
    'restart',
    ['peak.stops'],
    'No stop is in the log, so how the home restarts is not known.',
    'The log holds stops with their restarts.',
  ],
];

/**
 * What each kind of trial would add to a home's figures, the one that would sharpen most first.
 * @param figures of the home's whole log; none without a log
 */
export function trialWorth(system: System, figures: Readonly<Record<string, Figure>>): TrialWorth[] {
  const numbers = NUMBERS.map(([kind, key, known, name, what]): TrialWorth => {
    const alone = shareOff(evaluateTrial(trialOf(planned(kind, system)), system, null, kind).figures[key]);
    const now = known.map((of) => shareOff(figures[of])).find((share) => share !== null) ?? null;
    if (alone === null) return { kind, gain: 1, says: `${name} needs a described battery.` };
    if (now === null)
      return {
        kind,
        gain: Infinity,
        says: `${name} is not known from the log; ${what} would tell it to ±${percent(alone)}.`,
      };
    const both = 1 / Math.hypot(1 / now, 1 / alone);
    return {
      kind,
      gain: now / both,
      says: `${name} is known to ±${percent(now)}; ${what} would make it ±${percent(both)}.`,
    };
  });
  const sights = SIGHTS.map(([kind, known, missing, seen]): TrialWorth => {
    const isSeen = known.some((key) => (figures[key]?.value ?? 0) !== 0);
    // Something never seen is worth more than a number made a little sharper, and less than one that is not known.
    return { kind, gain: isSeen ? 1 : 1.5, says: isSeen ? seen : missing };
  });
  return [...numbers, ...sights].sort((a, b) => b.gain - a.gain);
}

/** Half-width as a share of the value; null where there is none. */
function shareOff(figure: Figure | undefined): number | null {
  if (figure?.value == null || !(figure.value > 0)) return null;
  return (figure.high! - figure.low!) / 2 / figure.value;
}

function percent(share: number): string {
  return `${Number((100 * share).toPrecision(2))} %`;
}

/** The trial as it would be read: from the displays, at their digits. */
function planned(kind: TrialKind, system: System): TrialFile {
  const { usableWh, described } = configurationsOf(system).at(-1)!;
  const kWh = (usableWh ?? 1000 * USUAL_KWH) / 1000;
  const digit = (value: number) => Number((Math.round(value / KWH) * KWH).toFixed(1));
  const at = (hours: number) => isoOf(Date.UTC(2024, 0, 1) + hours * 3_600_000);
  const idleW = described?.inverter?.statedIdleW ?? 60;
  const socAfter = Math.round((0.8 - (idleW * NIGHT_H) / 1000 / kWh) / SOC) * SOC;
  const counters = (out: number, into: number) => ({
    dischargeKWh: digit(100 + out),
    chargeKWh: digit(100 + into),
  });
  const readings: Readonly<Partial<Record<TrialKind, TrialFile['readings']>>> = {
    drawdown: [
      { at: at(0), soc: 1, isTapered: true, ...counters(0, 0) },
      { at: at(NIGHT_H), soc: DRAWN_TO, ...counters(0.95 * (1 - DRAWN_TO) * kWh, 0) },
    ],
    idle: [
      { at: at(0), soc: 0.8, batteryW: idleW, loadW: 0 },
      { at: at(NIGHT_H / 2), batteryW: idleW, loadW: 0 },
      { at: at(NIGHT_H), soc: socAfter, batteryW: idleW, loadW: 0 },
    ],
    recharge: [
      { at: at(0), soc: DRAWN_TO, ...counters(0, 0) },
      { at: at(NIGHT_H), soc: 1, isTapered: true, ...counters(0, ((1 - DRAWN_TO) * kWh) / 0.95) },
    ],
  };
  return { schema: 'long-tally/trial@1', kind, readings: readings[kind] ?? [] };
}
