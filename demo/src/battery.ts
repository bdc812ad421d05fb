import { chargeTaken, dischargeGiven, storedAfter, type StorageParameters } from '@long-tally/core';

/** A store between an AC bus and its cells. Powers in W at the AC side, energy in Wh in the cells. */
export interface Store {
  capacityWh: number;
  storedWh: number;
  idleW: number;
  readonly chargeEfficiency: number;
  readonly dischargeEfficiency: number;
}

const MINUTE_H = 1 / 60;

/** Charges for a minute with up to `watts`; the charge tapers above 97 %. Returns what was taken. */
export function charge(store: Store, watts: number, limitW: number): number {
  const soc = store.storedWh / store.capacityWh;
  const taper = soc > 0.97 ? Math.max(0.015, (1 - soc) / 0.03) : 1;
  const parameters = parametersOf(store, limitW * taper);
  const taken = chargeTaken(parameters, store.storedWh, watts, MINUTE_H);
  store.storedWh = storedAfter(parameters, store.storedWh, taken, 0, 0, MINUTE_H);
  return taken;
}

/** Discharges for a minute with up to `watts`, not below a share of full. Returns what was given. */
export function discharge(store: Store, watts: number, limitW: number, floor: number): number {
  const parameters = parametersOf(store, limitW);
  const given = dischargeGiven(parameters, store.storedWh, watts, floor * store.capacityWh, MINUTE_H);
  store.storedWh = storedAfter(parameters, store.storedWh, 0, given, 0, MINUTE_H);
  return given;
}

/** The battery's own draw for a minute: from the cells, down to nothing. */
export function idle(store: Store): void {
  const left = storedAfter(parametersOf(store, 0), store.storedWh, 0, 0, store.idleW, MINUTE_H);
  store.storedWh = Math.max(0, left);
}

function parametersOf(store: Store, limitW: number): StorageParameters {
  const { capacityWh, idleW, chargeEfficiency, dischargeEfficiency } = store;
  return {
    capacityWh,
    idleW,
    chargeEfficiency,
    dischargeEfficiency,
    chargeW: limitW,
    limitW,
    weakBelowWh: 0,
    weakW: Infinity,
  };
}
