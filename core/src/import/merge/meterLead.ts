import type { Finding } from '../../model/finding.js';
import { cellAt, type Channel, type Grid, type UnshapedEnergy } from '../../model/log.js';

/** So much of the meter's time the course has to cover for its totals to be set against it. */
const LEAST_COVER = 0.5;
/** Factors further from one are no matter of two meters' accuracy, and are told but not applied. */
const MOST_FACTOR = 1.3;
/** A meter that leads so much of the log leads all of it. */
const WHOLE = 0.97;

/**
 * Where a utility meter and a finer log both give the grid, the meter leads the totals and the log the course: within each
 * of the meter's own intervals each direction of the course is brought to what the meter counted. Where its clock is off
 * against the log's, one factor for all of it does no harm.
 * @param isInStep whether the meter's clock goes with the log's
 * @returns the grid's channel, and what was done to it
 */
export function leadByMeter(
  grid: Channel,
  lumps: readonly UnshapedEnergy[],
  cells: Grid,
  isInStep: boolean,
): { channel: Channel; findings: Finding[] } {
  const factors = new Map<'import' | 'export', number>();
  const findings: Finding[] = [];
  const meters = lumps.filter(({ leads }) => leads === true);
  for (const flow of ['import', 'export'] as const) {
    const own = meters.filter((lump) => lump.flow === flow);
    if (own.length === 0) continue;
    const sign = flow === 'import' ? 1 : -1;
    const hours = cells.stepMs / 3_600_000;
    let [meterWh, courseWh, covered] = [0, 0, 0];
    for (const { fromMs, toMs, wh } of own) {
      let sum = 0;
      let known = 0;
      for (let i = cellAt(cells, fromMs); i < cellAt(cells, toMs); i++) {
        const value = grid.values[i]!;
        if (Number.isNaN(value)) continue;
        known++;
        sum += Math.max(0, sign * value) * hours;
      }
      // Only stretches the course knows whole can be compared.
      if (known * cells.stepMs < 0.99 * (toMs - fromMs)) continue;
      covered++;
      meterWh += wh;
      courseWh += sum;
    }
    const factor = meterWh / courseWh;
    if (covered < LEAST_COVER * own.length || !(courseWh > 0)) continue;
    const applied = factor < MOST_FACTOR && factor > 1 / MOST_FACTOR;
    if (applied) factors.set(flow, factor);
    if (Math.abs(factor - 1) < 1e-4) continue;
    findings.push({
      code: applied ? 'meter-leads' : 'meter-differs',
      severity: applied ? 'note' : 'warning',
      fromMs: own[0]!.fromMs,
      toMs: own.at(-1)!.toMs,
      message: `${own[0]!.source} counts ${(meterWh / 1000).toFixed(1)} kWh of ${flow}, ${grid.sources[0]!} ${(courseWh / 1000).toFixed(1)} kWh over the same time: ${applied ? `the meter leads the total, the log the course (× ${factor.toFixed(3)}${isInStep ? ' in all, interval by interval' : ''})` : 'too far apart for the accuracy of two meters, so the log stands as it is'}.`,
      source: own[0]!.source,
      kWh: Math.abs(meterWh - courseWh) / 1000,
    });
  }
  if (factors.size === 0) return { channel: grid, findings };
  const [into, outOf] = [factors.get('import') ?? 1, factors.get('export') ?? 1];
  const from = cellAt(
    cells,
    meters.reduce((least, { fromMs }) => Math.min(least, fromMs), Infinity),
  );
  const to = cellAt(
    cells,
    meters.reduce((most, { toMs }) => Math.max(most, toMs), -Infinity),
  );
  const values = grid.values.slice();
  for (let i = from; i < to; i++) values[i]! *= values[i]! > 0 ? into : outOf;
  if (isInStep)
    for (const flow of factors.keys())
      toMeter(
        values,
        meters.filter((meter) => meter.flow === flow),
        cells,
      );
  return {
    channel: {
      ...grid,
      values,
      // Of a flow that it does not count, or a time in which it is silent, the finer log speaks.
      ...(factors.size === 2 && to - from >= WHOLE * cells.count ? { isByMeter: true as const } : {}),
      sources: [...new Set([...grid.sources, ...meters.map(({ source }) => source)])],
    },
    findings,
  };
}

/**
 * Brings one direction of the course to a meter's energies, each within its interval. What has no place there, since the
 * course goes the other way all of it, is made up for by one factor, so that the total is the meter's.
 */
function toMeter(values: Float64Array, meters: readonly UnshapedEnergy[], cells: Grid): void {
  const hours = cells.stepMs / 3_600_000;
  const sign = meters[0]?.flow === 'export' ? -1 : 1;
  const whole = meters.flatMap(({ fromMs, toMs, wh }) => {
    const [from, to] = [cellAt(cells, fromMs), cellAt(cells, toMs)];
    const own = values.subarray(from, to);
    return own.length > 0 && own.every((value) => !Number.isNaN(value)) ? [{ own, wh }] : [];
  });
  let [meterWh, courseWh] = [0, 0];
  for (const { own, wh } of whole) {
    const flowing = own.reduce((sum, value) => sum + Math.max(0, sign * value), 0);
    const still = own.reduce((count, value) => count + (value === 0 ? 1 : 0), 0);
    for (let i = 0; i < own.length; i++) {
      if (sign * own[i]! > 0) own[i]! *= wh / (flowing * hours);
      else if (flowing === 0 && own[i] === 0) own[i] = (sign * wh) / (still * hours);
    }
    meterWh += wh;
    courseWh += flowing > 0 || still > 0 ? wh : 0;
  }
  if (!(courseWh > 0)) return;
  for (const { own } of whole)
    for (let i = 0; i < own.length; i++) if (sign * own[i]! > 0) own[i]! *= meterWh / courseWh;
}
