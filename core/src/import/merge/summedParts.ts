import type { Channel } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import { counterOf } from './flows.js';

/**
 * Channels with the flow that is logged in parts only: the load of a home whose legs are logged, the solar of one whose
 * arrays are. A flow with a meter of its own is left as it is.
 */
export function withSums(channels: ReadonlyMap<Quantity, Channel>): Map<Quantity, Channel> {
  const all = new Map(channels);
  const legs = ['leg1', 'leg2', 'leg3'].flatMap((leg) => channels.get(leg as Quantity) ?? []);
  if (!all.has('load') && legs.length > 1) all.set('load', sumOf(legs));
  const arrays = [...channels].filter(([quantity]) => quantity.startsWith('solar:'));
  if (!all.has('solar') && arrays.length > 0) all.set('solar', sumOf(arrays.map(([, channel]) => channel)));
  return all;
}

/** Sum of channels, missing where one of them is. */
function sumOf(parts: readonly Channel[]): Channel {
  const [first] = parts as [Channel];
  const values = first.values.slice();
  const bridged = first.bridged.slice();
  for (const part of parts.slice(1)) {
    for (let i = 0; i < values.length; i++) {
      values[i]! += part.values[i]!;
      bridged[i]! |= part.bridged[i]!;
    }
  }
  return {
    values,
    bridged,
    resolution: Math.max(...parts.map(({ resolution }) => resolution)),
    ...counterOf(parts),
    origin: 'logged',
    sources: [...new Set(parts.flatMap(({ sources }) => sources))],
  };
}
