import { joinApart, within, type Pass } from './pass.js';
import { busChannel } from '../import/merge/derive.js';
import { cellAt, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';

const LEAST_MS = 2 * 3_600_000;
/** A battery that reads less than this is at rest, W; or less than the last digit of its meter. */
const REST_W = 1;

/** A stretch in which the battery's power reads nothing, and how far its state of charge fell meanwhile. */
export interface Rest extends Range {
  readonly configuration: Configuration;
  /** Share of the usable capacity, negative where it rose. */
  readonly fall: number;
}

/** Rests of two hours and more within one configuration, up to the last state of charge known in each. */
function restsOf(log: Log, configurations: readonly Configuration[]): Rest[] {
  const battery = busChannel(log.channels, 'battery');
  const soc = log.channels.get('soc')?.values;
  if (!battery || !soc) return [];
  const limit = battery.counter ? REST_W : Math.max(REST_W, 0.999 * battery.resolution);
  const { startMs, stepMs } = log;
  return configurations.flatMap((configuration) => {
    const rests: Rest[] = [];
    const end = cellAt(log, configuration.toMs);
    for (let i = cellAt(log, configuration.fromMs); i < end; i++) {
      if (!(Math.abs(battery.values[i]!) < limit && soc[i]! >= 0)) continue;
      let to = i + 1;
      while (to < end && Math.abs(battery.values[to]!) < limit && soc[to]! >= 0) to++;
      const last = to - 1;
      const fall = soc[i]! - soc[last]!;
      if ((last - i) * stepMs >= LEAST_MS)
        rests.push({ configuration, fromMs: startMs + i * stepMs, toMs: startMs + last * stepMs, fall });
      i = to;
    }
    return rests;
  });
}

/** Stretches in which the battery rests. */
export const restsPass: Pass<readonly Rest[]> = {
  scan: ({ log, configurations }) => restsOf(log, configurations),
  slice: within,
  join: joinApart,
};
