import { cellAt, type Channel, type Grid } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { Quantity } from '../../model/quantity.js';
import { counterOf } from './flows.js';

/** The four flows at the home's bus and the sign each has in solar + grid + battery − load = 0. */
const BUS: readonly (readonly [Quantity, number])[] = [
  ['solar', 1],
  ['grid', 1],
  ['battery', 1],
  ['load', -1],
];

/**
 * Adds what follows from the logged channels: while a home has no grid its grid power is zero, and without panels its
 * solar; of solar, grid, battery and load one that is not logged is what the other three leave over.
 * @param offGrid stretches in which the home has no grid at all
 * @param sunless stretches in which it has no panels
 */
export function derive(
  logged: ReadonlyMap<Quantity, Channel>,
  log: Grid,
  offGrid: readonly Range[],
  sunless: readonly Range[],
): Map<Quantity, Channel> {
  const { count } = log;
  const channels = new Map(logged);
  const grid = nothingOf(logged.get('grid'), log, offGrid, 'system description: no grid');
  if (grid) channels.set('grid', grid);
  // A meter of solar is believed before a description without panels.
  const solar = logged.get('solar') ?? nothingOf(undefined, log, sunless, 'system description: no panels');
  if (solar) channels.set('solar', solar);
  const bus = BUS.map(([quantity, sign]) => ({ quantity, sign, channel: busChannel(channels, quantity) }));
  const absent = bus.filter(({ channel }) => !channel);
  const [missing] = absent;
  if (absent.length !== 1 || !missing) return channels;
  const others = bus.flatMap(({ sign, channel }) => (channel ? [{ sign, channel }] : []));
  const values = new Float64Array(count);
  const bridged = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    let rest = 0;
    for (const { sign, channel } of others) {
      rest += sign * channel.values[i]!;
      bridged[i]! |= channel.bridged[i]!;
    }
    values[i] = -missing.sign * rest;
  }
  return channels.set(missing.quantity, {
    values,
    bridged,
    resolution: Math.max(...others.map(({ channel }) => channel.resolution)),
    ...counterOf(others.map(({ channel }) => channel)),
    origin: 'derived',
    sources: bus.flatMap(({ quantity, channel }) => (channel ? [quantity] : [])),
  });
}

/** The channel that stands for a flow at the bus: the battery's DC side where its AC side is not logged. */
export function busChannel(
  channels: ReadonlyMap<Quantity, Channel>,
  quantity: Quantity,
): Channel | undefined {
  return channels.get(quantity) ?? (quantity === 'battery' ? channels.get('batteryDc') : undefined);
}

/** A channel with its power known to be zero in some stretches; what was logged elsewhere stays. */
function nothingOf(
  logged: Channel | undefined,
  log: Grid,
  ranges: readonly Range[],
  source: string,
): Channel | undefined {
  const stretches = ranges
    .map(({ fromMs, toMs }) => [cellAt(log, fromMs), cellAt(log, toMs)] as const)
    .filter(([from, to]) => to > from);
  if (stretches.length === 0) return logged;
  const values = logged?.values.slice() ?? new Float64Array(log.count).fill(NaN);
  const bridged = logged?.bridged.slice() ?? new Uint8Array(log.count);
  for (const [from, to] of stretches) {
    values.fill(0, from, to);
    bridged.fill(0, from, to);
  }
  const throughout = stretches.reduce((cells, [from, to]) => cells + to - from, 0) === log.count;
  return {
    values,
    bridged,
    resolution: throughout ? 0 : (logged?.resolution ?? 0),
    ...(throughout || !logged ? {} : counterOf([logged])),
    origin: throughout || !logged ? 'known' : 'logged',
    sources: [...(throughout ? [] : (logged?.sources ?? [])), source],
  };
}
