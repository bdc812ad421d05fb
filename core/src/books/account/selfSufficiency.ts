import { insufficient, notMeasured, type Figure } from '../../model/figure.js';
import {
  combined,
  energyDoubts,
  zeroOf,
  type Doubt,
  type Metered,
  doubtLines,
} from '../shared/uncertainty.js';
import {
  channelOf,
  coverageOf,
  gradeOf,
  hoursOf,
  lumpsOf,
  lumpsTogether,
  storeWhOf,
  type View,
} from '../../passes/rangeData.js';
import { METHODS } from './methods.js';

/** Three schools of self-sufficiency, and self-consumption. */
export function selfSufficiency(view: View): Record<string, Figure> {
  return {
    'account.selfSufficiency.grid': byGrid(view),
    'account.selfSufficiency.supply': bySupply(view),
    'account.selfSufficiency.solar': bySolar(view),
    'account.selfConsumption': selfConsumption(view),
  };
}

function byGrid(view: View): Figure {
  const method = METHODS.grid;
  const { importOnMeterS } = view.total;
  const together = lumpsTogether(view.lumps, ['load', 'import']);
  const lumped = { load: lumpsOf(together, 'load'), import: lumpsOf(together, 'import') };
  const loadMeter = view.total.loadMeter + lumped.load.wh;
  const importMeter = view.total.importMeter + lumped.import.wh;
  const meterS = view.total.meterS + lumped.load.seconds;
  const lacking = lack(view, ['load', 'grid']);
  if (lacking && lumped.load.seconds === 0) return notMeasured('share', method, lacking);
  if (meterS === 0 || loadMeter <= 0)
    return insufficient('share', method, 'In no interval are load and grid both known and load flowing.');
  const bought = importMeter / loadMeter;
  const doubts = [
    ...energyDoubts(view, 'grid', importMeter, importOnMeterS).map((doubt) => scaled(doubt, 1 / loadMeter)),
    ...energyDoubts(view, 'load', loadMeter, meterS).map((doubt) => scaled(doubt, bought / loadMeter)),
  ];
  const half = combined(doubts);
  const value = 1 - bought;
  return gradeOf(
    view,
    'load',
    'grid',
  )(
    { value, low: value - half, high: Math.max(value, Math.min(1, value + half)) },
    {
      unit: 'share',
      method,
      basis: {
        ...basisOf(view, meterS),
        ...(lumped.load.seconds > 0 ? { shapelessHours: hoursOf(lumped.load.seconds) } : {}),
      },
      working: [
        { label: 'import', value: importMeter / 1000, unit: 'kWh', role: 'input' },
        { label: '÷ load, same intervals', value: loadMeter / 1000, unit: 'kWh', role: 'input' },
        { label: 'share bought', value: bought, unit: 'share', role: 'step' },
        { label: '1 − share bought', value, unit: 'share', role: 'result' },
        ...doubtLines(doubts, 1, 'share'),
      ],
      assumptions: carried(view),
    },
  );
}

function bySupply(view: View): Figure {
  const method = METHODS.supply;
  const flows: Metered[] = ['solar', 'load', 'battery', 'grid'];
  const lacking = lack(view, flows);
  if (lacking) return notMeasured('share', method, lacking);
  const { total } = view;
  if (total.busS === 0 || total.loadBus <= 0) {
    return insufficient(
      'share',
      method,
      'In no interval are solar, load, grid and battery all known and load flowing.',
    );
  }
  const load = total.loadBus;
  const value = Math.min(1, (total.solarToLoadBus + total.dischargeToLoadBus) / load);
  // Where solar and battery exceed the load the load itself is the supply and its meter cancels; elsewhere each meter counts.
  const { accuracy } = view;
  const zeroW = zeroOf(view, 'battery');
  const shortS = total.busS * (1 - total.carriedLoadBus / load);
  const doubts: Doubt[] = [
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
  return gradeOf(view, ...flows)(
    { value, low: value - half, high: Math.max(value, Math.min(1, value + half)) },
    {
      unit: 'share',
      method,
      basis: basisOf(view, total.busS),
      working: [
        { label: 'solar to load', value: total.solarToLoadBus / 1000, unit: 'kWh', role: 'input' },
        { label: '+ discharge to load', value: total.dischargeToLoadBus / 1000, unit: 'kWh', role: 'input' },
        { label: '÷ load, same intervals', value: load / 1000, unit: 'kWh', role: 'input' },
        { label: 'share supplied', value, unit: 'share', role: 'result' },
        ...doubtLines(doubts, 1, 'share'),
      ],
      assumptions: [
        'In each interval solar serves the load first, then the store, then the grid (common practice).',
        ...(total.gridChargedBus > 0
          ? [
              `${(total.gridChargedBus / 1000).toFixed(1)} kWh were charged from the grid and count as own supply here.`,
            ]
          : []),
        ...coarseNote(view),
        ...carried(view),
      ],
    },
  );
}

function bySolar(view: View): Figure {
  const method = METHODS.solar;
  const flows: Metered[] = ['solar', 'load', 'battery', 'grid'];
  const lacking = lack(view, flows);
  if (lacking) return notMeasured('share', method, lacking);
  if (
    !view.log.channels.has('soc') ||
    view.parts.every(({ configuration }) => configuration.usableWh === null)
  )
    return notMeasured(
      'share',
      method,
      'The origin of the stored energy needs the state of charge and the usable capacity; a column soc_pct and the battery’s description would supply them.',
    );
  const { loadOrigin, solarToLoadOrigin, dischargeToLoadOrigin, storedSolarToLoadOrigin, originS } =
    view.total;
  if (originS === 0 || loadOrigin <= 0)
    return insufficient(
      'share',
      method,
      'The store has not been turned over once yet, so the origin of what it holds is not known; a longer log would supply it.',
    );
  const value = Math.min(1, (solarToLoadOrigin + storedSolarToLoadOrigin) / loadOrigin);
  const fromGrid = dischargeToLoadOrigin - storedSolarToLoadOrigin;
  const { total, accuracy } = view;
  const carriedShare = total.loadBus > 0 ? total.carriedLoadBus / total.loadBus : 0;
  const doubts: Doubt[] = [
    {
      label: 'solar meter, where it does not cover the load',
      half: (accuracy.solar * total.shortSolarBus) / Math.max(1, total.loadBus),
    },
    {
      label: 'battery meter, where it does not cover the load',
      half: (accuracy.battery * total.shortDischargeBus) / Math.max(1, total.loadBus),
    },
    { label: 'load meter', half: accuracy.load * Math.abs(value - carriedShare) },
    {
      label: 'mix of the store: meters of solar and battery, capacity ±10 %',
      half: Math.hypot(accuracy.solar, accuracy.battery, 0.1) * (fromGrid / loadOrigin),
    },
  ];
  const half = combined(doubts);
  return gradeOf(view, ...flows)(
    { value, low: value - half, high: Math.max(value, Math.min(1, value + half)) },
    {
      unit: 'share',
      method,
      basis: { ...basisOf(view, originS), gridThroughBatteryKWh: fromGrid / 1000 },
      working: [
        { label: 'solar to load', value: solarToLoadOrigin / 1000, unit: 'kWh', role: 'input' },
        { label: 'discharge to load', value: dischargeToLoadOrigin / 1000, unit: 'kWh', role: 'step' },
        {
          label: '+ of it of solar origin',
          value: storedSolarToLoadOrigin / 1000,
          unit: 'kWh',
          role: 'input',
        },
        { label: '÷ load, same intervals', value: loadOrigin / 1000, unit: 'kWh', role: 'input' },
        { label: 'share of solar origin', value, unit: 'share', role: 'result' },
        ...doubtLines(doubts, 1, 'share'),
      ],
      assumptions: [
        'Charge mixes with what is stored in proportion, discharge takes the mix as it is; losses fall on both alike.',
        'The first turnover of the store is left out.',
        ...coarseNote(view),
        ...carried(view),
      ],
    },
  );
}

function selfConsumption(view: View): Figure {
  const method = METHODS.selfConsumption;
  const flows: Metered[] = ['solar', 'load', 'battery', 'grid'];
  const lacking = lack(view, flows);
  if (lacking) return notMeasured('share', method, lacking);
  const { total } = view;
  if (total.busS === 0 || total.solarBus <= 0) {
    return insufficient(
      'share',
      method,
      'There is no solar energy in intervals in which all four flows are known.',
    );
  }
  const exported = Math.min(1, total.solarToExportBus / total.solarBus);
  const doubts = [
    ...energyDoubts(view, 'grid', total.solarToExportBus, total.exportOnS).map((doubt) =>
      scaled(doubt, 1 / total.solarBus),
    ),
    ...energyDoubts(view, 'solar', total.solarBus, total.solarOnS).map((doubt) =>
      scaled(doubt, exported / total.solarBus),
    ),
  ];
  const half = combined(doubts);
  const value = 1 - exported;
  return gradeOf(view, ...flows)(
    {
      value,
      low: Math.min(value, Math.max(0, value - half)),
      high: Math.max(value, Math.min(1, value + half)),
    },
    {
      unit: 'share',
      method,
      basis: basisOf(view, total.busS),
      working: [
        { label: 'solar', value: total.solarBus / 1000, unit: 'kWh', role: 'input' },
        { label: '− solar exported', value: total.solarToExportBus / 1000, unit: 'kWh', role: 'input' },
        { label: 'self-consumption', value, unit: 'share', role: 'result' },
        ...doubtLines(doubts, 1, 'share'),
      ],
      assumptions: ['What is lost in the battery counts as consumed at home.', ...coarseNote(view)],
    },
  );
}

function lack(view: View, quantities: readonly Metered[]): string | null {
  const missing = quantities.filter((quantity) => !channelOf(view, quantity));
  return missing.length > 0
    ? `The log has no ${missing.join(' and no ')} power; it would have to be logged.`
    : null;
}

function basisOf(view: View, seconds: number) {
  return {
    coverage: coverageOf(view, seconds),
    intervals: Math.round((seconds * 1000) / view.log.stepMs),
    stepSeconds: view.log.stepMs / 1000,
  };
}

function coarseNote({ log }: View): string[] {
  return log.stepMs >= 1_800_000
    ? ['Steps of 30 minutes and more hide import and export that both happened within one.']
    : [];
}

/** In a short range the store may carry over more than a tenth of the load from before, or to after. */
function carried(view: View): string[] {
  const { total } = view;
  const storeWh = storeWhOf(view, 'socChangeStore');
  if (Math.abs(storeWh) <= 0.1 * total.loadWh) return [];
  const direction = storeWh < 0 ? 'was stored before this range' : 'stays in store at its end';
  return [
    `The change in store exceeds 10 % of the load: ${Math.abs(storeWh / 1000).toFixed(1)} kWh ${direction}.`,
  ];
}

function scaled({ label, half }: Doubt, factor: number): Doubt {
  return { label, half: half * Math.abs(factor) };
}
