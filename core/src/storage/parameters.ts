/**
 * A battery with its inverter, as every replay, expectation and simulation takes it. The side on which energies are
 * counted is the caller's: seen from the home, what is stored is what comes out, and `dischargeEfficiency` is 1; seen from
 * the cells, both ways lose.
 */
export interface StorageParameters {
  /** From the cut-off to full, Wh. What is stored is counted from the cut-off. */
  readonly capacityWh: number;
  /** What battery and inverter draw beside the load, W. */
  readonly idleW: number;
  /** Share of what is charged that is stored. */
  readonly chargeEfficiency: number;
  /** Share of what leaves the store that arrives. */
  readonly dischargeEfficiency: number;
  /** Highest charge, W. */
  readonly chargeW: number;
  /** Highest power from the battery, W; without a grid a load above it makes the home go dark. */
  readonly limitW: number;
  /** With less than this stored, Wh, the inverter carries no more than `weakW`. */
  readonly weakBelowWh: number;
  readonly weakW: number;
}

/** Power that the store can take of an offer, W: no more than its limit, and no more than it has room for. */
export function chargeTaken(
  { capacityWh, chargeEfficiency, chargeW }: StorageParameters,
  storedWh: number,
  offeredW: number,
  hours: number,
): number {
  const room = Math.max(0, capacityWh - storedWh) / hours / chargeEfficiency;
  return Math.max(0, Math.min(offeredW, chargeW, room));
}

/** Power that the store can give of what is asked, W, down to a floor (Wh above the cut-off). */
export function dischargeGiven(
  { dischargeEfficiency, limitW }: StorageParameters,
  storedWh: number,
  askedW: number,
  floorWh: number,
  hours: number,
): number {
  const left = (Math.max(0, storedWh - floorWh) / hours) * dischargeEfficiency;
  return Math.max(0, Math.min(askedW, limitW, left));
}

/** What is stored after charging and discharging with so many watts, and drawing for itself, Wh. */
export function storedAfter(
  { chargeEfficiency, dischargeEfficiency }: StorageParameters,
  storedWh: number,
  chargeW: number,
  dischargeW: number,
  ownW: number,
  hours: number,
): number {
  return storedWh + (chargeW * chargeEfficiency - dischargeW / dischargeEfficiency - ownW) * hours;
}
