import { joinInStep, within, type Pass } from './pass.js';
import { busChannel } from '../import/merge/derive.js';
import { cellAt, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import { PARKED_W } from './sumCells.js';
import type { Configuration } from '../system/configuration.js';

const FULL_SOC = 0.99;
const CALM_CHARGE = 0.05;
const CALM_DISCHARGE = 0.02;
const HOLD_MS = 15 * 60_000;
/** C-rate taken for a battery whose power limits are not described. */
export const ASSUMED_C_RATE = 0.5;

/** From the end of one full hold to the end of the next, under one configuration, battery power without a gap. */
export interface FullWindow extends Range {
  readonly configuration: Configuration;
  readonly chargeWh: number;
  readonly dischargeWh: number;
  readonly chargeOnS: number;
  readonly dischargeOnS: number;
  /** Time in which nothing flowed and the charge stood at its foot: at the reserve, the cut-off or below. */
  readonly emptyS: number;
}

/**
 * Finds the windows between true full charges. Truly full is reached by charging, then SOC ≥ 99 % with charge below
 * 5 % and discharge below 2 % of the rating for at least 15 minutes.
 * @source equal states of charge at both ends: IEC 62933-2-1 and PNNL-22010 (sections from memory); the hold's limits
 *   are common practice, no published source
 */
export function fullWindows(log: Log, configurations: readonly Configuration[]): FullWindow[] {
  return configurations.flatMap((configuration) => windowsOf(log, configuration));
}

function windowsOf(log: Log, configuration: Configuration): FullWindow[] {
  const battery = busChannel(log.channels, 'battery')?.values;
  const soc = log.channels.get('soc')?.values;
  const { nameplateWh, maxChargeW, maxDischargeW } = configuration;
  if (!battery || !soc || (nameplateWh === null && (maxChargeW === null || maxDischargeW === null)))
    return [];
  const assumedW = (nameplateWh ?? 0) * ASSUMED_C_RATE;
  const lowest = -CALM_CHARGE * (maxChargeW ?? assumedW);
  const highest = CALM_DISCHARGE * (maxDischargeW ?? assumedW);
  const { startMs, stepMs } = log;
  const hours = stepMs / 3_600_000;
  const end = cellAt(log, configuration.toMs);
  const windows: FullWindow[] = [];

  const digit = log.channels.get('soc')?.resolution ?? 0;
  const foot = Math.max(configuration.reserve ?? 0, configuration.cutOff ?? 0) + digit / 2;

  let sums = noWindow();
  let fullAt = -1;
  let holdFrom = -1;
  let charged = false;
  const endHold = (i: number) => {
    if (holdFrom >= 0 && (i - holdFrom) * stepMs >= HOLD_MS) {
      if (fullAt >= 0) {
        windows.push({
          configuration,
          fromMs: startMs + fullAt * stepMs,
          toMs: startMs + i * stepMs,
          ...sums,
        });
      }
      fullAt = i;
      sums = noWindow();
    }
    holdFrom = -1;
  };
  for (let i = cellAt(log, configuration.fromMs); i < end; i++) {
    const power = battery[i]!;
    const full = soc[i]! >= FULL_SOC && power >= lowest && power <= highest;
    if (!full || Number.isNaN(power)) {
      endHold(i);
      if (power < lowest) charged = true;
      else if (!(power <= highest)) charged = false;
    } else if (holdFrom < 0 && charged) {
      holdFrom = i;
    }
    if (power > -PARKED_W && power < PARKED_W && soc[i]! <= foot) sums.emptyS += stepMs / 1000;
    if (Number.isNaN(power)) {
      fullAt = -1;
      charged = false;
    } else if (power < 0) {
      sums.chargeWh -= power * hours;
      sums.chargeOnS += stepMs / 1000;
    } else if (power > 0) {
      sums.dischargeWh += power * hours;
      sums.dischargeOnS += stepMs / 1000;
    }
  }
  endHold(end);
  return windows;
}

function noWindow() {
  return { chargeWh: 0, dischargeWh: 0, chargeOnS: 0, dischargeOnS: 0, emptyS: 0 };
}

/** Windows from full to full. */
export const fullWindowsPass: Pass<readonly FullWindow[]> = {
  scan: ({ log, configurations }) => fullWindows(log, configurations),
  slice: within,
  join: (before, after, seam) => joinInStep(before, after, (window) => window, seam),
};
