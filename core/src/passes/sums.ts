/**
 * Sums of nothing: what one day under one configuration adds up to. Energies in Wh, times in s, SOC as shares.
 * `…Bus` are sums over intervals in which solar, load, grid and battery are all known, `…Store` over those in which
 * solar, load, grid and the change of SOC are, `…Cell` over those with battery and change of SOC, `…Meter` over those
 * with load and grid. Extremes and first times follow at the end, NaN where there is none.
 */
export function noSums() {
  // Written out, since an object put together from parts is many times slower to read.
  return {
    solarWh: 0,
    solarS: 0,
    solarOnS: 0,
    loadWh: 0,
    loadS: 0,
    importWh: 0,
    exportWh: 0,
    gridS: 0,
    importOnS: 0,
    exportOnS: 0,
    chargeWh: 0,
    dischargeWh: 0,
    batteryS: 0,
    chargeOnS: 0,
    dischargeOnS: 0,
    /** What would cancel of each direction if the step were twice as long. */
    gridCancels: 0,
    batteryCancels: 0,
    allS: 0,
    bridgedS: 0,
    overRatingCells: 0,
    solarBus: 0,
    loadBus: 0,
    importBus: 0,
    exportBus: 0,
    chargeBus: 0,
    dischargeBus: 0,
    busS: 0,
    solarToLoadBus: 0,
    dischargeToLoadBus: 0,
    solarToExportBus: 0,
    carriedLoadBus: 0,
    shortSolarBus: 0,
    shortDischargeBus: 0,
    gridChargedBus: 0,
    gridToLoadBus: 0,
    dischargeToExportBus: 0,
    /** By how much more each flow would be if the step were twice as long: what the steps hide of sun, load and battery. */
    solarToLoadDoubled: 0,
    solarToStoreDoubled: 0,
    solarToExportDoubled: 0,
    dischargeToLoadDoubled: 0,
    dischargeToExportDoubled: 0,
    gridToLoadDoubled: 0,
    gridChargedDoubled: 0,
    /** Sun, battery and grid at work together, so that only the difference of meters tells whose energy went where: what it can be at most, and what those meters read. */
    mixedBus: 0,
    mixedSolarBus: 0,
    mixedLoadBus: 0,
    mixedBatteryBus: 0,
    trickleBus: 0,
    trickleS: 0,
    /** Where the origin of what is stored is known: load, its parts, and what of the discharge to load was solar. */
    loadOrigin: 0,
    solarToLoadOrigin: 0,
    dischargeToLoadOrigin: 0,
    storedSolarToLoadOrigin: 0,
    gridToLoadOrigin: 0,
    originS: 0,
    /** Battery parked, no sun, the grid carrying the home: what comes in beside the load. */
    standbyWh: 0,
    standbyLoadWh: 0,
    standbyS: 0,
    solarStore: 0,
    loadStore: 0,
    importStore: 0,
    exportStore: 0,
    storeS: 0,
    socChangeStore: 0,
    chargeCell: 0,
    dischargeCell: 0,
    cellS: 0,
    socChangeCell: 0,
    chargeOnCellS: 0,
    dischargeOnCellS: 0,
    loadMeter: 0,
    importMeter: 0,
    meterS: 0,
    importOnMeterS: 0,
    socTime: 0,
    socS: 0,
    socMin: NaN,
    socMax: NaN,
    /** SOC at the start of the first and at the end of the last interval that knows it. */
    socFirst: NaN,
    socLast: NaN,
    peakLoadW: NaN,
    peakLoadMs: NaN,
    /** First instant at which the grid carried the home with the battery at its floor. */
    emptyMs: NaN,
    /** Highest load above the inverter's limit while the grid helped and the battery had charge. */
    overLimitW: NaN,
    overLimitMs: NaN,
    /** Highest power of one leg above what the inverter may give on it, and when. */
    overLegW: NaN,
    overLegMs: NaN,
    /** Battery power furthest beyond 1.1 × its rating, and when. */
    overRatingW: NaN,
    overRatingMs: NaN,
  };
}

/** Sums of one entry, with the extremes that do not add up. */
export type Sums = ReturnType<typeof noSums>;

/** Adds a later entry's sums to a running total, in place. Written out: a loop over the keys takes a hundred times as long. */
export function addSums(total: Sums, later: Sums): void {
  total.solarWh += later.solarWh;
  total.solarS += later.solarS;
  total.solarOnS += later.solarOnS;
  total.loadWh += later.loadWh;
  total.loadS += later.loadS;
  total.importWh += later.importWh;
  total.exportWh += later.exportWh;
  total.gridS += later.gridS;
  total.importOnS += later.importOnS;
  total.exportOnS += later.exportOnS;
  total.chargeWh += later.chargeWh;
  total.dischargeWh += later.dischargeWh;
  total.batteryS += later.batteryS;
  total.chargeOnS += later.chargeOnS;
  total.dischargeOnS += later.dischargeOnS;
  total.gridCancels += later.gridCancels;
  total.batteryCancels += later.batteryCancels;
  total.allS += later.allS;
  total.bridgedS += later.bridgedS;
  total.overRatingCells += later.overRatingCells;
  total.solarBus += later.solarBus;
  total.loadBus += later.loadBus;
  total.importBus += later.importBus;
  total.exportBus += later.exportBus;
  total.chargeBus += later.chargeBus;
  total.dischargeBus += later.dischargeBus;
  total.busS += later.busS;
  total.solarToLoadBus += later.solarToLoadBus;
  total.dischargeToLoadBus += later.dischargeToLoadBus;
  total.solarToExportBus += later.solarToExportBus;
  total.carriedLoadBus += later.carriedLoadBus;
  total.shortSolarBus += later.shortSolarBus;
  total.shortDischargeBus += later.shortDischargeBus;
  total.gridChargedBus += later.gridChargedBus;
  total.gridToLoadBus += later.gridToLoadBus;
  total.dischargeToExportBus += later.dischargeToExportBus;
  total.solarToLoadDoubled += later.solarToLoadDoubled;
  total.solarToStoreDoubled += later.solarToStoreDoubled;
  total.solarToExportDoubled += later.solarToExportDoubled;
  total.dischargeToLoadDoubled += later.dischargeToLoadDoubled;
  total.dischargeToExportDoubled += later.dischargeToExportDoubled;
  total.gridToLoadDoubled += later.gridToLoadDoubled;
  total.gridChargedDoubled += later.gridChargedDoubled;
  total.mixedBus += later.mixedBus;
  total.mixedSolarBus += later.mixedSolarBus;
  total.mixedLoadBus += later.mixedLoadBus;
  total.mixedBatteryBus += later.mixedBatteryBus;
  total.trickleBus += later.trickleBus;
  total.trickleS += later.trickleS;
  total.loadOrigin += later.loadOrigin;
  total.solarToLoadOrigin += later.solarToLoadOrigin;
  total.dischargeToLoadOrigin += later.dischargeToLoadOrigin;
  total.storedSolarToLoadOrigin += later.storedSolarToLoadOrigin;
  total.gridToLoadOrigin += later.gridToLoadOrigin;
  total.originS += later.originS;
  total.standbyWh += later.standbyWh;
  total.standbyLoadWh += later.standbyLoadWh;
  total.standbyS += later.standbyS;
  total.solarStore += later.solarStore;
  total.loadStore += later.loadStore;
  total.importStore += later.importStore;
  total.exportStore += later.exportStore;
  total.storeS += later.storeS;
  total.socChangeStore += later.socChangeStore;
  total.chargeCell += later.chargeCell;
  total.dischargeCell += later.dischargeCell;
  total.cellS += later.cellS;
  total.socChangeCell += later.socChangeCell;
  total.chargeOnCellS += later.chargeOnCellS;
  total.dischargeOnCellS += later.dischargeOnCellS;
  total.loadMeter += later.loadMeter;
  total.importMeter += later.importMeter;
  total.meterS += later.meterS;
  total.importOnMeterS += later.importOnMeterS;
  total.socTime += later.socTime;
  total.socS += later.socS;
  if (later.socMin < total.socMin || Number.isNaN(total.socMin)) total.socMin = later.socMin;
  if (later.socMax > total.socMax || Number.isNaN(total.socMax)) total.socMax = later.socMax;
  if (Number.isNaN(total.socFirst)) total.socFirst = later.socFirst;
  if (!Number.isNaN(later.socLast)) total.socLast = later.socLast;
  if (later.peakLoadW > total.peakLoadW || Number.isNaN(total.peakLoadW)) {
    total.peakLoadW = later.peakLoadW;
    total.peakLoadMs = later.peakLoadMs;
  }
  if (Number.isNaN(total.emptyMs)) total.emptyMs = later.emptyMs;
  if (later.overLimitW > total.overLimitW || Number.isNaN(total.overLimitW)) {
    total.overLimitW = later.overLimitW;
    total.overLimitMs = later.overLimitMs;
  }
  if (later.overLegW > total.overLegW || Number.isNaN(total.overLegW)) {
    total.overLegW = later.overLegW;
    total.overLegMs = later.overLegMs;
  }
  if (Math.abs(later.overRatingW) > Math.abs(total.overRatingW) || Number.isNaN(total.overRatingW)) {
    total.overRatingW = later.overRatingW;
    total.overRatingMs = later.overRatingMs;
  }
}

/** The cells [from, to) of a log; `end` is the first cell of the next configuration, across which SOC is not compared. */
export interface Cells {
  readonly from: number;
  readonly to: number;
  readonly end: number;
}
