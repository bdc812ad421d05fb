import { offsetAt, zoneOf } from '../../time/zone.js';
import { wantedAt, type ModelHome } from './modelHome.js';

/** What a home meets over a range, W by cell: load, and sun at the arrays' measuring side. */
export interface ModelInputs {
  readonly startMs: number;
  readonly stepMs: number;
  readonly zone: string;
  readonly load: Float64Array;
  /** Sun that there was, rebuilt where something held it back. */
  readonly solar: Float64Array;
  /** Rate of what is bought, where one is known. */
  readonly buy: Float64Array | null;
  readonly socStart: number;
  /** A load that takes what is left over above a charge. */
  readonly surplusLoad: { readonly watts: number; readonly aboveSoc: number } | null;
}

/** What a run of the model gives: energies in kWh, and the courses that other books read. */
export interface ModelRun {
  readonly loadKWh: number;
  readonly solarKWh: number;
  readonly importKWh: number;
  readonly exportKWh: number;
  readonly chargeKWh: number;
  readonly dischargeKWh: number;
  readonly heldBackKWh: number;
  readonly clippedKWh: number;
  readonly gridToLoadKWh: number;
  /** Served from the battery with energy of grid origin. */
  readonly gridOriginKWh: number;
  readonly unservedKWh: number;
  readonly surplusUsedKWh: number;
  readonly storeChangeKWh: number;
  readonly importW: Float64Array;
  readonly exportW: Float64Array;
  /** What the sun leaves when the load and the store are served, on the home's side: sold or held back. */
  readonly spareW: Float64Array;
  /** Share of full at the start of each cell. */
  readonly soc: Float64Array;
  readonly importByDayKWh: Float64Array;
  readonly daysKnown: Uint8Array;
  readonly hoursAbove: number;
}

/** Where no window says how far, the cheapest hours fill the battery to this share. */
const CHEAP_TARGET = 0.9;

/**
 * Runs a home over its measured load and sun, step by step: sun to load, then to the store, then out; the store serves the
 * load down to its reserve; charge windows fill it from the grid and keep it meanwhile. Energy is conserved in every step.
 * @param home on the home's side: a Wh stored is a Wh that reaches the load
 */
export function modelRun(home: ModelHome, inputs: ModelInputs): ModelRun {
  const { load, solar, stepMs, startMs, surplusLoad, buy } = inputs;
  const count = load.length;
  const hours = stepMs / 3_600_000;
  const zone = zoneOf(inputs.zone);
  const [importW, exportW, spareW, soc] = Array.from({ length: 4 }, () => new Float64Array(count)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const perDay = Math.max(1, Math.round(86_400_000 / stepMs));
  const days = Math.ceil(count / perDay);
  const [importByDay, known] = [new Float64Array(days), new Float64Array(days)];
  const { fullWh, cutOff, coupling, efficiency, chargeEfficiency, acLimitW, exportLimitW, hasGrid } = home;
  const isDc = coupling === 'dc';
  const storesAt = chargeEfficiency * (isDc ? efficiency : 1);
  const cheap = buy && home.strategy !== 'self-use' && home.strategy !== 'none' ? lowestOf(buy) : NaN;
  const emptyWh = cutOff * fullWh;
  let stored = Math.min(fullWh, Math.max(home.drawsBelowReserve ? 0 : emptyWh, inputs.socStart * fullWh));
  const begun = stored;
  let gridPart = 0;
  let [loadWh, solarWh, importWh, exportWh, chargeWh, dischargeWh] = [0, 0, 0, 0, 0, 0];
  let [heldWh, clippedWh, gridToLoadWh, gridOriginWh, unservedWh, surplusWh, above] = [0, 0, 0, 0, 0, 0, 0];
  let [target, floor, lastSlot] = [0, home.reserve, -1];
  const hasTimes = home.windows.length + home.reserveWindows.length > 0;
  const isCheap = home.strategy === 'cheap-charge' && home.windows.length === 0 && buy !== null;
  for (let i = 0; i < count; i++) {
    soc[i] = fullWh > 0 ? stored / fullWh : 0;
    const need = load[i]!;
    const sun = solar[i]!;
    if (need !== need || sun !== sun) {
      importW[i] = exportW[i] = spareW[i] = NaN;
      continue;
    }
    if (hasTimes) {
      // Windows are kept to five minutes.
      const ms = startMs + i * stepMs;
      const slot = Math.floor(ms / 300_000);
      if (slot !== lastSlot) {
        lastSlot = slot;
        const local = new Date(ms + offsetAt(zone, ms));
        ({ target, floor } = wantedAt(
          home,
          local.getUTCHours() * 60 + local.getUTCMinutes(),
          local.getUTCMonth() + 1,
        ));
      }
    }
    if (isCheap) target = buy[i]! <= cheap + 1e-12 ? CHEAP_TARGET : 0;
    const isUsed = home.strategy !== 'none';
    const own = Math.min(home.idleW * hours, stored);
    const isAtFloor = stored - (home.drawsBelowReserve ? 0 : floor * fullWh) < own;
    const ownGrid = hasGrid && isAtFloor && fullWh > 0 ? home.idleW : 0;
    stored -= ownGrid > 0 ? 0 : own;
    const made = isDc ? sun : Math.min(sun, acLimitW);
    if (!isDc && sun > acLimitW) clippedWh += (sun - acLimitW) * hours;
    const forInverter = Math.min(made, home.inverterIdleW);
    const usable = made - forInverter;
    // AC that the sun gives the load, and what it leaves, on the arrays' side.
    const direct = Math.min(need, isDc ? Math.min(usable * efficiency, acLimitW) : usable);
    let spare = usable - (isDc ? direct / efficiency : direct);
    const room = Math.max(0, fullWh - stored) / hours / storesAt;
    const charge = isUsed ? Math.min(spare, home.chargeW, room) : 0;
    spare -= charge;
    stored += charge * storesAt * hours;
    let extra = 0;
    if (surplusLoad && spare > 0 && (fullWh === 0 || stored / fullWh >= surplusLoad.aboveSoc)) {
      extra = Math.min(surplusLoad.watts, isDc ? spare * efficiency : spare);
      spare -= isDc ? extra / efficiency : extra;
    }
    spareW[i] = isDc ? spare * efficiency : spare;
    const couldSell = isDc ? Math.min(spare * efficiency, Math.max(0, acLimitW - direct - extra)) : spare;
    const sold = hasGrid ? Math.min(couldSell, exportLimitW) : 0;
    const lost = spare - (isDc ? sold / efficiency : sold);
    if (lost > 0) {
      if (isDc && couldSell < spare * efficiency - 1e-9 && sold >= couldSell - 1e-9)
        clippedWh += lost * hours;
      else heldWh += lost * hours;
    }
    // What trickles in serves the load before the store does.
    const trickle = hasGrid ? Math.min(home.trickleW, need - direct) : 0;
    let open = need - direct - trickle;
    const isInWindow = target > 0;
    const isDear = home.strategy !== 'peak-shave' || !buy || !(buy[i]! <= cheap + 1e-12);
    const lowestWh = (hasGrid ? Math.max(floor, cutOff) : cutOff) * fullWh;
    const isDrawn = isUsed && !isInWindow;
    const inverterWants = (home.inverterIdleW - forInverter) * efficiency;
    const inverterGiven = isDrawn ? Math.min(inverterWants, Math.max(0, stored - lowestWh) / hours) : 0;
    stored -= inverterGiven * hours;
    const limit = isDc ? Math.max(0, Math.min(home.dischargeW, acLimitW - direct)) : home.dischargeW;
    const given =
      isDrawn && isDear && open > 0 ? Math.min(open, limit, Math.max(0, stored - lowestWh) / hours) : 0;
    stored -= given * hours;
    open -= given;
    let bought = 0;
    if (isInWindow && hasGrid && stored < target * fullWh) {
      const most = Math.max(0, Math.min(home.chargeW - charge, home.gridChargeLimitW - need));
      bought = Math.min(most, (target * fullWh - stored) / hours / chargeEfficiency);
      stored += bought * chargeEfficiency * hours;
    }
    const takes = hasGrid ? open + bought + ownGrid + trickle + inverterWants - inverterGiven : 0;
    if (!hasGrid && open > 0) unservedWh += open * hours;
    importW[i] = takes;
    exportW[i] = sold;
    const inWh = charge * storesAt + bought * chargeEfficiency;
    const before = stored - inWh * hours;
    if (inWh > 0 && stored > 0) gridPart = (gridPart * before + bought * chargeEfficiency * hours) / stored;
    gridOriginWh += given * gridPart * hours;
    loadWh += need * hours;
    solarWh += (made - Math.max(0, lost)) * hours;
    importWh += takes * hours;
    exportWh += sold * hours;
    chargeWh += (charge + bought) * hours;
    dischargeWh += ((given + inverterGiven) / (isDc ? efficiency : 1)) * hours;
    gridToLoadWh += (hasGrid ? open + trickle : 0) * hours;
    surplusWh += extra * hours;
    if (need > home.batteryOnlyW) above += hours;
    const day = Math.floor(i / perDay);
    importByDay[day]! += (takes * hours) / 1000;
    known[day]!++;
  }
  return {
    loadKWh: loadWh / 1000,
    solarKWh: solarWh / 1000,
    importKWh: importWh / 1000,
    exportKWh: exportWh / 1000,
    chargeKWh: chargeWh / 1000,
    dischargeKWh: dischargeWh / 1000,
    heldBackKWh: heldWh / 1000,
    clippedKWh: clippedWh / 1000,
    gridToLoadKWh: gridToLoadWh / 1000,
    gridOriginKWh: gridOriginWh / 1000,
    unservedKWh: unservedWh / 1000,
    surplusUsedKWh: surplusWh / 1000,
    storeChangeKWh: (stored - begun) / 1000,
    importW,
    exportW,
    spareW,
    soc,
    importByDayKWh: importByDay,
    daysKnown: Uint8Array.from(known, (cells) => (cells >= 0.9 * perDay ? 1 : 0)),
    hoursAbove: above,
  };
}

function lowestOf(rates: Float64Array): number {
  let lowest = Infinity;
  for (const rate of rates) if (rate < lowest) lowest = rate;
  return lowest;
}
