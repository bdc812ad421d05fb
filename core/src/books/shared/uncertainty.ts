import type { WorkingLine } from '../../model/figure.js';
import type { Channel, Counter } from '../../model/log.js';
import { stepText } from '../../model/hoursText.js';
import { channelOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import type { Sums } from '../../passes/sums.js';

/** Flows whose meter has a stated accuracy. */
export type Metered = 'solar' | 'load' | 'grid' | 'battery';

/** Accuracy of a meter that bills are drawn up by: its class, as common practice has it. */
const REVENUE_METER = 0.01;

/** One part of an interval: what it comes from and its half-width at about 95 %, in the figure's own measure. */
export interface Uncertainty {
  readonly label: string;
  readonly half: number;
  /** Where it widens the interval to one side only. */
  readonly side?: 'below' | 'above';
}

/** Root sum of squares of independent parts. */
export function combined(doubts: readonly Uncertainty[]): number {
  return Math.hypot(...doubts.map(({ half }) => half));
}

/**
 * How far an energy may be off: the meter's gain, which does not average out over samples, and its zero offset with
 * half a unit of the last digit for as long as it reads something.
 * @param energyWh sum of the channel in one direction
 * @param onS seconds in which it read something
 * @returns half-widths in Wh
 * @source GUM (JCGM 100:2008), 5.1 for the combination; the sizes are settings
 */
export function energyUncertainty(
  data: RangeData,
  quantity: Metered,
  energyWh: number,
  onS: number,
): Uncertainty[] {
  const channel = channelOf(data, quantity);
  if (channel?.isByMeter)
    return [
      {
        label: `utility meter, ±${percent(REVENUE_METER)} of reading`,
        half: REVENUE_METER * Math.abs(energyWh),
      },
    ];
  const { accuracy } = data;
  const gain = {
    label: `${quantity} meter, ±${percent(accuracy[quantity])} of reading`,
    half: accuracy[quantity] * Math.abs(energyWh),
  };
  const counter = channel?.counter;
  if (counter) return [gain, digitOf(data, counter, quantity)];
  const zeroW = zeroOf(data, quantity);
  return [
    gain,
    {
      label: `${quantity} meter, ±${Number(zeroW.toPrecision(2))} W zero for ${Math.round(hoursOf(onS))} h`,
      half: zeroW * hoursOf(onS),
    },
  ];
}

/** What cancels within a step is at most so many times what would cancel more if the step were doubled; simulated homes show 0.6 to 2.4. */
const CANCELLED = 2.5;

/**
 * What of an energy of one direction cancelled within the steps before it was logged, Wh at most: it can only be missing.
 * None of a flow that has one direction, or of meters that count each by itself.
 */
export function cancelledWithin(data: RangeData, quantity: Metered, sums: Sums = data.total): Uncertainty {
  const cancels =
    channelOf(data, quantity)?.isByMeter === true
      ? 0
      : quantity === 'grid'
        ? sums.gridCancels
        : quantity === 'battery'
          ? sums.batteryCancels
          : 0;
  return { label: 'cancelled within a step, to one side only', half: CANCELLED * cancels };
}

/** How much less or more a sum may be, for what happened within one step. */
export interface Hidden {
  readonly below: number;
  readonly above: number;
}

/**
 * What a sum of flows may be less or more by what happened within one step: as far off again as it would be with steps twice
 * as long, at most so many times.
 * @param doubled by how much more it would be then, in its own measure; below 0 where it would be less
 */
export function hiddenWithin(doubled: number): Hidden {
  const off = CANCELLED * doubled;
  return { below: Math.max(0, off), above: Math.max(0, -off) };
}

/** The parts of an interval by that. */
export function hiddenParts({ below, above }: Hidden): Uncertainty[] {
  return [
    { label: 'what the step of the log hides', half: below, side: 'below' as const },
    { label: 'what the step of the log hides', half: above, side: 'above' as const },
  ].filter(({ half }) => half > 0);
}

/** The parts of an interval, with what cancelled where that is a tenth of the others together or more. */
export function withCancelled(
  doubts: readonly Uncertainty[],
  cancelled: Uncertainty,
): readonly Uncertainty[] {
  return cancelled.half > 0.1 * combined(doubts) ? [...doubts, cancelled] : doubts;
}

/** A counter's last digit: half of it at each end of the range, of one that starts anew each day at the end of each day. */
function digitOf({ days }: RangeData, { digitWh, isDaily }: Counter, quantity: Metered): Uncertainty {
  return isDaily
    ? {
        label: `${quantity} counter, half its last digit at the end of ${days.length} days`,
        half: (digitWh / 2) * days.length,
      }
    : { label: `${quantity} counter, last digit at both ends`, half: digitWh };
}

/** How far a power meter's zero may be off, in W: its offset and, where it is no counter, half a unit of the last digit. */
export function zeroOf(data: RangeData, quantity: Metered): number {
  const channel = channelOf(data, quantity);
  return data.accuracy.offsetW + (channel?.counter ? 0 : halfDigit(channel));
}

/** A power is told from counters only where a step ticks so many digits of it. */
const STEP_DIGITS = 1.5;

/** Why a power of so many W cannot be told from counters whose last digit is coarser over a step, or null. */
export function hiddenByDigit(data: RangeData, quantity: Metered, watts: number): string | null {
  const channel = channelOf(data, quantity);
  if (!channel?.counter || watts > STEP_DIGITS * channel.resolution) return null;
  return `The ${quantity} is known by counters of ${channel.counter.digitWh / 1000} kWh, which over a step of ${stepText(data.log.stepMs)} is ${Math.round(channel.resolution)} W: too coarse for a power of ${Math.round(watts)} W. A log of powers would supply it.`;
}

/** Half a unit of a channel's last digit. */
export function halfDigit(channel: Channel | undefined): number {
  return (channel?.resolution ?? 0) / 2;
}

/** A share as text in per cent, `2 %`, with as many decimals as it needs (two at most). */
export function percent(share: number): string {
  return `${Number((share * 100).toFixed(2))} %`;
}

/** Parts of an interval as lines of the working. */
export function uncertaintyLines(
  doubts: readonly Uncertainty[],
  scale: number,
  unit: WorkingLine['unit'],
): WorkingLine[] {
  return doubts.map(({ label, half, side }) => ({
    ...{ label, value: half * scale, unit, role: 'uncertainty' },
    ...(side && { side }),
  }));
}
