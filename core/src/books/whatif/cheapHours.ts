/** A rate within this share of the spread of the days around it from the lowest of them is cheap. */
const NEAR_LOWEST = 0.05;
/** Where nothing of tomorrow is known, the cheapest hours fill the battery to this share. */
const CHEAP_TARGET = 0.9;

/**
 * Cells in which a kWh is cheap, as 1: at or near the lowest rate from the day before to the day after. Where every hour of
 * those costs the same none is.
 * @param perDay cells of a day
 */
export function cheapCells(buy: Float64Array, perDay: number): Uint8Array {
  const days = Math.ceil(buy.length / perDay);
  const [lowest, highest] = [new Float64Array(days).fill(Infinity), new Float64Array(days).fill(-Infinity)];
  for (let i = 0; i < buy.length; i++) {
    const day = Math.floor(i / perDay);
    const rate = buy[i]!;
    if (rate < lowest[day]!) lowest[day] = rate;
    if (rate > highest[day]!) highest[day] = rate;
  }
  const cheap = new Uint8Array(buy.length);
  for (let day = 0; day < days; day++) {
    const around = [day - 1, day, day + 1].filter((one) => one >= 0 && one < days);
    const low = Math.min(...around.map((one) => lowest[one]!));
    const spread = Math.max(...around.map((one) => highest[one]!)) - low;
    if (!(spread > 1e-9)) continue;
    for (let i = day * perDay; i < Math.min(buy.length, (day + 1) * perDay); i++)
      if (buy[i]! <= low + NEAR_LOWEST * spread) cheap[i] = 1;
  }
  return cheap;
}

/**
 * Share of full to which cheap cells fill the battery; 0 in the others.
 * @param known what the load lacks beyond the sun in each cell, Wh at the store, where tomorrow is known: the battery is filled
 *   for what is missing until the next cheap hours, no further; null where it is not, and the battery is filled to a usual share
 * @param floor share that is kept
 */
export function cheapTargets(
  cheap: Uint8Array,
  known: { readonly lacksWh: Float64Array; readonly fullWh: number; readonly floor: number } | null,
): Float64Array {
  const targets = new Float64Array(cheap.length);
  // From the end on: what must be stored at a moment to come to the next cheap hours. The sun that is left over lowers it.
  let neededWh = 0;
  for (let i = cheap.length - 1; i >= 0; i--) {
    if (cheap[i] === 1) {
      targets[i] = known ? Math.min(1, known.floor + neededWh / known.fullWh) : CHEAP_TARGET;
      // Before the first of these hours another stretch begins.
      if (i > 0 && cheap[i - 1] === 0) neededWh = 0;
    } else if (known) {
      const lack = known.lacksWh[i]!;
      if (lack === lack) neededWh = Math.max(0, neededWh + lack);
    }
  }
  return targets;
}
