import type { Segment } from './capacitySegments.js';
import type { IdleStretch } from './idleFit.js';
import type { Range } from '../model/range.js';
import type { TrialRecord } from '../model/trialRecord.js';
import { configurationAt, type Configuration } from '../system/configuration.js';

/** What a battery draws for itself where its windows do not tell, W: as a battery with its converter usually does. */
const USUAL_DRAW = { value: 30, half: 25 } as const;
/** A run that ends so close above the cut-off has emptied the battery. */
const NEAR_CUT_OFF = 0.05;

/** One estimate of the capacity, on the measuring side. */
export interface Estimate {
  readonly atMs: number;
  readonly configuration: Configuration;
  readonly wh: number;
  /** What changes from one estimate to the next: steps of SOC, the draw's doubt. Half-width at about 95 %, Wh. */
  readonly half: number;
  readonly depth: number;
  /** What it was found from. A charge is brought to what it lets out again. */
  readonly direction: 'discharge' | 'charge';
  readonly socTo: number;
  readonly isFromFull: boolean;
  /** A trial is a discharge in a test of the journal. */
  readonly kind: 'segment' | 'full-run' | 'trial';
  /** °C, NaN where it is not logged. */
  readonly temperature: number;
  /** False where the battery's own draw is taken as usual, not found. */
  readonly hasDraw: boolean;
}

/**
 * Capacity from discharges: (what came out + the battery's own draw) ÷ fall of the state of charge; and from charges:
 * (what went in − the draw) ÷ rise, less what is lost on the way out again. Draw and loss are those that the windows of
 * that time give; a charge without them says nothing.
 * @param tests stretches in which the journal tells of a test
 * @param digitWh last digit of the battery's counters, 0 for a power
 * @source common practice, no published source
 */
export function estimatesOf(
  segments: readonly Segment[],
  stretches: readonly IdleStretch[],
  tests: readonly Range[],
  digitWh: number,
): Estimate[] {
  const draws = stretches.flatMap(drawOf);
  return segments.flatMap((segment) => {
    const { configuration, direction, fromMs, toMs, socFrom, socTo, moveACell } = segment;
    const hours = (toMs - fromMs) / 3_600_000;
    const depth = Math.abs(socFrom - socTo);
    const draw = drawAt(draws, configuration, fromMs);
    const isCharge = direction === 'charge';
    if (isCharge && !draw.isFound) return [];
    const wh =
      (isCharge ? segment.wh * draw.out - draw.value * hours : segment.wh + draw.value * hours) / depth;
    // Where in its interval a step of SOC falls is not known, at either end.
    const steps = (Math.SQRT2 * 1.13 * moveACell) / depth;
    const isTrial = !isCharge && tests.some((test) => test.fromMs <= fromMs && toMs <= test.toMs);
    const cutOff = configuration.cutOff ?? 0;
    return [
      {
        atMs: toMs,
        configuration,
        wh,
        half: Math.hypot(
          steps * wh,
          (draw.half * hours) / depth,
          isCharge ? draw.outOff * wh : 0,
          digitWh / depth,
        ),
        depth,
        direction,
        socTo,
        isFromFull: segment.isFromFull,
        kind: isTrial
          ? 'trial'
          : segment.isFromFull && socTo <= cutOff + NEAR_CUT_OFF
            ? 'full-run'
            : 'segment',
        temperature: segment.temperature,
        hasDraw: draw.isFound,
      },
    ];
  });
}

/**
 * Estimates with those of drawdown trials that were read from displays beside them; where the log holds the discharge of a trial, the log
 * leads.
 */
export function withTrials(
  estimates: readonly Estimate[],
  trials: readonly TrialRecord[],
  configurations: readonly Configuration[],
): Estimate[] {
  const typed = trials.flatMap(({ capacity, fromMs, toMs }): Estimate[] => {
    const isLogged = estimates.some(({ kind, atMs }) => kind === 'trial' && atMs > fromMs && atMs <= toMs);
    return capacity === null || isLogged
      ? []
      : [
          {
            ...capacity,
            atMs: toMs,
            configuration: configurationAt(configurations, fromMs),
            direction: 'discharge',
            kind: 'trial',
            temperature: NaN,
            hasDraw: true,
          },
        ];
  });
  return [...estimates, ...typed].sort((a, b) => a.atMs - b.atMs);
}

/** The battery's own draw, seen from its discharge, and the share of what goes in that comes out again. */
interface Draw {
  readonly value: number;
  readonly half: number;
  readonly out: number;
  readonly outOff: number;
  readonly isFound: boolean;
}

/** What the windows of a stretch say of it, from the first of them to the last. */
interface StretchDraw extends Draw, Range {
  readonly configuration: Configuration;
}

const NOT_FOUND: Draw = { ...USUAL_DRAW, out: NaN, outOff: NaN, isFound: false };

function drawOf({ configuration, windows, fit }: IdleStretch): StretchDraw[] {
  if (!fit) return [];
  const out = 1 / (1 + fit.second);
  const half = (fit.firstInterval[1] - fit.firstInterval[0]) / 2;
  const outOff = ((fit.secondInterval[1] - fit.secondInterval[0]) / 2) * out;
  return [
    {
      configuration,
      fromMs: windows[0]!.fromMs,
      toMs: windows.at(-1)!.toMs,
      value: fit.first * out,
      half: half * out,
      out,
      outOff,
      isFound: true,
    },
  ];
}

/** The draw at an instant: that of the windows that hold it, otherwise of those closest to it. */
function drawAt(draws: readonly StretchDraw[], configuration: Configuration, ms: number): Draw {
  const away = ({ fromMs, toMs }: Range) =>
    fromMs <= ms && ms < toMs ? -1 : Math.min(Math.abs(fromMs - ms), Math.abs(toMs - ms));
  let [found, least] = [NOT_FOUND, Infinity];
  for (const draw of draws)
    if (draw.configuration === configuration && away(draw) < least) [found, least] = [draw, away(draw)];
  return found;
}
