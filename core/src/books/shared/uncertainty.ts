import type { WorkingLine } from '../../model/figure.js';
import type { Channel } from '../../model/log.js';
import { channelOf, hoursOf, type RangeData } from '../../passes/rangeData.js';

/** Flows whose meter has a stated accuracy. */
export type Metered = 'solar' | 'load' | 'grid' | 'battery';

/** One part of an interval: what it comes from and its half-width at about 95 %, in the figure's own measure. */
export interface Uncertainty {
  readonly label: string;
  readonly half: number;
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
  const { accuracy } = data;
  const zeroW = zeroOf(data, quantity);
  return [
    {
      label: `${quantity} meter, ±${percent(accuracy[quantity])} of reading`,
      half: accuracy[quantity] * Math.abs(energyWh),
    },
    {
      label: `${quantity} meter, ±${Number(zeroW.toPrecision(2))} W zero for ${Math.round(hoursOf(onS))} h`,
      half: zeroW * hoursOf(onS),
    },
  ];
}

/** How far a power meter's zero may be off, in W: its offset and half a unit of the last digit. */
export function zeroOf(data: RangeData, quantity: Metered): number {
  return data.accuracy.offsetW + halfDigit(channelOf(data, quantity));
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
  return doubts.map(({ label, half }) => ({ label, value: half * scale, unit, role: 'uncertainty' }));
}
