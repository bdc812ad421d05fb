import type { Segment } from '../ledger/segments.js';
import type { IdleStretch } from '../losses/windowFit.js';
import type { Configuration } from '../system/configuration.js';

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
  readonly socTo: number;
  readonly isFromFull: boolean;
  readonly kind: 'segment' | 'full-run';
  /** °C, NaN where it is not logged. */
  readonly temperature: number;
  /** False where the battery's own draw is taken as usual, not found. */
  readonly hasDraw: boolean;
}

/**
 * Capacity from discharges: (what came out + the battery's own draw) ÷ fall of the state of charge. The draw is the one
 * that the windows of that time give; it comes out of the cells, so the share that discharging loses is taken off it.
 * @source common practice, no published source
 */
export function estimatesOf(segments: readonly Segment[], stretches: readonly IdleStretch[]): Estimate[] {
  return segments.map((segment) => {
    const { configuration, fromMs, toMs, dischargeWh, socFrom, socTo, fallACell } = segment;
    const hours = (toMs - fromMs) / 3_600_000;
    const depth = socFrom - socTo;
    const draw = drawAt(stretches, configuration, fromMs);
    const wh = (dischargeWh + draw.value * hours) / depth;
    // Where in its interval a step of SOC falls is not known, at either end.
    const steps = (Math.SQRT2 * 1.13 * fallACell) / depth;
    const cutOff = configuration.described?.battery?.cutOff ?? configuration.floor ?? 0;
    return {
      atMs: toMs,
      configuration,
      wh,
      half: Math.hypot(steps * wh, (draw.half * hours) / depth),
      depth,
      socTo,
      isFromFull: segment.isFromFull,
      kind: segment.isFromFull && socTo <= cutOff + NEAR_CUT_OFF ? 'full-run' : 'segment',
      temperature: segment.temperature,
      hasDraw: draw.isFound,
    };
  });
}

/** The battery's own draw at an instant, seen from its discharge. */
function drawAt(stretches: readonly IdleStretch[], configuration: Configuration, ms: number) {
  const own = stretches.filter((one) => one.fit !== null && one.configuration === configuration);
  const holding = own.find(({ windows }) => windows[0]!.fromMs <= ms && ms < windows.at(-1)!.toMs);
  const fit = (holding ?? nearest(own, ms))?.fit;
  if (!fit) return { ...USUAL_DRAW, isFound: false };
  const out = 1 / (1 + fit.second);
  const half = (fit.firstInterval[1] - fit.firstInterval[0]) / 2;
  return { value: fit.first * out, half: half * out, isFound: true };
}

function nearest(stretches: readonly IdleStretch[], ms: number): IdleStretch | undefined {
  const away = ({ windows }: IdleStretch) =>
    Math.min(Math.abs(windows[0]!.fromMs - ms), Math.abs(windows.at(-1)!.toMs - ms));
  return [...stretches].sort((a, b) => away(a) - away(b))[0];
}
