import { estimated, insufficient, notMeasured, type Figure, type Method } from '../../model/figure.js';
import { knownTotals, type KnownTotals } from '../shared/knownTotals.js';
import { lackOf } from '../shared/lacking.js';
import { ASSUMED_C_RATE, type FullWindow } from '../../passes/fullWindows.js';
import { numbersOf } from '../../statistics/numbersOf.js';
import { bootstrapRatio } from '../../statistics/bootstrapRatio.js';
import { quantile } from '../../statistics/quantile.js';
import { combined, halfDigit, uncertaintyLines, zeroOf, type Uncertainty } from '../shared/uncertainty.js';
import {
  configurationNames,
  gradeOf,
  hoursOf,
  coverageOf,
  storedChangeWh,
  type RangeData,
} from '../../passes/rangeData.js';

const EQUAL_CHARGE =
  'Energy out ÷ energy in between equal states of charge, auxiliaries included: IEC 62933-2-1; PNNL-22010 (sections from memory).';

export const FULL_TO_FULL: Method = {
  id: 'round-trip.full-to-full',
  formula: 'Σ discharge ÷ Σ charge over windows from one true full charge to the next',
  source: `${EQUAL_CHARGE} Interval: bootstrap over windows, Efron & Tibshirani 1993.`,
};
export const COUNTER: Method = {
  id: 'round-trip.counter',
  formula: '(Σ discharge + change in store × √η) ÷ Σ charge',
  source: EQUAL_CHARGE,
};

/** One meter reads both directions, so its gain cancels; so much of its accuracy is left for their difference. */
export const DIRECTION_SHARE = 0.25;
/** No more windows than this tell what other days are like. */
const FEW_WINDOWS = 2;
/** Windows that move less than this share of the usable capacity are too small to have an efficiency of their own. */
export const QUARTILE_DEPTH = 0.05;
/** Change in store above which counters give no round trip, as a share of the energy charged. */
const MOST_CARRIED = 0.1;
/** What a store of unknown charge may hold more or less at the end, as a share of its capacity. */
const UNKNOWN_STORE = 0.8;
const CAPACITY_UNKNOWN =
  'The usable capacity is not known; describe modules, kWh each and usable share in the system.';

/** Round-trip efficiency by two methods, named by the side on which the battery is measured. */
export function roundTrip(data: RangeData): Record<string, Figure> {
  return {
    'losses.roundTrip.fullToFull': fullToFull(data),
    'losses.roundTrip.counter': counter(data),
  };
}

function fullToFull(data: RangeData): Figure {
  const lack = lackOf(data, ['battery', 'soc']);
  if (lack) return notMeasured('share', FULL_TO_FULL, lack);
  if (
    data.parts.every(
      ({ configuration }) => configuration.nameplateWh === null && configuration.maxChargeW === null,
    )
  ) {
    return notMeasured(
      'share',
      FULL_TO_FULL,
      'The battery’s size and power limits are not described in the system, so a true full charge cannot be recognised.',
    );
  }
  const { windows } = data;
  const chargeWh = sum(windows, (w) => w.chargeWh);
  const dischargeWh = sum(windows, (w) => w.dischargeWh);
  if (windows.length === 0 || chargeWh <= 0) {
    return insufficient(
      'share',
      FULL_TO_FULL,
      'There is no whole window between two true full charges (SOC at 99 % or more with the charging tapered off for 15 minutes). A longer range, or two full charges, would supply it.',
      { windows: windows.length },
    );
  }
  const value = dischargeWh / chargeWh;
  const onH = hoursOf(sum(windows, (w) => w.dischargeOnS) + value * sum(windows, (w) => w.chargeOnS));
  const doubts = meterDoubts(data, value, chargeWh, onH);
  const [low, high] =
    windows.length > 1
      ? bootstrapRatio(column(windows, 'dischargeWh'), column(windows, 'chargeWh'))
      : [value, value];
  const netting = nettingShare(data.log.stepMs);
  const usableWh = data.parts.at(-1)!.configuration.usableWh ?? 0;
  const own = numbersOf(
    windows.filter((w) => w.dischargeWh >= QUARTILE_DEPTH * usableWh && w.chargeWh > 0),
    (w) => w.dischargeWh / w.chargeWh,
  ).sort();
  const assumed = data.parts.some(
    ({ configuration: c }) => c.maxChargeW === null || c.maxDischargeW === null,
  );
  const graded = windows.length <= FEW_WINDOWS ? estimated : gradeOf(data, 'battery');
  return graded(
    {
      value,
      low: value - Math.hypot(combined(doubts), Math.max(0, value - low)),
      high: value + Math.hypot(combined(doubts), Math.max(0, high - value), netting),
    },
    {
      unit: 'share',
      method: FULL_TO_FULL,
      basis: {
        ...basisOf(data),
        windows: windows.length,
        ...(windows.length <= FEW_WINDOWS ? { speaksFor: 'these windows alone' } : {}),
        windowHours: sum(windows, (w) => (w.toMs - w.fromMs) / 3_600_000),
        ...(own.length > 0
          ? { quartile1: quantile(own, 0.25), median: quantile(own, 0.5), quartile3: quantile(own, 0.75) }
          : {}),
      },
      working: [
        {
          label: `discharge in ${windows.length} full-to-full windows`,
          value: dischargeWh / 1000,
          unit: 'kWh',
          role: 'input',
        },
        { label: '÷ charge, same windows', value: chargeWh / 1000, unit: 'kWh', role: 'input' },
        { label: `round trip, ${side(data)}`, value, unit: 'share', role: 'result' },
        { label: 'bootstrap over windows', value: (high - low) / 2, unit: 'share', role: 'uncertainty' },
        ...doubts.map(
          ({ label, half }) => ({ label, value: half, unit: 'share', role: 'uncertainty' }) as const,
        ),
        { label: 'netting within a step (reads low)', value: netting, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: [
        'Truly full: SOC ≥ 99 % after charging, with charge below 5 % and discharge below 2 % of the rating for 15 minutes.',
        ...(assumed
          ? [`Power limits are not described; ${ASSUMED_C_RATE} C of the nameplate is taken.`]
          : []),
        ...sideNote(data),
        ...(windows.length <= FEW_WINDOWS
          ? [
              `It speaks for ${windows.length === 1 ? 'this one window' : 'these two windows'} alone: one in which the battery mostly rests reads far lower than a year does.`,
            ]
          : []),
      ],
    },
  );
}

/** The counters' round trip of totals: what the store may hold more or less at the end bounds it. */
function counterOfTotals(data: RangeData, { wh, seconds }: KnownTotals): Figure {
  const { usableWh } = data.parts.at(-1)!.configuration;
  if (usableWh === null) return notMeasured('share', COUNTER, CAPACITY_UNKNOWN);
  const { socFirst, socLast } = data.total;
  const isKnown = !Number.isNaN(socFirst) && !Number.isNaN(socLast);
  const storeWh = isKnown ? (socLast - socFirst) * usableWh : 0;
  const storeHalf = (isKnown ? Math.SQRT2 * data.accuracy.soc : UNKNOWN_STORE) * usableWh;
  const carried = wh.charge > 0 ? Math.max(Math.abs(storeWh), storeHalf) / wh.charge : Infinity;
  if (carried > MOST_CARRIED)
    return insufficient(
      'share',
      COUNTER,
      `What the battery may hold more or less at the end is ${Math.round(100 * Math.min(carried, 99))} % of the energy charged; at most 10 % gives a figure. A longer range, or the state of charge at both ends, would supply it.`,
    );
  const value = withStore(wh.discharge, wh.charge, storeWh);
  const doubts: Uncertainty[] = [
    {
      label: 'battery meter, charge against discharge',
      half: DIRECTION_SHARE * data.accuracy.battery * value,
    },
    {
      label: isKnown ? 'SOC at both ends' : 'what the store may hold more or less at the end',
      half: (storeHalf * Math.sqrt(value)) / wh.charge,
    },
  ];
  const half = combined(doubts);
  return estimated(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'share',
      method: COUNTER,
      basis: {
        ...basisOf(data),
        storeShare: carried,
        coverage: coverageOf(data, seconds),
        shapelessHours: hoursOf(seconds),
      },
      working: [
        { label: 'discharge', value: wh.discharge / 1000, unit: 'kWh', role: 'input' },
        ...(isKnown
          ? [{ label: '+ change in store × √η', value: storeWh / 1000, unit: 'kWh', role: 'input' } as const]
          : []),
        { label: '÷ charge', value: wh.charge / 1000, unit: 'kWh', role: 'input' },
        { label: `round trip, ${side(data)}`, value, unit: 'share', role: 'result' },
        ...uncertaintyLines(doubts, 1, 'share'),
      ],
      assumptions: ['From totals: energies over the same time, without their course.', ...sideNote(data)],
    },
  );
}

/** (discharge + change in store × √η) ÷ charge, which holds η on both sides. */
function withStore(dischargeWh: number, chargeWh: number, storeWh: number): number {
  let value = dischargeWh / chargeWh;
  for (let i = 0; i < 30; i++) value = (dischargeWh + storeWh * Math.sqrt(Math.max(0, value))) / chargeWh;
  return value;
}

function counter(data: RangeData): Figure {
  const totals = knownTotals(data, ['charge', 'discharge']);
  if (totals && totals.seconds > 1.5 * data.total.cellS && data.lumps.length > 0)
    return counterOfTotals(data, totals);
  const lack = lackOf(data, ['battery', 'soc']);
  if (lack) return notMeasured('share', COUNTER, lack);
  if (data.parts.some(({ configuration, sums }) => sums.cellS > 0 && configuration.usableWh === null)) {
    return notMeasured('share', COUNTER, CAPACITY_UNKNOWN);
  }
  const { chargeCell, dischargeCell, chargeOnCellS, dischargeOnCellS } = data.total;
  const storeWh = storedChangeWh(data, 'socChangeCell');
  const carried = chargeCell > 0 ? Math.abs(storeWh) / chargeCell : Infinity;
  if (carried > MOST_CARRIED) {
    const found =
      chargeCell > 0
        ? `The store changes by ${Math.round(carried * 100)} % of the energy charged`
        : 'Nothing was charged';
    return insufficient(
      'share',
      COUNTER,
      `${found}; at most 10 % gives a figure. A longer range would supply it.`,
    );
  }
  const value = withStore(dischargeCell, chargeCell, storeWh);
  const usableWh = data.parts.at(-1)!.configuration.usableWh ?? 0;
  const digit = halfDigit(data.log.channels.get('soc'));
  const doubts: Uncertainty[] = [
    ...meterDoubts(data, value, chargeCell, hoursOf(dischargeOnCellS + value * chargeOnCellS)),
    {
      label: 'SOC at both ends',
      half: (Math.SQRT2 * Math.hypot(data.accuracy.soc, digit) * usableWh * Math.sqrt(value)) / chargeCell,
    },
  ];
  const netting = nettingShare(data.log.stepMs);
  return gradeOf(data, 'battery')(
    { value, low: value - combined(doubts), high: value + Math.hypot(combined(doubts), netting) },
    {
      unit: 'share',
      method: COUNTER,
      basis: {
        ...basisOf(data),
        storeShare: carried,
        coverage: coverageOf(data, data.total.cellS),
      },
      working: [
        { label: 'discharge', value: dischargeCell / 1000, unit: 'kWh', role: 'input' },
        { label: '+ change in store', value: storeWh / 1000, unit: 'kWh', role: 'input' },
        { label: '× √η', value: Math.sqrt(value), unit: 'share', role: 'step' },
        { label: '÷ charge', value: chargeCell / 1000, unit: 'kWh', role: 'input' },
        { label: `round trip, ${side(data)}`, value, unit: 'share', role: 'result' },
        ...doubts.map(
          ({ label, half }) => ({ label, value: half, unit: 'share', role: 'uncertainty' }) as const,
        ),
        { label: 'netting within a step (reads low)', value: netting, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: [
        'Half of the loss is taken to fall on charging, half on discharging (√η).',
        ...sideNote(data),
      ],
    },
  );
}

function meterDoubts(data: RangeData, value: number, chargeWh: number, onH: number): Uncertainty[] {
  const { accuracy } = data;
  const zeroW = zeroOf(data, 'battery');
  return [
    { label: 'battery meter, charge against discharge', half: DIRECTION_SHARE * accuracy.battery * value },
    { label: `battery meter, ±${Number(zeroW.toPrecision(2))} W zero`, half: (zeroW * onH) / chargeWh },
  ];
}

/**
 * Charge and discharge that alternate within a step cancel before they are logged, so the ratio reads low: in
 * simulation by 0.008 at 15 and 0.018 at 60 minutes, that is 0.0023 × √minutes.
 */
export function nettingShare(stepMs: number): number {
  return 0.0023 * Math.sqrt(stepMs / 60_000);
}

function side({ batterySide }: RangeData): string {
  return batterySide === 'dc' ? 'DC to DC' : 'AC to AC';
}

function sideNote({ batterySide }: RangeData): string[] {
  return batterySide === 'dc' ? ['Measured at the battery: the inverter’s losses are not in it.'] : [];
}

function basisOf(data: RangeData) {
  return { side: side(data), batterySide: data.batterySide, configurations: configurationNames(data) };
}

function column(windows: readonly FullWindow[], key: 'chargeWh' | 'dischargeWh'): Float64Array {
  return numbersOf(windows, (w) => w[key]);
}

function sum<T>(list: readonly T[], of: (item: T) => number): number {
  return list.reduce((total, item) => total + of(item), 0);
}
