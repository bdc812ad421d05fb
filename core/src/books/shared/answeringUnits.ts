import type { Interval } from '../../model/figure.js';

/** A drawdown of units that are alike. */
export interface Drawdown {
  /** What came out at the meter, the battery's own draw added where it is known, Wh. */
  readonly deliveredWh: number;
  /** Half-width of it at about 95 %, Wh: meter, last digits, the draw. */
  readonly deliveredHalfWh: number;
  readonly units: number;
  /** What one unit holds from full to empty, Wh. */
  readonly unitWh: number;
  /** Fall of the state of charge, a share of full. */
  readonly swing: number;
  /** Half-width of it at about 95 %. */
  readonly swingHalf: number;
  readonly side: 'ac' | 'dc';
}

export type UnitsVerdict = 'all-units-deliver' | 'one-unit-may-be-out' | 'below-expected' | 'cannot-tell';

/** What a drawdown says of its units. */
export interface AnsweringUnits {
  readonly expectedWh: number;
  /** Delivered ÷ expected. */
  readonly ratio: Interval;
  /** What is missing, in parts of what one unit gives over the same swing; below 0 where more came out. */
  readonly shortfallUnits: Interval;
  readonly verdict: UnitsVerdict;
  /** Units that seem not to answer. */
  readonly missing: number;
}

/** What usually reaches the meter of what is stored: the middle, and a standard deviation of homes. */
const USUAL_YIELD = {
  ac: { middle: 0.95, deviation: 0.02 },
  dc: { middle: 0.99, deviation: 0.01 },
} as const;
/** Standard deviations of all units answering beyond which a shortfall is none of theirs: one in a hundred (one-sided). */
const ONE_IN_A_HUNDRED = 2.33;
const ONE_IN_TWENTY = 1.65;

/**
 * Whether all units of a battery answer: what a drawdown delivers against units × unit × fall of the state of charge, with
 * the usual conversion between them.
 * @source common practice, no published source: 6 units of 13.5 kWh, 100 → 40 %: 44.9 kWh of 48.6 expected are 92.4 %, short
 * by less than half of a unit's part, all deliver; 37.4 kWh are short by more than one, a unit may be out
 */
export function answeringUnits(drawdown: Drawdown): AnsweringUnits {
  const { deliveredWh, deliveredHalfWh, units, unitWh, swing, swingHalf, side } = drawdown;
  const unitPartWh = unitWh * swing;
  const expectedWh = units * unitPartWh;
  const value = deliveredWh / expectedWh;
  const half = value * Math.hypot(deliveredHalfWh / deliveredWh, swingHalf / swing);
  const ratio = { value, low: Math.max(0, value - half), high: value + half };
  const short = (share: number) => (1 - share) * units;
  const { middle, deviation } = USUAL_YIELD[side];
  const spread = Math.hypot(deviation, half / 1.96);
  const oneLess = middle * (1 - 1 / units);
  const isTooLittle = value < middle - ONE_IN_A_HUNDRED * spread;
  const isNearerToOneLess = units > 1 && value < (middle + oneLess) / 2;
  // One unit less would give as much in more than one drawdown of twenty.
  const isUndecided = value < oneLess + ONE_IN_TWENTY * spread;
  const missing = isTooLittle && isNearerToOneLess ? Math.round(units * (1 - value / middle)) : 0;
  return {
    expectedWh,
    ratio,
    shortfallUnits: { value: short(value), low: short(ratio.high), high: short(ratio.low) },
    missing,
    verdict:
      missing > 0
        ? 'one-unit-may-be-out'
        : isTooLittle
          ? 'below-expected'
          : isUndecided
            ? 'cannot-tell'
            : 'all-units-deliver',
  };
}
