/** A time of day in which the store is charged from the grid up to a target. */
export interface ChargeWindow {
  /** Minutes after local midnight; one that ends before it begins goes over midnight. */
  readonly fromMinute: number;
  readonly toMinute: number;
  /** Wh above the cut-off. */
  readonly targetWh: number;
}

/** How a store is run. */
export interface Policy {
  readonly grid: 'connected' | 'island';
  /** `self-use` keeps the sun for the load; `none` leaves the store alone but for its charge windows. */
  readonly strategy: 'self-use' | 'none';
  /** Kept for outages while there is a grid, Wh above the cut-off. */
  readonly reserveWh: number;
  readonly chargeWindows: readonly ChargeWindow[];
  /** Highest charge from the grid in a window, W. */
  readonly gridChargeW: number;
  /** Sun beyond what the home and the store take and this, W, is held back. */
  readonly exportLimitW: number;
}

/** Without a grid there is nothing to choose: the sun is stored, the load is served down to the cut-off. */
export const ISLAND: Policy = {
  grid: 'island',
  strategy: 'self-use',
  reserveWh: 0,
  chargeWindows: [],
  gridChargeW: 0,
  exportLimitW: 0,
};

/** The charge that a policy wants at a minute of the day, Wh; 0 outside its windows. */
export function targetAt({ chargeWindows }: Policy, minute: number): number {
  let target = 0;
  for (const { fromMinute, toMinute, targetWh } of chargeWindows) {
    const isOpen =
      fromMinute <= toMinute
        ? minute >= fromMinute && minute < toMinute
        : minute >= fromMinute || minute < toMinute;
    if (isOpen) target = Math.max(target, targetWh);
  }
  return target;
}
