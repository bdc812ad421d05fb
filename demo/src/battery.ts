/** A store between an AC bus and its cells. Powers in W at the AC side, energy in Wh in the cells. */
export interface Store {
  capacityWh: number;
  storedWh: number;
  idleW: number;
  readonly chargeEfficiency: number;
  readonly dischargeEfficiency: number;
}

/** Charges for a minute with up to `watts`; the charge tapers above 97 %. Returns what was taken. */
export function charge(store: Store, watts: number, limitW: number): number {
  const soc = store.storedWh / store.capacityWh;
  const taper = soc > 0.97 ? Math.max(0.015, (1 - soc) / 0.03) : 1;
  const room = ((store.capacityWh - store.storedWh) * 60) / store.chargeEfficiency;
  const taken = Math.max(0, Math.min(watts, limitW * taper, room));
  store.storedWh += (taken * store.chargeEfficiency) / 60;
  return taken;
}

/** Discharges for a minute with up to `watts`, not below a share of full. Returns what was given. */
export function discharge(store: Store, watts: number, limitW: number, floor: number): number {
  const left = Math.max(0, (store.storedWh - floor * store.capacityWh) * 60 * store.dischargeEfficiency);
  const given = Math.max(0, Math.min(watts, limitW, left));
  store.storedWh -= given / store.dischargeEfficiency / 60;
  return given;
}

/** The battery's own draw for a minute: from the cells, down to nothing. */
export function idle(store: Store): void {
  store.storedWh = Math.max(0, store.storedWh - store.idleW / 60);
}
