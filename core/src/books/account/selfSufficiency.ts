import { insufficient, notMeasured, type Figure } from '../../model/figure.js';
import {
  cancelledWithin,
  combined,
  energyUncertainty,
  hiddenParts,
  zeroOf,
  type Uncertainty,
  type Metered,
  uncertaintyLines,
  withCancelled,
} from '../shared/uncertainty.js';
import { gradeOf, hoursOf, unshapedOf, unshapedTogether, type RangeData } from '../../passes/rangeData.js';
import { misplaced } from './flows.js';
import { knownTotals } from '../shared/knownTotals.js';
import { lackOf } from '../shared/lacking.js';
import { basisOf, carried, coarseNote, scaled } from './evidence.js';
import { selfConsumptionOfTotals } from './fromTotals.js';
import { gridPartDoubts, hiddenOfSupply, isByGrid, supplyByGrid } from './supplyByGrid.js';
import { METHODS } from './methods.js';

/** Three schools of self-sufficiency, and self-consumption. */
export function selfSufficiency(data: RangeData): Record<string, Figure> {
  return {
    'account.selfSufficiency.grid': byGrid(data),
    'account.selfSufficiency.supply': bySupply(data),
    'account.selfSufficiency.solar': bySolar(data),
    'account.selfConsumption': selfConsumption(data),
  };
}

function byGrid(data: RangeData): Figure {
  const method = METHODS.grid;
  const { importOnMeterS } = data.total;
  const together = unshapedTogether(data.lumps, ['load', 'import']);
  const lumped = { load: unshapedOf(together, 'load'), import: unshapedOf(together, 'import') };
  const loadMeter = data.total.loadMeter + lumped.load.wh;
  const importMeter = data.total.importMeter + lumped.import.wh;
  const meterS = data.total.meterS + lumped.load.seconds;
  const lacking = lackOf(data, ['load', 'grid']);
  if (lacking && lumped.load.seconds === 0) return notMeasured('share', method, lacking);
  if (meterS === 0 || loadMeter <= 0)
    return insufficient('share', method, 'In no interval are load and grid both known and load flowing.');
  const bought = importMeter / loadMeter;
  const doubts = [
    ...energyUncertainty(data, 'grid', importMeter, importOnMeterS).map((doubt) =>
      scaled(doubt, 1 / loadMeter),
    ),
    ...energyUncertainty(data, 'load', loadMeter, meterS).map((doubt) => scaled(doubt, bought / loadMeter)),
  ];
  const half = combined(doubts);
  const cancelled = scaled(cancelledWithin(data, 'grid'), 1 / loadMeter);
  const value = 1 - bought;
  return gradeOf(
    data,
    'load',
    'grid',
  )(
    {
      value,
      low: value - Math.hypot(half, cancelled.half),
      high: Math.max(value, Math.min(1, value + half)),
    },
    {
      unit: 'share',
      method,
      basis: {
        ...basisOf(data, meterS),
        ...(lumped.load.seconds > 0 ? { shapelessHours: hoursOf(lumped.load.seconds) } : {}),
      },
      working: [
        { label: 'import', value: importMeter / 1000, unit: 'kWh', role: 'input' },
        { label: '÷ load, same intervals', value: loadMeter / 1000, unit: 'kWh', role: 'input' },
        { label: 'share bought', value: bought, unit: 'share', role: 'step' },
        { label: '1 − share bought', value, unit: 'share', role: 'result' },
        ...uncertaintyLines(withCancelled(doubts, cancelled), 1, 'share'),
      ],
      assumptions: carried(data),
    },
  );
}

function bySupply(data: RangeData): Figure {
  const method = METHODS.supply;
  const flows: Metered[] = ['solar', 'load', 'battery', 'grid'];
  const lacking = lackOf(data, flows);
  if (lacking) return notMeasured('share', method, lacking);
  const { total } = data;
  if (total.busS === 0 || total.loadBus <= 0) {
    return insufficient(
      'share',
      method,
      'In no interval are solar, load, grid and battery all known and load flowing.',
    );
  }
  if (isByGrid(data)) return supplyByGrid(data);
  const load = total.loadBus;
  const value = Math.min(1, (total.solarToLoadBus + total.dischargeToLoadBus) / load);
  // Where solar and battery exceed the load the load itself is the supply and its meter cancels; elsewhere each meter counts.
  const { accuracy } = data;
  const zeroW = zeroOf(data, 'battery');
  const shortS = total.busS * (1 - total.carriedLoadBus / load);
  const doubts: Uncertainty[] = [
    {
      label: 'solar meter, where it does not cover the load',
      half: (accuracy.solar * total.shortSolarBus) / load,
    },
    {
      label: 'battery meter, where it does not cover the load',
      half: (accuracy.battery * total.shortDischargeBus) / load,
    },
    { label: 'load meter', half: accuracy.load * Math.abs(value - total.carriedLoadBus / load) },
    { label: 'battery meter, zero', half: (zeroW * hoursOf(shortS)) / load },
  ];
  const half = combined(doubts);
  const hidden = hiddenOfSupply(data);
  return gradeOf(data, ...flows)(
    {
      value,
      low: value - half - hidden.below,
      high: Math.max(value, Math.min(1, value + half + hidden.above)),
    },
    {
      unit: 'share',
      method,
      basis: basisOf(data, total.busS),
      working: [
        { label: 'solar to load', value: total.solarToLoadBus / 1000, unit: 'kWh', role: 'input' },
        { label: '+ discharge to load', value: total.dischargeToLoadBus / 1000, unit: 'kWh', role: 'input' },
        { label: '÷ load, same intervals', value: load / 1000, unit: 'kWh', role: 'input' },
        { label: 'share supplied', value, unit: 'share', role: 'result' },
        ...uncertaintyLines([...doubts, ...hiddenParts(hidden)], 1, 'share'),
      ],
      assumptions: [
        'In each interval solar serves the load first, then the store, then the grid (common practice).',
        ...(total.gridChargedBus > 0
          ? [
              `${(total.gridChargedBus / 1000).toFixed(1)} kWh were charged from the grid and count as own supply here.`,
            ]
          : []),
        ...coarseNote(data),
        ...carried(data),
      ],
    },
  );
}

function bySolar(data: RangeData): Figure {
  const method = METHODS.solar;
  const flows: Metered[] = ['solar', 'load', 'battery', 'grid'];
  const lacking = lackOf(data, flows);
  if (lacking) return notMeasured('share', method, lacking);
  if (lackOf(data, ['soc']) || data.parts.every(({ configuration }) => configuration.usableWh === null))
    return notMeasured(
      'share',
      method,
      'The origin of the stored energy needs the state of charge and the usable capacity; a column soc_pct and the battery’s description would supply them.',
    );
  const { loadOrigin, solarToLoadOrigin, dischargeToLoadOrigin, storedSolarToLoadOrigin } = data.total;
  const { gridToLoadOrigin, originS } = data.total;
  if (originS === 0 || loadOrigin <= 0)
    return insufficient(
      'share',
      method,
      'The store has not been turned over once yet, so the origin of what it holds is not known; a longer log would supply it.',
    );
  const fromGrid = dischargeToLoadOrigin - storedSolarToLoadOrigin;
  const byGrid = isByGrid(data);
  const own = byGrid
    ? Math.max(0, loadOrigin - gridToLoadOrigin - fromGrid)
    : solarToLoadOrigin + storedSolarToLoadOrigin;
  const value = Math.min(1, own / loadOrigin);
  const { total, accuracy } = data;
  const carriedShare = total.loadBus > 0 ? total.carriedLoadBus / total.loadBus : 0;
  const supplied: Uncertainty[] = [
    {
      label: 'solar meter, where it does not cover the load',
      half: (accuracy.solar * total.shortSolarBus) / Math.max(1, total.loadBus),
    },
    {
      label: 'battery meter, where it does not cover the load',
      half: (accuracy.battery * total.shortDischargeBus) / Math.max(1, total.loadBus),
    },
    { label: 'load meter', half: accuracy.load * Math.abs(value - carriedShare) },
  ];
  const doubts: Uncertainty[] = [
    ...(byGrid ? gridPartDoubts(data, (gridToLoadOrigin * total.loadBus) / loadOrigin) : supplied),
    {
      label: 'mix of the store: meters of solar and battery, capacity ±10 %',
      half: Math.hypot(accuracy.solar, accuracy.battery, 0.1) * (fromGrid / loadOrigin),
    },
  ];
  const half = combined(doubts);
  const hidden = hiddenOfSupply(data);
  const leftOut = withFirstTurnover(data, byGrid) - value;
  return gradeOf(data, ...flows)(
    {
      value,
      low: value - half - hidden.below + Math.min(0, leftOut),
      high: Math.max(value, Math.min(1, value + half + hidden.above + Math.max(0, leftOut))),
    },
    {
      unit: 'share',
      method,
      basis: { ...basisOf(data, originS), gridThroughBatteryKWh: fromGrid / 1000 },
      working: [
        ...(byGrid
          ? ([
              { label: 'load', value: loadOrigin / 1000, unit: 'kWh', role: 'input' },
              { label: '− grid to load', value: gridToLoadOrigin / 1000, unit: 'kWh', role: 'input' },
              { label: '− of grid origin, discharged', value: fromGrid / 1000, unit: 'kWh', role: 'input' },
            ] as const)
          : ([
              { label: 'solar to load', value: solarToLoadOrigin / 1000, unit: 'kWh', role: 'input' },
              { label: 'discharge to load', value: dischargeToLoadOrigin / 1000, unit: 'kWh', role: 'step' },
              {
                label: '+ of it of solar origin',
                value: storedSolarToLoadOrigin / 1000,
                unit: 'kWh',
                role: 'input',
              },
            ] as const)),
        { label: '÷ load, same intervals', value: loadOrigin / 1000, unit: 'kWh', role: 'input' },
        { label: 'share of solar origin', value, unit: 'share', role: 'result' },
        ...uncertaintyLines(
          [
            ...doubts,
            ...hiddenParts(hidden),
            ...(leftOut === 0
              ? []
              : [
                  {
                    label: 'the first turnover, which is left out',
                    half: Math.abs(leftOut),
                    side: leftOut < 0 ? ('below' as const) : ('above' as const),
                  },
                ]),
          ],
          1,
          'share',
        ),
      ],
      assumptions: [
        'Charge mixes with what is stored in proportion, discharge takes the mix as it is; losses fall on both alike.',
        'The first turnover of the store is left out.',
        ...coarseNote(data),
        ...carried(data),
      ],
    },
  );
}

/** The share over all intervals, were the store's mix of the first turnover that of the rest. */
function withFirstTurnover({ total }: RangeData, byGrid: boolean): number {
  const { loadBus, dischargeToLoadBus, dischargeToLoadOrigin, storedSolarToLoadOrigin } = total;
  const mix = dischargeToLoadOrigin > 0 ? storedSolarToLoadOrigin / dischargeToLoadOrigin : 1;
  const own = byGrid
    ? Math.max(0, loadBus - total.gridToLoadBus - (1 - mix) * dischargeToLoadBus)
    : total.solarToLoadBus + mix * dischargeToLoadBus;
  return Math.min(1, own / loadBus);
}

function selfConsumption(data: RangeData): Figure {
  const method = METHODS.selfConsumption;
  const totals = knownTotals(data, ['solar', 'export']);
  if (totals && totals.seconds > 1.5 * data.total.busS && data.lumps.length > 0 && totals.wh.solar > 0)
    return selfConsumptionOfTotals(data, totals);
  const flows: Metered[] = ['solar', 'load', 'battery', 'grid'];
  const lacking = lackOf(data, flows);
  if (lacking) return notMeasured('share', method, lacking);
  const { total } = data;
  if (total.busS === 0 || total.solarBus <= 0) {
    return insufficient(
      'share',
      method,
      'There is no solar energy in intervals in which all four flows are known.',
    );
  }
  const exported = Math.min(1, total.solarToExportBus / total.solarBus);
  const doubts = [
    ...energyUncertainty(data, 'grid', total.solarToExportBus, total.exportOnS).map((doubt) =>
      scaled(doubt, 1 / total.solarBus),
    ),
    ...misplaced(data).map((doubt) => scaled(doubt, 1 / total.solarBus)),
    ...energyUncertainty(data, 'solar', total.solarBus, total.solarOnS).map((doubt) =>
      scaled(doubt, exported / total.solarBus),
    ),
  ];
  const half = combined(doubts);
  const value = 1 - exported;
  return gradeOf(data, ...flows)(
    {
      value,
      low: Math.min(value, Math.max(0, value - half)),
      high: Math.max(value, Math.min(1, value + half)),
    },
    {
      unit: 'share',
      method,
      basis: basisOf(data, total.busS),
      working: [
        { label: 'solar', value: total.solarBus / 1000, unit: 'kWh', role: 'input' },
        { label: '− solar exported', value: total.solarToExportBus / 1000, unit: 'kWh', role: 'input' },
        { label: 'self-consumption', value, unit: 'share', role: 'result' },
        ...uncertaintyLines(doubts, 1, 'share'),
      ],
      assumptions: ['What is lost in the battery counts as consumed at home.', ...coarseNote(data)],
    },
  );
}
