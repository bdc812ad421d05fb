import { siteTimeOf, zoneOf } from '../../time/zone.js';
import type { AnsweringUnits } from '../shared/answeringUnits.js';
import type { ChargeSwing, TrialMaterial } from './trialMaterial.js';

/** So far down is enough for a check. */
const ENOUGH = 0.4;
const USUAL_CUT_OFF = 0.05;
/** A drawdown is ended so far above the cut-off. */
const ABOVE_CUT_OFF = 0.03;

/** When the charge that is enough for a check comes at this pace, and the one at which to stop. */
export function paceAdvice(
  { configuration, system, toMs, hours }: TrialMaterial,
  { from, to }: ChargeSwing,
): string[] {
  const pace = (from - to) / hours;
  const stop = (configuration.cutOff ?? USUAL_CUT_OFF) + ABOVE_CUT_OFF;
  const zone = zoneOf(system.timeZone);
  const comes = (soc: number) => siteTimeOf(zone, toMs + ((to - soc) / pace) * 3_600_000).slice(11, 16);
  if (!(pace > 0) || to <= stop) return [];
  const last = `Stop at ${Math.round(100 * stop)} %, above the cut-off: at this pace at ${comes(stop)}.`;
  return to <= ENOUGH
    ? [last]
    : [`${100 * ENOUGH} %, enough for a check, comes at ${comes(ENOUGH)} at this pace.`, last];
}

/** What a drawdown says of its units, in words. */
export function drawdownVerdict(
  { verdict, missing }: AnsweringUnits,
  units: number,
  ratio: number,
  shortfall: number,
  partKWh: number,
): string {
  const percent = `${(100 * ratio).toFixed(1)} %`;
  switch (verdict) {
    case 'all-units-deliver':
      return shortfall > 0
        ? `${percent} of the expected energy came out. It is short by ${shortfall.toFixed(1)} kWh, far less than the ${partKWh.toFixed(1)} kWh of one unit and no more than conversion usually takes: ${units === 1 ? 'the unit delivers' : `all ${units} units deliver`}.`
        : `${percent} of the expected energy came out: ${units === 1 ? 'the unit delivers' : `all ${units} units deliver`}.`;
    case 'one-unit-may-be-out':
      return `${percent} of the expected energy came out. It is short by ${shortfall.toFixed(1)} kWh, the part of ${missing === 1 ? 'one unit' : `${missing} units`} (${partKWh.toFixed(1)} kWh each): ${missing === 1 ? 'one unit' : `${missing} units`} of ${units} may be out. Ask the installer to look at the units.`;
    case 'below-expected':
      return `${percent} of the expected energy came out: less than conversion explains, and not the share of one unit. Loss or fade; a second drawdown, from a true full, would tell more.`;
    case 'cannot-tell':
      return `${percent} of the expected energy came out. Whether a unit is out cannot be told from so small a fall, or so coarse a display; a deeper drawdown would.`;
  }
}
