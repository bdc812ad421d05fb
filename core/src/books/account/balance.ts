import { insufficient, measured, notMeasured, type Figure, type WorkingLine } from '../../model/figure.js';
import { FLOWS, type Flow } from '../../model/quantity.js';
import { knownTotals } from '../shared/knownTotals.js';
import { lackOf } from '../shared/lacking.js';
import {
  combined,
  energyUncertainty,
  halfDigit,
  percent,
  type Uncertainty,
  uncertaintyLines,
} from '../shared/uncertainty.js';
import {
  channelOf,
  configurationNames,
  gradeOf,
  coverageOf,
  storedChangeWh,
  type RangeData,
} from '../../passes/rangeData.js';
import { energyLine } from './evidence.js';
import { lossesOfTotals } from './fromTotals.js';
import { METHODS } from './methods.js';

/** Uncertainty of the usable capacity taken from the description: a battery ages, and nameplates are rounded. */
const CAPACITY_SHARE = 0.1;
const CAPACITY_ASSUMPTION = 'Usable capacity as described in the system, ±10 %; SOC 0–100 % spans it.';

/** Change in store, losses, closing error and its share. */
export function balance(data: RangeData): Record<string, Figure> {
  return {
    'account.storeChange': storeChange(data),
    'account.losses': losses(data),
    ...closing(data),
  };
}

function storeReason(data: RangeData): string | null {
  if (!data.log.channels.has('soc'))
    return 'The log has no state of charge; a column soc_pct would supply it.';
  if (data.parts.some(({ configuration, sums }) => sums.socS > 0 && configuration.usableWh === null)) {
    return 'The usable capacity is not known; describe modules, kWh each and usable share in the system.';
  }
  return null;
}

function storeChange(data: RangeData): Figure {
  const reason = storeReason(data);
  if (reason) return notMeasured('kWh', METHODS.storeChange, reason);
  const parts = data.parts.filter(({ sums }) => !Number.isNaN(sums.socFirst));
  if (parts.length === 0)
    return insufficient('kWh', METHODS.storeChange, 'State of charge is missing throughout this range.');
  let wh = 0;
  const working: WorkingLine[] = [];
  const doubts: Uncertainty[] = [];
  for (const { configuration, sums } of parts) {
    const { name, usableWh } = configuration;
    const change = (sums.socLast - sums.socFirst) * usableWh!;
    const of = parts.length > 1 ? `, ${name}` : '';
    wh += change;
    working.push(
      { label: `SOC at end${of}`, value: sums.socLast, unit: 'share', role: 'input' },
      { label: `− SOC at start${of}`, value: sums.socFirst, unit: 'share', role: 'input' },
      { label: `× usable capacity${of}`, value: usableWh! / 1000, unit: 'kWh', role: 'input' },
    );
    doubts.push(...storeDoubts(data, sums.socLast - sums.socFirst, usableWh!));
  }
  const half = combined(doubts) / 1000;
  const value = wh / 1000;
  return measured(
    { value, low: value - half, high: value + half },
    {
      unit: 'kWh',
      method: METHODS.storeChange,
      basis: { configurations: parts.map(({ configuration }) => configuration.name) },
      working: [
        ...working,
        { label: 'change in store', value, unit: 'kWh', role: 'result' },
        ...uncertaintyLines(doubts, 1 / 1000, 'kWh'),
      ],
      assumptions: [CAPACITY_ASSUMPTION],
    },
  );
}

/** How far a change in store may be off, in Wh: SOC at both ends, its last digit, and the capacity itself. */
function storeDoubts(data: RangeData, socChange: number, usableWh: number): Uncertainty[] {
  const digit = halfDigit(data.log.channels.get('soc'));
  return [
    {
      label: `SOC at both ends, ±${percent(data.accuracy.soc)} each`,
      half: Math.SQRT2 * data.accuracy.soc * usableWh,
    },
    { label: 'last digit of SOC at both ends', half: Math.SQRT2 * digit * usableWh },
    {
      label: `usable capacity, ±${percent(CAPACITY_SHARE)}`,
      half: CAPACITY_SHARE * Math.abs(socChange) * usableWh,
    },
  ];
}

function losses(data: RangeData): Figure {
  const totals = knownTotals(data, ['solar', 'load', 'import', 'export']);
  if (totals && totals.seconds > 1.5 * data.total.storeS && data.lumps.length > 0)
    return lossesOfTotals(data, totals, storeChange(data));
  const channels = (['solar', 'load', 'grid'] as const).map((quantity) => channelOf(data, quantity));
  const lack = lackOf(data, ['solar', 'load', 'grid']);
  if (lack) return notMeasured('kWh', METHODS.losses, lack);
  const reason = storeReason(data);
  if (reason) return notMeasured('kWh', METHODS.losses, reason);
  const { total } = data;
  if (total.storeS === 0) {
    return insufficient(
      'kWh',
      METHODS.losses,
      'In no interval are solar, load, grid and the change of SOC all known.',
    );
  }
  const storeWh = storedChangeWh(data, 'socChangeStore');
  const wh = total.solarStore + total.importStore - total.loadStore - total.exportStore - storeWh;
  const share = total.storeS / Math.max(1, total.gridS);
  const doubts = [
    ...energyUncertainty(data, 'solar', total.solarStore, total.solarOnS * share),
    ...energyUncertainty(data, 'load', total.loadStore, total.storeS),
    // One meter reads both directions of the grid: its gain acts on the difference.
    ...energyUncertainty(
      data,
      'grid',
      total.importStore - total.exportStore,
      (total.importOnS + total.exportOnS) * share,
    ),
    ...data.parts
      .filter(({ sums }) => sums.storeS > 0)
      .flatMap(({ configuration, sums }) => storeDoubts(data, sums.socChangeStore, configuration.usableWh!)),
  ];
  const half = combined(doubts) / 1000;
  const value = wh / 1000;
  const derived = channels.some((channel) => channel?.origin === 'derived');
  const line = energyLine;
  const evidence = {
    unit: 'kWh',
    method: METHODS.losses,
    basis: {
      coverage: coverageOf(data, total.storeS),
      intervals: Math.round((total.storeS * 1000) / data.log.stepMs),
      hours: total.storeS / 3600,
      configurations: configurationNames(data),
    },
    working: [
      line('solar', total.solarStore),
      line('+ import', total.importStore),
      line('− load', total.loadStore),
      line('− export', total.exportStore),
      line('− change in store', storeWh),
      line('losses', wh, 'result'),
      ...uncertaintyLines(doubts, 1 / 1000, 'kWh'),
    ],
    assumptions: [
      CAPACITY_ASSUMPTION,
      'Only intervals in which solar, load, grid and the change of SOC are all known.',
      ...(derived
        ? [
            'One flow is not logged: the account is closed by construction, so these are the battery’s losses alone.',
          ]
        : []),
    ],
  } as const;
  const interval = { value, low: value - half, high: value + half };
  return gradeOf(data, 'solar', 'load', 'grid')(interval, evidence);
}

function closing(data: RangeData): Record<string, Figure> {
  const totals = knownTotals(data, FLOWS);
  if (totals && totals.seconds > 1.5 * data.total.busS && data.lumps.length > 0)
    return closingOf(data, totals.wh, totals.seconds, 0);
  const flows = (['solar', 'grid', 'battery', 'load'] as const).map((quantity) => ({
    quantity,
    channel: channelOf(data, quantity),
  }));
  const derived = flows.find(({ channel }) => channel?.origin === 'derived');
  const reason =
    lackOf(data, ['solar', 'grid', 'battery', 'load']) ??
    (derived
      ? `Closed by construction: ${derived.quantity} is not logged but derived from the other three. A meter of its own would supply the closing error.`
      : null);
  if (reason) {
    return {
      'account.closingError': notMeasured('kWh', METHODS.closing, reason),
      'account.closingShare': notMeasured('share', METHODS.closingShare, reason),
    };
  }
  const { total } = data;
  if (total.busS === 0 || total.solarBus + total.importBus + total.dischargeBus <= 0) {
    const none = 'In no interval are solar, grid, battery and load all known and anything flowing.';
    return {
      'account.closingError': insufficient('kWh', METHODS.closing, none),
      'account.closingShare': insufficient('share', METHODS.closingShare, none),
    };
  }
  const bus: Record<Flow, number> = {
    solar: total.solarBus,
    load: total.loadBus,
    import: total.importBus,
    export: total.exportBus,
    charge: total.chargeBus,
    discharge: total.dischargeBus,
  };
  return closingOf(data, bus, total.busS, 1);
}

/**
 * The closing error of energies over the same time.
 * @param zero 1 where they are sums of powers, whose meters have a zero of their own; 0 for totals
 */
function closingOf(
  data: RangeData,
  flow: Readonly<Record<Flow, number>>,
  seconds: number,
  zero: 0 | 1,
): Record<string, Figure> {
  const { total } = data;
  const inflow = flow.solar + flow.import + flow.discharge;
  const wh = inflow - flow.load - flow.export - flow.charge;
  const doubts = [
    ...energyUncertainty(data, 'solar', flow.solar, zero * total.solarOnS),
    ...energyUncertainty(data, 'grid', flow.import - flow.export, zero * (total.importOnS + total.exportOnS)),
    ...energyUncertainty(
      data,
      'battery',
      flow.discharge - flow.charge,
      zero * (total.chargeOnS + total.dischargeOnS),
    ),
    ...energyUncertainty(data, 'load', flow.load, zero * total.busS),
  ];
  const half = combined(doubts);
  const line = energyLine;
  const solarOnDc = data.parts.some(({ configuration }) => configuration.described?.coupling === 'dc');
  const assumptions =
    data.batterySide === 'dc' || solarOnDc
      ? [
          'The battery or the solar is measured on the DC side: this difference contains the inverter’s conversion and idle draw and is not meter error alone.',
        ]
      : [];
  const basis = {
    coverage: coverageOf(data, seconds),
    ...(zero === 1
      ? { intervals: Math.round((seconds * 1000) / data.log.stepMs) }
      : { shapelessHours: seconds / 3600 }),
    batterySide: data.batterySide,
  };
  const sum = [
    line('solar', flow.solar),
    line('+ import', flow.import),
    line('+ discharge', flow.discharge),
    line('− load', flow.load),
    line('− export', flow.export),
    line('− charge', flow.charge),
  ];
  const kWh = wh / 1000;
  return {
    'account.closingError': measured(
      { value: kWh, low: kWh - half / 1000, high: kWh + half / 1000 },
      {
        unit: 'kWh',
        method: METHODS.closing,
        basis,
        working: [
          ...sum,
          { label: 'closing error', value: kWh, unit: 'kWh', role: 'result' },
          ...uncertaintyLines(doubts, 1 / 1000, 'kWh'),
        ],
        assumptions,
      },
    ),
    'account.closingShare': measured(
      { value: wh / inflow, low: (wh - half) / inflow, high: (wh + half) / inflow },
      {
        unit: 'share',
        method: METHODS.closingShare,
        basis,
        working: [
          line('closing error', wh),
          line('÷ solar + import + discharge', inflow),
          { label: 'closing share', value: wh / inflow, unit: 'share', role: 'result' },
          ...uncertaintyLines(doubts, 1 / inflow, 'share'),
        ],
        assumptions,
      },
    ),
  };
}
