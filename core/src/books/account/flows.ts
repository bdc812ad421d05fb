import { lackOf } from '../shared/lacking.js';
import { counterOf } from '../../import/merge/flows.js';
import { insufficient, notMeasured, type Figure, type Method } from '../../model/figure.js';
import {
  combined,
  energyUncertainty,
  hiddenParts,
  hiddenWithin,
  type Metered,
  type Uncertainty,
  uncertaintyLines,
} from '../shared/uncertainty.js';
import { channelOf, coverageOf, gradeOf, type RangeData } from '../../passes/rangeData.js';
import type { Sums } from '../../passes/sums.js';

const SOURCE =
  'In each interval solar serves the load, then the store, then the grid; discharge serves the load, then the grid; the grid serves the rest. Common practice, no published source.';

/** The flows of the account, by the two ends of each: which meters it leans on, and how much it is. */
const FLOWS: readonly (readonly [
  key: string,
  what: string,
  meters: readonly Metered[],
  wh: (data: RangeData) => number,
  doubled: keyof Sums & `${string}Doubled`,
])[] = [
  ['solarToLoad', 'solar to load', ['solar'], ({ total }) => total.solarToLoadBus, 'solarToLoadDoubled'],
  [
    'solarToStore',
    'solar to store',
    ['battery'],
    ({ total }) => Math.max(0, total.chargeBus - total.gridChargedBus),
    'solarToStoreDoubled',
  ],
  [
    'solarToExport',
    'solar to export',
    ['grid'],
    ({ total }) => total.solarToExportBus,
    'solarToExportDoubled',
  ],
  [
    'storeToLoad',
    'store to load',
    ['battery'],
    // Lines between ticks meet the load less closely than the meters would: what is not sold is used.
    (data) =>
      channelOf(data, 'battery')!.counter
        ? data.total.dischargeBus - data.total.dischargeToExportBus
        : data.total.dischargeToLoadBus,
    'dischargeToLoadDoubled',
  ],
  [
    'storeToExport',
    'store to export',
    ['battery'],
    ({ total }) => total.dischargeToExportBus,
    'dischargeToExportDoubled',
  ],
  [
    'gridToLoad',
    'grid to load',
    ['grid', 'battery'],
    ({ total }) => total.gridToLoadBus,
    'gridToLoadDoubled',
  ],
  ['gridToStore', 'grid to store', ['battery'], ({ total }) => total.gridChargedBus, 'gridChargedDoubled'],
];

const NEEDED: readonly Metered[] = ['solar', 'load', 'grid', 'battery'];

/** How a flow is computed. */
export function flowMethod(key: string): Method {
  const [, what] = FLOWS.find(([name]) => name === key)!;
  return { id: `account.flow-${key}`, formula: `Σ ${what}, interval by interval`, source: SOURCE };
}

/** So many digits a day the lines between a counter's ticks may put into the wrong flow (in simulation up to 0.7). */
const MISPLACED_DIGITS = 1;

/** How far a flow may be off by the counters it was split from, Wh. */
export function misplaced(data: RangeData): Uncertainty[] {
  const { counter } = counterOf(NEEDED.flatMap((quantity) => channelOf(data, quantity) ?? []));
  if (!counter) return [];
  const days = data.total.busS / 86_400;
  const half = MISPLACED_DIGITS * counter.digitWh * days;
  return [{ label: `counters, last digit of ${counter.digitWh / 1000} kWh, once a day`, half }];
}

/** The flows of which part goes on while sun, battery and grid are at work together. */
const MIXED = ['solarToExport', 'storeToExport', 'gridToLoad', 'gridToStore'];

/** How far such a flow may be off by that: no further than by what the meters of sun, load and battery err, Wh. */
export function mixedDoubts({ total, accuracy }: RangeData): Uncertainty[] {
  const { mixedBus, mixedSolarBus, mixedLoadBus, mixedBatteryBus } = total;
  if (mixedBus === 0) return [];
  const byMeters = Math.hypot(
    accuracy.solar * mixedSolarBus,
    accuracy.load * mixedLoadBus,
    accuracy.battery * mixedBatteryBus,
  );
  return [
    { label: 'sun, battery and grid at work together: their meters', half: Math.min(mixedBus, byMeters) },
  ];
}

/** Where each source went, solar first. */
export function flows(data: RangeData): Record<string, Figure> {
  const lack = lackOf(data, NEEDED);
  return Object.fromEntries(
    FLOWS.map(([key, what, meters, whOf, doubled]) => {
      const method = flowMethod(key);
      const name = `account.flow.${key}`;
      if (lack) return [name, notMeasured('kWh', method, lack)];
      const { busS } = data.total;
      if (busS === 0) return [name, insufficient('kWh', method, 'In no interval are all four flows known.')];
      const wh = whOf(data);
      // The gain of the meters it leans on; a meter's zero falls on whatever flow is left over and is told there.
      const { gridChargedBus } = data.total;
      const doubts = [
        ...meters.flatMap((meter) =>
          energyUncertainty(
            data,
            meter,
            key !== 'gridToLoad' ? wh : meter === 'grid' ? wh + gridChargedBus : gridChargedBus,
            0,
          ).slice(0, 1),
        ),
        ...(MIXED.includes(key) ? mixedDoubts(data) : []),
        ...misplaced(data),
      ];
      const hidden = hiddenWithin(data.total[doubled]);
      const half = combined(doubts) / 1000;
      const value = wh / 1000;
      return [
        name,
        gradeOf(data, ...NEEDED)(
          {
            value,
            low: Math.max(0, value - half - hidden.below / 1000),
            high: value + half + hidden.above / 1000,
          },
          {
            unit: 'kWh',
            method,
            basis: { coverage: coverageOf(data, busS), stepSeconds: data.log.stepMs / 1000 },
            working: [
              { label: `${what}, in intervals that know all four flows`, value, unit: 'kWh', role: 'result' },
              ...uncertaintyLines([...doubts, ...hiddenParts(hidden)], 1 / 1000, 'kWh'),
            ],
            assumptions:
              data.log.stepMs >= 1_800_000
                ? ['Steps of 30 minutes or more hide flows that both happened within one.']
                : [],
          },
        ),
      ];
    }),
  );
}
