import { busChannel } from '../import/merge/derive.js';
import type { Log } from '../model/log.js';
import type { Finding } from '../model/finding.js';

/** A floor below this, in W, is a last digit or noise. */
const LEAST_W = 5;
/** So many readings just above the floor and at zero make it one. */
const READINGS = 50;

/**
 * The power below which the battery's meter reads zero, in W: the least that it ever reads, where it often reads little
 * more and often nothing. 0 where it has none.
 */
export function meterFloor(log: Log): number {
  const battery = busChannel(log.channels, 'battery');
  if (battery?.origin !== 'logged') return 0;
  const { values, bridged, resolution } = battery;
  const noise = Math.max(LEAST_W, 3 * resolution);
  let least = Infinity;
  let zeros = 0;
  for (let i = 0; i < values.length; i++) {
    const size = Math.abs(values[i]!);
    if (size === 0) zeros++;
    else if (size < least && bridged[i] === 0) {
      if (size <= noise) return 0;
      least = size;
    }
  }
  if (least === Infinity || zeros < READINGS) return 0;
  let near = 0;
  for (let i = 0; i < values.length && near < READINGS; i++) {
    const size = Math.abs(values[i]!);
    if (size > 0 && size < 3 * least) near++;
  }
  return near === READINGS ? least : 0;
}

/** A meter that reads nothing where little flows makes the battery look better than it is. */
export function floorFinding(log: Log, floorW: number): Finding[] {
  if (floorW === 0) return [];
  return [
    {
      code: 'meter-floor',
      severity: 'note',
      fromMs: log.startMs,
      toMs: log.startMs + log.count * log.stepMs,
      message: `The battery's meter never reads between 0 and ${floorW.toFixed(0)} W: it seems to read zero there. What flows below its floor is in no figure, so idle draw and round trip look a little better than they are; the interval of the idle draw has a part for it.`,
      source: null,
      kWh: null,
    },
  ];
}
