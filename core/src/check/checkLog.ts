import type { Log } from '../model/log.js';
import type { Configuration } from '../system/configuration.js';
import type { System } from '../system/schema.js';
import type { Finding } from '../model/finding.js';
import { implausibleLog } from './plausibility.js';
import { spikeFindings } from './spikes.js';
import { stuckFindings } from './stuck.js';
import { sunlightFindings } from './sunlight.js';

/** What is wrong with a log whatever range is looked at, each with what would mend it where that is clear. */
export function checkLog(log: Log, configurations: readonly Configuration[], system: System): Finding[] {
  const usableWh = configurations.at(-1)?.usableWh ?? null;
  return [
    ...implausibleLog(log, configurations, system),
    ...sunlightFindings(log, system),
    ...spikeFindings(log),
    ...stuckFindings(log, usableWh),
  ];
}
