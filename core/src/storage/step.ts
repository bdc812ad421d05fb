import { chargeTaken, dischargeGiven, storedAfter, type StorageParameters } from './parameters.js';
import { targetAt, type Policy } from './policy.js';

/** What a step meets: means over it, W. */
export interface Conditions {
  readonly loadW: number;
  readonly solarW: number;
  /** 1 where a leg carries more than it may. */
  readonly overLeg: number;
  /** Charge from the grid that is given beside the policy's own windows, W. */
  readonly fromGridW: number;
  /** Minutes after local midnight. */
  readonly minute: number;
  readonly hours: number;
}

/**
 * What a step does: powers in W as means over it. Energy is conserved twice: solar + import + discharge = served load +
 * charge + export + held back + drawn from the grid for the store itself; and what is stored changes by
 * charge × efficiency − discharge ÷ efficiency − own draw.
 */
export interface StepResult {
  storedWh: number;
  chargeW: number;
  dischargeW: number;
  importW: number;
  exportW: number;
  heldBackW: number;
  servedW: number;
  /** What battery and inverter draw for themselves, from the store and from the grid. */
  ownFromStoreW: number;
  ownFromGridW: number;
  /** Without a grid: the home was not carried through the step. */
  isDark: boolean;
}

function noStep(): StepResult {
  return {
    storedWh: NaN,
    chargeW: NaN,
    dischargeW: NaN,
    importW: NaN,
    exportW: NaN,
    heldBackW: NaN,
    servedW: NaN,
    ownFromStoreW: NaN,
    ownFromGridW: NaN,
    isDark: false,
  };
}

/**
 * Change of what is stored over a step without a grid that is carried through, Wh; −Infinity where the load is more than
 * the inverter carries, NaN where load or sun are not known.
 */
export function islandChange(
  { idleW, chargeEfficiency, dischargeEfficiency, chargeW, limitW }: StorageParameters,
  loadW: number,
  solarW: number,
  overLeg: number,
  hours: number,
): number {
  const net = loadW - solarW;
  if (net !== net) return NaN;
  if (loadW > limitW || overLeg === 1) return -Infinity;
  if (net >= 0) return -(net / dischargeEfficiency + idleW) * hours;
  return (Math.min(-net, chargeW) * chargeEfficiency - idleW) * hours;
}

/** What must be stored at the beginning of such a step, Wh: enough for it, and for the inverter to carry the load at all. */
export function islandNeed(
  { weakBelowWh, weakW }: StorageParameters,
  loadW: number,
  changeWh: number,
): number {
  const need = -changeWh;
  return loadW > weakW && weakBelowWh > need ? weakBelowWh : need;
}

/**
 * One step of a store. Without a grid a home that cannot be carried through the step goes dark for all of it; its inverter
 * is off then and draws nothing.
 * @param storedWh at the beginning, above the cut-off
 * @param into is written and returned; whoever goes through millions of steps hands in the same one again and again
 */
export function step(
  parameters: StorageParameters,
  policy: Policy,
  storedWh: number,
  conditions: Conditions,
  into: StepResult = noStep(),
): StepResult {
  if (policy.grid === 'island') island(parameters, storedWh, conditions, into);
  else connected(parameters, policy, storedWh, conditions, into);
  return into;
}

function island(
  parameters: StorageParameters,
  storedWh: number,
  { loadW, solarW, overLeg, hours }: Conditions,
  into: StepResult,
): void {
  const change = islandChange(parameters, loadW, solarW, overLeg, hours);
  const isDark = storedWh < islandNeed(parameters, loadW, change);
  const net = loadW - solarW;
  const stored = isDark ? storedWh : Math.min(parameters.capacityWh, storedWh + change);
  // What the store's own draw makes room for within the step is charged too: full stays full.
  const room = (stored - storedWh + parameters.idleW * hours) / hours / parameters.chargeEfficiency;
  const chargeW = isDark || net >= 0 ? 0 : Math.min(-net, parameters.chargeW, Math.max(0, room));
  into.storedWh = stored;
  into.chargeW = chargeW;
  into.dischargeW = isDark ? 0 : Math.max(0, net);
  into.importW = 0;
  into.exportW = 0;
  into.heldBackW = isDark ? solarW : Math.max(0, -net) - chargeW;
  into.servedW = isDark ? 0 : loadW;
  into.ownFromStoreW = isDark ? 0 : parameters.idleW;
  into.ownFromGridW = 0;
  into.isDark = isDark;
}

function connected(
  parameters: StorageParameters,
  policy: Policy,
  storedWh: number,
  { loadW, solarW, fromGridW, minute, hours }: Conditions,
  into: StepResult,
): void {
  const { idleW } = parameters;
  const net = loadW - solarW;
  const isUsed = policy.strategy === 'self-use';
  const target = targetAt(policy, minute);
  const floorWh = Math.max(policy.reserveWh, target);
  // At its reserve the grid carries the store's own draw; above it the store does, before it serves the load.
  const ownFromGridW = storedWh - floorWh < idleW * hours ? idleW : 0;
  const forLoadWh = storedWh - (idleW - ownFromGridW) * hours;
  const dischargeW = isUsed && net > 0 ? dischargeGiven(parameters, forLoadWh, net, floorWh, hours) : 0;
  const keptW = isUsed && net < 0 ? chargeTaken(parameters, storedWh, -net, hours) : 0;
  const wantedW =
    storedWh < target
      ? Math.min(policy.gridChargeW, (target - storedWh) / hours / parameters.chargeEfficiency)
      : 0;
  const askedW = Math.max(fromGridW, wantedW);
  const boughtW = askedW > 0 ? chargeTaken(parameters, storedWh, keptW + askedW, hours) - keptW : 0;
  const spareW = Math.max(0, -net) - keptW;
  const exportW = Math.min(spareW, policy.exportLimitW);
  into.storedWh = storedAfter(parameters, storedWh, keptW + boughtW, dischargeW, idleW - ownFromGridW, hours);
  into.chargeW = keptW + boughtW;
  into.dischargeW = dischargeW;
  into.importW = Math.max(0, net) - dischargeW + boughtW + ownFromGridW;
  into.exportW = exportW;
  into.heldBackW = spareW - exportW;
  into.servedW = loadW;
  into.ownFromStoreW = idleW - ownFromGridW;
  into.ownFromGridW = ownFromGridW;
  into.isDark = false;
}
