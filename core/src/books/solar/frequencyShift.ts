import { times } from '../../model/counted.js';
import type { Finding } from '../../model/finding.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import { median } from '../../statistics/median.js';
import { cellAt } from '../../model/log.js';
import { RAISED_HZ, SUN_W, usualFrequency } from './limitedSun.js';

/** Solar below this share of what it gave before the frequency rose is off. */
const OFF = 0.05;
/** Where solar is off for so much of the raised time it drops out; a ramp leaves what the load takes. */
const DROPS_OUT = 0.8;
/** So many runs make it a habit of the inverter. */
const LEAST_RUNS = 2;

/** How an inverter holds solar back by its frequency. */
export interface FrequencyShift {
  readonly runs: number;
  /** Charge at which the frequency rises, and at which it is back: medians, as shares. */
  readonly fromSoc: number;
  readonly backSoc: number;
  readonly highestHz: number;
  /** False where solar drops out at once instead of giving less step by step. */
  readonly isRamped: boolean;
}

/**
 * What a range tells of an inverter that raises its frequency behind a full battery so that solar gives less; null without
 * such runs, or where frequency, charge or solar are not logged.
 */
export function frequencyShift(data: RangeData): FrequencyShift | null {
  const { log, range } = data;
  const solar = channelOf(data, 'solar')?.values;
  const [hz, soc] = [log.channels.get('islandHz')?.values, log.channels.get('soc')?.values];
  if (!solar || !hz || !soc) return null;
  const [from, to] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const raisedHz = usualFrequency(hz, from, to) + RAISED_HZ;
  const starts: number[] = [];
  const ends: number[] = [];
  let [raised, off, highestHz] = [0, 0, 0];
  for (let i = from + 1; i < to; i++) {
    if (!(hz[i]! > raisedHz) || hz[i - 1]! > raisedHz || !(solar[i - 1]! > SUN_W)) continue;
    const before = solar[i - 1]!;
    starts.push(soc[i]!);
    for (; i < to && hz[i]! > raisedHz; i++) {
      highestHz = Math.max(highestHz, hz[i]!);
      raised++;
      if (solar[i]! < OFF * before) off++;
    }
    // By night it goes back for want of sun.
    if (i < to && solar[i]! > SUN_W) ends.push(soc[i]!);
  }
  if (starts.length < LEAST_RUNS) return null;
  return {
    runs: starts.length,
    fromSoc: median(Float64Array.from(starts.filter((value) => !Number.isNaN(value)))),
    backSoc: median(Float64Array.from(ends.filter((value) => !Number.isNaN(value)))),
    highestHz,
    isRamped: off < DROPS_OUT * raised,
  };
}

/** The shift as a finding: a note where solar ramps, a warning where it drops out. */
export function frequencyFinding(data: RangeData): Finding[] {
  const shift = frequencyShift(data);
  if (!shift) return [];
  const percent = (soc: number) => `${Math.round(100 * soc)} %`;
  const { runs, fromSoc, backSoc, highestHz, isRamped } = shift;
  const back = Number.isNaN(backSoc) ? '' : ` and is back at ${percent(backSoc)}`;
  const rises = `Behind a full battery the frequency was raised ${times(runs)}, from ${percent(fromSoc)} of charge on and up to ${highestHz.toFixed(1)} Hz`;
  return [
    {
      code: isRamped ? 'frequency-ramp' : 'frequency-drop-out',
      severity: isRamped ? 'note' : 'warning',
      fromMs: data.range.fromMs,
      toMs: data.range.toMs,
      message: isRamped
        ? `${rises}; solar gives less with it${back}.`
        : `${rises}; solar drops out at once instead of giving less${back}. Its inverter may be set to another grid code: ask the installer.`,
      source: null,
      kWh: null,
    },
  ];
}
