import { offsetAt, zoneOf } from '../../time/zone.js';
import type { Model } from './scenarioValues.js';

/** Steps of charge between which the program chooses. */
const LEVELS = 80;
const HOUR_MS = 3_600_000;

/**
 * The least bill that any use of the battery could have had if load, sun and prices were known beforehand: a dynamic
 * program over the hours of the range and steps of charge, that keeps each month's reserve and ends as full as it began.
 * What is drawn for idling is left out and flows are netted by the hour, so that it errs towards too little.
 * @source Bellman, Dynamic Programming (1957), from memory
 * @returns null where blocks, demand charges or net metering make a kWh's price depend on the others
 */
export function foresightBill(model: Model, reserves: readonly number[]): number | null {
  const { home, inputs, prices, data } = model;
  if (!prices || home.fullWh === 0) return null;
  const isPlain = prices.bills.every(
    ({ tariff }) =>
      (tariff.exportScheme ?? 'paid') !== 'net' &&
      !tariff.demand?.length &&
      (tariff.import ?? []).every(({ aboveKWh }) => aboveKWh === undefined),
  );
  if (!isPlain) return null;
  const { run } = model.run({});
  const perHour = Math.max(1, Math.round(HOUR_MS / inputs.stepMs));
  const count = Math.floor(inputs.load.length / perHour);
  const stepH = (perHour * inputs.stepMs) / HOUR_MS;
  const zone = zoneOf(data.log.zone);
  const toAc = home.coupling === 'dc' ? home.efficiency : 1;
  const levelWh = home.fullWh / LEVELS;
  const storesAt = home.chargeEfficiency * (home.coupling === 'dc' ? home.efficiency : 1);
  // Most levels up from sun and grid, and down to the load, in a step.
  const up = Math.max(1, Math.floor((home.chargeW * stepH * home.chargeEfficiency) / levelWh));
  const down = Math.max(1, Math.floor((Math.min(home.dischargeW, home.fullWh / stepH) * stepH) / levelWh));
  const start = Math.round(LEVELS * Math.min(1, Math.max(0, inputs.socStart)));
  let worth = new Float64Array(LEVELS + 1).fill(Infinity);
  worth.fill(0, start);
  for (let step = count - 1; step >= 0; step--) {
    let [need, sun, buy, sell, tax, known] = [0, 0, 0, 0, 0, 0];
    for (let k = step * perHour; k < (step + 1) * perHour; k++) {
      const [load, solar] = [inputs.load[k]!, inputs.solar[k]!];
      if (load !== load || solar !== solar || run.importW[k] !== run.importW[k]) continue;
      need += load;
      sun += Math.min(solar * toAc, home.acLimitW);
      buy += prices.buy[k] === prices.buy[k] ? prices.buy[k]! : 0;
      const { tariff } = prices.bills[prices.bill[k]!]!;
      tax += 1 + (tariff.taxShare ?? 0);
      sell += tariff.exportScheme === 'none' || prices.sell[k] !== prices.sell[k] ? 0 : prices.sell[k]!;
      known++;
    }
    if (known === 0) continue;
    const hours = (known * inputs.stepMs) / HOUR_MS;
    const rate = (tax / known / 1000) * hours;
    const [buyAt, sellAt] = [(buy / known) * rate, (sell / known) * rate];
    const net = (need - sun) / known;
    const ms = inputs.startMs + step * perHour * inputs.stepMs;
    const month = new Date(ms + offsetAt(zone, ms)).getUTCMonth();
    const floor = Math.ceil(LEVELS * reserves[month]!);
    const next = worth;
    worth = new Float64Array(LEVELS + 1);
    for (let level = 0; level <= LEVELS; level++) {
      let best = Infinity;
      for (let to = Math.max(0, level - down); to <= Math.min(LEVELS, level + up); to++) {
        if (to < level && to < floor) continue;
        const movedWh = (to - level) * levelWh;
        const battery = movedWh > 0 ? movedWh / storesAt / hours : movedWh / hours;
        const taken = net + battery;
        const sold = Math.min(-taken, home.exportLimitW);
        const cost = (taken > 0 ? taken * buyAt : -sold * sellAt) + next[to]!;
        if (cost < best) best = cost;
      }
      worth[level] = best;
    }
  }
  const least = worth[start]!;
  return Number.isFinite(least) ? least : null;
}
