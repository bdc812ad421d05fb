import { isBypass } from './bypass.js';

/** Places of the flows of a cell. */
export const [SUN_TO_LOAD, SUN_TO_STORE, SUN_SOLD, STORE_TO_LOAD, STORE_SOLD, GRID_TO_LOAD, GRID_TO_STORE] = [
  0, 1, 2, 3, 4, 5, 6,
] as const;
export const FLOWS_OF_A_CELL = 7;

/**
 * The flows of a cell from the powers at the home's bus, W. Solar goes first to load, then to store, then to export; the
 * store's output to load, then to export; the grid serves the rest of the load and of the charge (common practice).
 * @param into takes them, at their places: a list of its own for each cell would cost more than the sums
 */
export function splitCell(
  into: Float64Array,
  s: number,
  l: number,
  g: number,
  b: number,
  canBypass: boolean,
): void {
  const buying = g > 0 ? g : 0;
  const selling = g < 0 ? -g : 0;
  const charge = b < 0 ? -b : 0;
  const discharge = b > 0 ? b : 0;
  const shining = s > 0 ? s : 0;
  const need = l > 0 ? l : 0;
  const direct = canBypass && isBypass(need, buying, shining, charge) ? 0 : shining < need ? shining : need;
  const spare = shining - direct;
  const fromGrid = charge - (spare < charge ? spare : charge);
  const open = need - direct;
  const served = discharge < open ? discharge : open;
  const gridIn = fromGrid < buying ? fromGrid : buying;
  // What the meter of the grid counts as sold is the sun's but for what the store gave beyond the load.
  const storeLeft = discharge - served;
  const ofStore = storeLeft < selling ? storeLeft : selling;
  const ofSun = selling - ofStore;
  into[SUN_TO_LOAD] = direct;
  into[SUN_TO_STORE] = charge - gridIn;
  into[SUN_SOLD] = ofSun < shining ? ofSun : shining;
  into[STORE_TO_LOAD] = served;
  into[STORE_SOLD] = ofStore;
  into[GRID_TO_LOAD] = buying - gridIn < need ? buying - gridIn : need;
  into[GRID_TO_STORE] = gridIn;
}
