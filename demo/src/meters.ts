import { offsetAt, zoneOf } from '@long-tally/core';
import { KAURI_BEND, KAURI_BEND_TRUTH as TRUTH } from './kauriBend.js';
import { dice } from './random.js';
import type { Minute } from './simulate.js';
import type { Witness } from './truth.js';

const STEP_MINUTES = 5;
const FLOWS = ['solarW', 'loadW', 'gridW', 'batteryW'] as const;

/** The logger: averages minutes to its step, with the errors of its meters, and loses rows now and then. */
export function logger(write: (line: string) => void, wrote: Witness['row']): (minute: Minute) => void {
  const zone = zoneOf(KAURI_BEND.timeZone);
  const { roll, normal } = dice(TRUTH.seed, 'meters');
  const sums = { solarW: 0, loadW: 0, gridW: 0, batteryW: 0 };
  let first: Minute | null = null;
  let minutes = 0;
  let downMinutes = 0;
  let drift = 0;
  let lostRows = 0;
  write('time,solar_w,load_w,grid_w,battery_w,soc_pct,outdoor_temp_c,grid_v');
  return (minute) => {
    if (minutes === 0) first = { ...minute };
    for (const flow of FLOWS) sums[flow] += minute[flow];
    if (!minute.gridUp) downMinutes++;
    if (++minutes < STEP_MINUTES || !first) return;
    for (const flow of FLOWS) sums[flow] /= STEP_MINUTES;
    // The monitor counts charge and drifts; a full battery puts it right.
    drift = first.soc > 0.995 ? 0 : Math.max(-0.015, Math.min(0.015, drift + 0.0004 * normal()));
    const soc = Math.round(100 * Math.min(1, Math.max(0, first.soc + drift)));
    const battery = TRUTH.gain.battery * sums.batteryW + TRUTH.batteryZeroW;
    if (lostRows === 0) lostRows = lost(roll());
    if (lostRows > 0) {
      lostRows--;
    } else {
      wrote(sums, first.ms, STEP_MINUTES);
      write(
        [
          localIso(first.ms, offsetAt(zone, first.ms)),
          Math.round(TRUTH.gain.solar * sums.solarW),
          Math.round(TRUTH.gain.load * sums.loadW),
          Math.round(TRUTH.gain.grid * sums.gridW),
          Math.abs(battery) < TRUTH.batteryFloorW ? 0 : Math.round(battery),
          soc,
          first.outdoorC.toFixed(1),
          first.gridUp && downMinutes < STEP_MINUTES ? (234 + 2.2 * normal()).toFixed(1) : '0.0',
        ].join(','),
      );
    }
    for (const flow of FLOWS) sums[flow] = 0;
    minutes = downMinutes = 0;
  };
}

/** Rows to lose from here on: mostly none, sometimes one or two, seldom some hours, once in a while days. */
function lost(chance: number): number {
  if (chance > 0.0006) return 0;
  if (chance > 0.00006) return 1 + Math.floor((chance * 1e6) % 3);
  return chance > 0.000004 ? 20 + Math.floor((chance * 1e7) % 60) : 640;
}

function localIso(ms: number, offsetMs: number): string {
  const minutes = Math.abs(offsetMs) / 60_000;
  const two = (n: number) => String(n).padStart(2, '0');
  const sign = offsetMs < 0 ? '-' : '+';
  return `${new Date(ms + offsetMs).toISOString().slice(0, 19)}${sign}${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}
