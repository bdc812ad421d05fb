import { notMeasured, type Figure, type WorkingLine } from '../../model/figure.js';
import { quantityText } from '../../model/quantity.js';
import type { Sums } from '../../passes/sums.js';
import {
  cancelledWithin,
  uncertaintyLines,
  combined,
  energyUncertainty,
  type Metered,
  withCancelled,
} from '../shared/uncertainty.js';
import {
  channelOf,
  coverageOf,
  gradeOf,
  hoursOf,
  unshapedOf,
  type RangeData,
} from '../../passes/rangeData.js';
import { METHODS } from './methods.js';

interface Total {
  readonly key: 'solar' | 'load' | 'import' | 'export' | 'charge' | 'discharge';
  readonly channel: Metered;
  readonly energyWh: (sums: Sums) => number;
  readonly onS: (sums: Sums) => number;
  readonly knownS: (sums: Sums) => number;
  readonly bring: string;
}

const TOTALS: readonly Total[] = [
  {
    key: 'solar',
    channel: 'solar',
    energyWh: (s) => s.solarWh,
    onS: (s) => s.solarOnS,
    knownS: (s) => s.solarS,
    bring: 'solar_w',
  },
  {
    key: 'load',
    channel: 'load',
    energyWh: (s) => s.loadWh,
    onS: (s) => s.loadS,
    knownS: (s) => s.loadS,
    bring: 'load_w',
  },
  {
    key: 'import',
    channel: 'grid',
    energyWh: (s) => s.importWh,
    onS: (s) => s.importOnS,
    knownS: (s) => s.gridS,
    bring: 'grid_w',
  },
  {
    key: 'export',
    channel: 'grid',
    energyWh: (s) => s.exportWh,
    onS: (s) => s.exportOnS,
    knownS: (s) => s.gridS,
    bring: 'grid_w',
  },
  {
    key: 'charge',
    channel: 'battery',
    energyWh: (s) => s.chargeWh,
    onS: (s) => s.chargeOnS,
    knownS: (s) => s.batteryS,
    bring: 'battery_w or battery_dc_w',
  },
  {
    key: 'discharge',
    channel: 'battery',
    energyWh: (s) => s.dischargeWh,
    onS: (s) => s.dischargeOnS,
    knownS: (s) => s.batteryS,
    bring: 'battery_w or battery_dc_w',
  },
];

/** Where nothing has a course nothing cancels. */
const NOTHING = { label: '', half: 0 };

/** Energies of the range, each on the intervals in which its own channel is known; never scaled up. */
export function totals(data: RangeData): Record<string, Figure> {
  return Object.fromEntries(TOTALS.map((total) => [`account.${total.key}`, totalFigure(data, total)]));
}

function totalFigure(
  data: RangeData,
  { key, channel: quantity, energyWh, onS, knownS, bring }: Total,
): Figure {
  const channel = channelOf(data, quantity);
  const shapeless = unshapedOf(data.lumps, key);
  const courseS = channel ? knownS(data.total) : 0;
  if (courseS === 0 && shapeless.seconds === 0) {
    return notMeasured(
      'kWh',
      METHODS.total,
      `The log has no ${quantity} power in this range; a column ${bring} would supply it.`,
    );
  }
  const courseWh = courseS > 0 ? energyWh(data.total) : 0;
  const wh = courseWh + shapeless.wh;
  const kWh = wh / 1000;
  const origin = channel?.origin ?? 'counter';
  const doubts =
    origin === 'known' ? [] : energyUncertainty(data, quantity, wh, courseS > 0 ? onS(data.total) : 0);
  const half = combined(doubts) / 1000;
  const cancelled = courseS > 0 ? cancelledWithin(data, quantity) : NOTHING;
  const bridgedH = hoursOf(data.total.bridgedS);
  const lumpLine = shapeless.seconds > 0;
  const evidence = {
    unit: 'kWh',
    method: METHODS.total,
    basis: {
      intervals: Math.round((courseS * 1000) / data.log.stepMs),
      coverage: coverageOf(data, courseS + shapeless.seconds),
      stepSeconds: data.log.stepMs / 1000,
      origin,
      sources: [...(channel?.sources ?? []), ...shapeless.sources],
      ...(bridgedH > 0 ? { bridgedHours: bridgedH } : {}),
      ...(lumpLine ? { shapelessKWh: shapeless.wh / 1000, shapelessHours: hoursOf(shapeless.seconds) } : {}),
    },
    working: [
      ...(courseS > 0
        ? ([
            {
              label: `mean ${key} over the time measured`,
              value: courseWh / hoursOf(courseS),
              unit: 'W',
              role: 'input',
            },
            { label: '× time measured', value: hoursOf(courseS), unit: 'h', role: 'input' },
          ] as const)
        : []),
      ...(lumpLine
        ? ([
            {
              label: `+ energy known, shape unknown, over ${Math.round(hoursOf(shapeless.seconds))} h`,
              value: shapeless.wh / 1000,
              unit: 'kWh',
              role: 'input',
            },
          ] as const)
        : []),
      { label: key, value: kWh, unit: 'kWh', role: 'result' },
      ...uncertaintyLines(withCancelled(doubts, cancelled), 1 / 1000, 'kWh'),
    ] satisfies WorkingLine[],
    assumptions: [
      ...(origin === 'derived'
        ? [
            `The ${quantityText(quantity)} is not logged: it is what ${channel!.sources.slice(0, -1).join(', ')} and ${channel!.sources.at(-1)} leave over.`,
          ]
        : []),
      ...(origin === 'known'
        ? [
            quantity === 'solar'
              ? 'The system has no panels, so solar is zero.'
              : 'The system has no grid, so grid power is zero.',
          ]
        : []),
      ...(lumpLine
        ? ['Totals and counter readings count here; figures that need the course of the day leave them out.']
        : []),
    ],
  } as const;
  // Energy of one direction cannot be below zero, whatever the meter's offset.
  const interval = {
    value: kWh,
    low: Math.min(kWh, Math.max(0, kWh - half)),
    high: kWh + Math.hypot(half, cancelled.half / 1000),
  };
  return gradeOf(data, quantity)(interval, evidence);
}
