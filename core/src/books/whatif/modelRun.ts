import { cheapCells, cheapTargets } from './cheapHours.js';
import type { ModelHome } from './modelHome.js';
import { wantedTimes, type WantedTimes } from './wantedTimes.js';

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

/** What a run of the model gives: energies in kWh, and the courses that bills are drawn up from. */
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
  readonly importByDayKWh: Float64Array;
  readonly daysKnown: Uint8Array;
  readonly hoursAbove: number;
  /** Empty where only energies are asked for. */
  readonly courses: Courses;
}

/** What other books read of a run, by cell. */
export interface Courses {
  /** What the sun leaves when the load and the store are served, W on the home's side: sold or held back. */
  readonly spareW: Float64Array;
  /** What a home without a grid was not given, W. */
  readonly unservedW: Float64Array;
  /** Share of full at the start of each cell. */
  readonly soc: Float64Array;
}

const DAY_MS = 86_400_000;

/** A run under way: what is stored, Wh, the share of it that came from the grid, and sums of powers, W. */
interface Running {
  stored: number;
  /** Index of the dated charge that is the next, or under way. */
  nextCharge: number;
  gridPart: number;
  load: number;
  solar: number;
  import: number;
  export: number;
  charge: number;
  discharge: number;
  heldBack: number;
  clipped: number;
  gridToLoad: number;
  gridOrigin: number;
  unserved: number;
  surplus: number;
  cellsAbove: number;
  cellsKnown: number;
}

const AT_REST: Running = {
  stored: 0,
  nextCharge: 0,
  gridPart: 0,
  load: 0,
  solar: 0,
  import: 0,
  export: 0,
  charge: 0,
  discharge: 0,
  heldBack: 0,
  clipped: 0,
  gridToLoad: 0,
  gridOrigin: 0,
  unserved: 0,
  surplus: 0,
  cellsAbove: 0,
  cellsKnown: 0,
};

/** What a run writes by cell; the courses are empty where only energies are asked for. */
interface Written extends Courses {
  readonly importW: Float64Array;
  readonly exportW: Float64Array;
}

/**
 * Runs a home over its measured load and sun, step by step: sun to load, then to the store, then out; the store serves the
 * load down to its reserve; charge windows fill it from the grid and keep it meanwhile. Energy is conserved in every step.
 * @param home on the home's side: a Wh stored is a Wh that reaches the load
 * @param keeps whether the courses are kept, or only what they come to
 */
export function modelRun(
  home: ModelHome,
  inputs: ModelInputs,
  keeps: 'courses' | 'energies' = 'courses',
): ModelRun {
  const { stepMs, buy, socStart } = inputs;
  const { fullWh, strategy } = home;
  const count = inputs.load.length;
  const kept = keeps === 'courses' ? count : 0;
  const written: Written = {
    importW: new Float64Array(count),
    exportW: new Float64Array(count),
    spareW: new Float64Array(kept),
    unservedW: new Float64Array(kept),
    soc: new Float64Array(kept),
  };
  const least = home.drawsBelowReserve ? 0 : home.cutOff * fullWh;
  const begun = Math.min(fullWh, Math.max(least, socStart * fullWh));
  const running: Running = { ...AT_REST, stored: begun };
  const times = home.windows.length + home.reserveWindows.length > 0 ? wantedTimes(home, inputs.zone) : null;
  const perDay = Math.max(1, Math.round(DAY_MS / stepMs));
  const hours = stepMs / 3_600_000;
  const cheap =
    buy && (strategy === 'cheap-charge' || strategy === 'peak-shave') ? cheapCells(buy, perDay) : null;
  const isCheapCharged = cheap && strategy === 'cheap-charge' && home.windows.length === 0 && fullWh > 0;
  const known = isCheapCharged && home.knowsTomorrow ? lacks(home, inputs) : null;
  const targets = isCheapCharged ? cheapTargets(cheap, known) : null;
  const kWh = (watts: number) => (watts * hours) / 1000;
  const days = Math.ceil(count / perDay);
  const [importByDayKWh, daysKnown] = [new Float64Array(days), new Uint8Array(days)];
  for (let day = 0; day < days; day++) {
    const [bought, cells] = [running.import, running.cellsKnown];
    const end = Math.min(count, (day + 1) * perDay);
    runCells(home, inputs, { times, cheap, targets }, running, written, day * perDay, end);
    importByDayKWh[day] = kWh(running.import - bought);
    daysKnown[day] = running.cellsKnown - cells >= 0.9 * perDay ? 1 : 0;
  }
  return {
    loadKWh: kWh(running.load),
    solarKWh: kWh(running.solar),
    importKWh: kWh(running.import),
    exportKWh: kWh(running.export),
    chargeKWh: kWh(running.charge),
    dischargeKWh: kWh(running.discharge) / (home.coupling === 'dc' ? home.efficiency : 1),
    heldBackKWh: kWh(running.heldBack),
    clippedKWh: kWh(running.clipped),
    gridToLoadKWh: home.hasGrid ? kWh(running.gridToLoad) : 0,
    gridOriginKWh: kWh(running.gridOrigin),
    unservedKWh: kWh(running.unserved),
    surplusUsedKWh: kWh(running.surplus),
    storeChangeKWh: (running.stored - begun) / 1000,
    importW: written.importW,
    exportW: written.exportW,
    importByDayKWh,
    daysKnown,
    hoursAbove: running.cellsAbove * hours,
    courses: written,
  };
}

// A number out of an object is boxed again in every cell by the compiler unless a sign says that it is one: a quarter of the time.
/* eslint-disable @typescript-eslint/no-unnecessary-type-conversion */
/** Runs some cells. A function of its own, called day by day, so that it is compiled once for all runs. */
function runCells(
  home: ModelHome,
  inputs: ModelInputs,
  { times, cheap, targets }: Plans,
  running: Running,
  written: Written,
  from: number,
  to: number,
): void {
  const { load, solar, stepMs, startMs, surplusLoad } = inputs;
  const { efficiency, chargeEfficiency, exportLimitW, hasGrid } = home;
  const { chargeW, dischargeW, gridChargeLimitW, trickleW, batteryOnlyW } = home;
  const { datedCharges, drawsWhenEmpty } = home;
  const { importW, exportW, spareW, unservedW, soc } = written;
  const idleW = +home.idleW;
  const inverterIdleW = +home.inverterIdleW;
  const acLimitW = +home.acLimitW;
  const cutOff = +home.cutOff;
  const fullWh = +home.fullWh;
  const hours = stepMs / 3_600_000;
  const hasCourses = soc.length > 0;
  const isDc = home.coupling === 'dc';
  const toAc = isDc ? +efficiency : 1;
  const storesAt = chargeEfficiency * toAc;
  // It multiplies where it can: a division takes as long as the rest of a cell.
  const perHour = 1 / hours;
  const roomPerWh = perHour / storesAt;
  const perFull = fullWh > 0 ? 1 / fullWh : 0;
  const isUsed = home.strategy !== 'none';
  const isPeakShaved = home.strategy === 'peak-shave' && cheap !== null;
  const ownWh = idleW * hours;
  let stored = +running.stored;
  let gridPart = +running.gridPart;
  let nextCharge = running.nextCharge;
  let loadSum = 0;
  let solarSum = 0;
  let importSum = 0;
  let exportSum = 0;
  let chargeSum = 0;
  let dischargeSum = 0;
  let heldSum = 0;
  let clippedSum = 0;
  let gridToLoadSum = 0;
  let gridOriginSum = 0;
  let unservedSum = 0;
  let surplusSum = 0;
  let above = 0;
  let known = 0;
  let target = 0;
  let windowW = Infinity;
  let floor = +home.reserve;
  for (let i = from; i < to; i++) {
    if (hasCourses) soc[i] = stored * perFull;
    const need = load[i]!;
    const sun = solar[i]!;
    if (need !== need || sun !== sun) {
      importW[i] = exportW[i] = NaN;
      if (hasCourses) spareW[i] = unservedW[i] = NaN;
      continue;
    }
    if (times !== null) {
      const slot = times.slotAt(startMs + i * stepMs);
      target = times.target[slot]!;
      floor = times.floor[slot]!;
      windowW = times.gridW[slot]!;
    }
    if (nextCharge < datedCharges.length) {
      const ms = startMs + i * stepMs;
      while (nextCharge < datedCharges.length && datedCharges[nextCharge]!.toMs <= ms) nextCharge++;
      const charge = datedCharges[nextCharge];
      const isUnder = charge !== undefined && charge.fromMs <= ms;
      if (times === null) target = 0;
      if (isUnder && charge.toSoc > target) {
        target = charge.toSoc;
        windowW = charge.chargeW;
      }
    } else if (times === null) target = 0;
    if (targets !== null) target = targets[i]!;
    const own = ownWh < stored ? ownWh : stored;
    const isAtFloor = stored - (home.drawsBelowReserve ? 0 : floor * fullWh) < own;
    const isFed = drawsWhenEmpty || !isAtFloor;
    const ownGrid = hasGrid && isAtFloor && isFed && fullWh > 0 ? idleW : 0;
    if (isFed && ownGrid === 0) stored -= own;
    const made = isDc || sun < acLimitW ? sun : acLimitW;
    clippedSum += sun - made;
    const forInverter = made < inverterIdleW ? made : inverterIdleW;
    const usable = made - forInverter;
    // AC that the sun gives the load, and what it leaves, on the arrays' side.
    const passed = isDc ? Math.min(usable * efficiency, acLimitW) : usable;
    const direct = need < passed ? need : passed;
    let spare = usable - (isDc ? direct / efficiency : direct);
    let charge = 0;
    if (isUsed && spare > 0) {
      charge = Math.min(spare, chargeW, Math.max(0, fullWh - stored) * roomPerWh);
      spare -= charge;
      stored += charge * storesAt * hours;
    }
    let extra = 0;
    if (surplusLoad !== null && spare > 0 && (fullWh === 0 || stored * perFull >= surplusLoad.aboveSoc)) {
      extra = Math.min(surplusLoad.watts, spare * toAc);
      spare -= extra / toAc;
    }
    let sold = 0;
    let lost = 0;
    if (spare > 0) {
      const spareAc = spare * toAc;
      const couldSell = isDc ? Math.min(spareAc, Math.max(0, acLimitW - direct - extra)) : spareAc;
      sold = hasGrid ? Math.min(couldSell, exportLimitW) : 0;
      lost = spare - sold / toAc;
      if (lost > 0) {
        if (isDc && couldSell < spareAc - 1e-9 && sold >= couldSell - 1e-9) clippedSum += lost;
        else heldSum += lost;
      } else lost = 0;
    }
    // What trickles in serves the load before the store does.
    const trickle = hasGrid ? Math.min(trickleW, need - direct) : 0;
    let open = need - direct - trickle;
    const isInWindow = target > 0;
    const isDrawn = isUsed && !isInWindow;
    const lowest = hasGrid && floor > cutOff ? floor : cutOff;
    const inverterWants = (inverterIdleW - forInverter) * efficiency;
    let inverterGiven = 0;
    let given = 0;
    if (isDrawn) {
      const inverterLeft = (stored - lowest * fullWh) * perHour;
      if (inverterLeft > 0) {
        inverterGiven = inverterWants < inverterLeft ? inverterWants : inverterLeft;
        stored -= inverterGiven * hours;
        const left = inverterLeft - inverterGiven;
        if (open > 0 && left > 0 && !(isPeakShaved && cheap[i] === 1)) {
          const limit = isDc ? Math.max(0, Math.min(dischargeW, acLimitW - direct)) : dischargeW;
          given = Math.min(open, limit, left);
          stored -= given * hours;
          open -= given;
        }
      }
    }
    let bought = 0;
    if (isInWindow && hasGrid && stored < target * fullWh) {
      const most = Math.max(0, Math.min(chargeW - charge, gridChargeLimitW - need, windowW));
      bought = Math.min(most, ((target * fullWh - stored) * perHour) / chargeEfficiency);
      stored += bought * chargeEfficiency * hours;
    }
    const takes = hasGrid ? open + bought + ownGrid + trickle + inverterWants - inverterGiven : 0;
    const unserved = hasGrid ? 0 : open;
    importW[i] = takes;
    exportW[i] = sold;
    if (hasCourses) {
      spareW[i] = spare * toAc;
      unservedW[i] = unserved;
    }
    if (bought > 0 || gridPart > 0) {
      const inWh = (charge * storesAt + bought * chargeEfficiency) * hours;
      if (inWh > 0 && stored > 0)
        gridPart = (gridPart * (stored - inWh) + bought * chargeEfficiency * hours) / stored;
      gridOriginSum += given * gridPart;
    }
    loadSum += need;
    solarSum += made - lost;
    importSum += takes;
    exportSum += sold;
    chargeSum += charge + bought;
    dischargeSum += given + inverterGiven;
    gridToLoadSum += open + trickle;
    unservedSum += unserved;
    surplusSum += extra;
    if (need > batteryOnlyW) above++;
    known++;
  }
  running.stored = stored;
  running.gridPart = gridPart;
  running.nextCharge = nextCharge;
  running.load += loadSum;
  running.solar += solarSum;
  running.import += importSum;
  running.export += exportSum;
  running.charge += chargeSum;
  running.discharge += dischargeSum;
  running.heldBack += heldSum;
  running.clipped += clippedSum;
  running.gridToLoad += gridToLoadSum;
  running.gridOrigin += gridOriginSum;
  running.unserved += unservedSum;
  running.surplus += surplusSum;
  running.cellsAbove += above;
  running.cellsKnown += known;
}
/* eslint-enable @typescript-eslint/no-unnecessary-type-conversion */

/** What a run goes by beside its home: times of the day, cheap cells, and how far each of them charges. */
interface Plans {
  readonly times: WantedTimes | null;
  readonly cheap: Uint8Array | null;
  readonly targets: Float64Array | null;
}

/** What the load lacks beyond the sun in each cell, Wh at the store; what the sun leaves counts by what of it is stored. */
function lacks(home: ModelHome, { load, solar, stepMs }: ModelInputs) {
  const hours = stepMs / 3_600_000;
  const toAc = home.coupling === 'dc' ? home.efficiency : 1;
  const lacksWh = new Float64Array(load.length);
  for (let i = 0; i < load.length; i++) {
    const lackW = load[i]! - solar[i]! * toAc;
    lacksWh[i] = (lackW > 0 ? lackW : Math.max(lackW, -home.chargeW) * home.chargeEfficiency) * hours;
  }
  return { lacksWh, fullWh: home.fullWh, floor: home.reserve };
}
