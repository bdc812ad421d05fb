import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Method,
} from '../../model/figure.js';
import type { Finding } from '../../model/finding.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { lackOf } from '../shared/lacking.js';
import { priceSeries, worthOfExport } from '../shared/priceSeries.js';
import { frequencyFinding } from './frequencyShift.js';
import { lostSun, type LostEnergy, type LostSun } from './lostSun.js';

const PRACTICE = 'Common practice, no published source.';
const REBUILT =
  'What the sun would have given: the course of neighbouring days × how bright the day was around those hours. Common practice, no published source.';
export const CLIPPED: Method = {
  id: 'solar.clipped',
  formula: 'Σ (rebuilt solar − solar) while the inverter stood at its AC limit for two steps or more',
  source: REBUILT,
};
export const HELD_BACK: Method = {
  id: 'solar.held-back',
  formula:
    'Σ (rebuilt solar − solar) behind a full battery: nothing sold, the export limit reached, an island',
  source: REBUILT,
};
export const DC_GAIN: Method = {
  id: 'solar.dc-gain',
  formula:
    'Σ min(charge from solar, max(0, solar − what the inverter passes at its AC limit)) while it stands there',
  source: PRACTICE,
};
export const SURPLUS: Method = {
  id: 'solar.surplus',
  formula: 'solar held back + export that earned nothing',
  source: PRACTICE,
};
const UNTOLD =
  'For too many of those hours no neighbouring day shows what a free sun would have given. A longer range, with days on which the battery had room, would supply it.';
/** A gain is told from what three meters and the inverter's efficiency leave open. */
const GAIN_EFFICIENCY_OFF = 0.015;

/** Solar that was not made, what a battery on the DC side saved of it, and what another load could have had for nothing. */
export function solarFigures(data: RangeData, system: System): Record<string, Figure> {
  const lack = lackOf(data, ['solar']);
  const lost = lostSun(data, system);
  const all = (figure: (method: Method) => Figure) => ({
    'solar.clipped': figure(CLIPPED),
    'solar.dcGain': figure(DC_GAIN),
    'solar.heldBack': figure(HELD_BACK),
    'solar.surplus': figure(SURPLUS),
  });
  if (lack || !lost)
    return all((method) => notMeasured('kWh', method, lack ?? 'Solar is missing in this range.'));
  return {
    'solar.clipped': lost.limited.noClipping
      ? notMeasured('kWh', CLIPPED, lost.limited.noClipping)
      : energy(CLIPPED, lost.clipped, lost),
    'solar.dcGain': dcGain(data, lost),
    'solar.heldBack': heldBack(data, lost),
    'solar.surplus': surplus(data, lost, system),
  };
}

function energy(method: Method, lost: LostEnergy | null, { bias, deviation }: LostSun): Figure {
  if (!lost) return insufficient('kWh', method, UNTOLD);
  const [value, low, high] = [lost.wh / 1000, lost.low / 1000, lost.high / 1000];
  return estimated(
    { value, low, high },
    {
      unit: 'kWh',
      method,
      basis: { hours: lost.hours, aDayOff: deviation, skyOff: bias },
      working: [
        { label: 'at the limit', value: lost.hours, unit: 'h', role: 'input' },
        { label: 'rebuilt less made', value, unit: 'kWh', role: 'result' },
        {
          label: 'brightness of each day, and the sky’s model',
          value: (high - low) / 2,
          unit: 'kWh',
          role: 'uncertainty',
        },
      ],
      assumptions: [
        'A day’s sun follows the course of the twenty days before and after, as bright as it was around the hours at the limit.',
      ],
    },
  );
}

function heldBack(data: RangeData, lost: LostSun): Figure {
  if (!channelOf(data, 'soc'))
    return notMeasured(
      'kWh',
      HELD_BACK,
      'The log has no state of charge; soc_pct would show when the battery was full.',
    );
  return energy(HELD_BACK, lost.heldBack, lost);
}

function dcGain(data: RangeData, { limited }: LostSun): Figure {
  const isDc = data.parts.some(({ configuration }) => configuration.described?.coupling === 'dc');
  if (!isDc)
    return notMeasured(
      'kWh',
      DC_GAIN,
      'Only a battery on the DC side (coupling "dc") can take what its inverter cannot pass.',
    );
  if (Number.isNaN(limited.dcGainWh))
    return notMeasured(
      'kWh',
      DC_GAIN,
      'It needs the inverter’s continuous rating and the powers of battery, load and grid.',
    );
  const value = limited.dcGainWh / 1000;
  // What passes at the limit is known as well as the inverter's efficiency and the meter of the sun.
  const rated = data.parts.at(-1)!.configuration.limits.continuousW ?? 0;
  const half =
    (Math.hypot(GAIN_EFFICIENCY_OFF, data.accuracy.solar) * rated * limited.gainH) / 1000 +
    data.accuracy.battery * value;
  return measured(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'kWh',
      method: DC_GAIN,
      basis: { hours: limited.gainH },
      working: [
        {
          label: 'charging while the inverter stood at its AC limit',
          value: limited.gainH,
          unit: 'h',
          role: 'input',
        },
        { label: 'charged beyond what it passes', value, unit: 'kWh', role: 'result' },
        { label: 'meters and the inverter’s efficiency', value: half, unit: 'kWh', role: 'uncertainty' },
      ],
      assumptions: ['An AC-coupled battery could not have had this energy.'],
    },
  );
}

/** Held back, and sold for nothing. */
function surplus(data: RangeData, { heldBack: held }: LostSun, system: System): Figure {
  const { log, range, total } = data;
  const hasGrid = data.parts.some(({ configuration }) => configuration.hasGrid);
  const prices = hasGrid && total.exportWh > 0 ? priceSeries(log, system, range) : null;
  if (hasGrid && total.exportWh > 0 && !prices)
    return notMeasured(
      'kWh',
      SURPLUS,
      'Whether export earns anything is not described; a tariff in the system would tell.',
    );
  if (!held) return insufficient('kWh', SURPLUS, UNTOLD);
  const grid = channelOf(data, 'grid')?.values;
  let freeWh = 0;
  if (grid && prices) {
    const hours = log.stepMs / 3_600_000;
    for (let k = 0; k < prices.bill.length; k++) {
      const watts = grid[prices.fromCell + k]!;
      if (watts < 0 && worthOfExport(prices, k) <= 0) freeWh -= watts * hours;
    }
  }
  const value = (held.wh + freeWh) / 1000;
  const meter = (data.accuracy.grid * freeWh) / 1000;
  return estimated(
    {
      value,
      low: Math.max(0, value - Math.hypot(held.wh - held.low, 1000 * meter) / 1000),
      high: value + Math.hypot(held.high - held.wh, 1000 * meter) / 1000,
    },
    {
      unit: 'kWh',
      method: SURPLUS,
      basis: { heldBackHours: held.hours },
      working: [
        { label: 'held back', value: held.wh / 1000, unit: 'kWh', role: 'input' },
        { label: '+ exported at no income', value: freeWh / 1000, unit: 'kWh', role: 'input' },
        { label: 'surplus', value, unit: 'kWh', role: 'result' },
        { label: 'rebuilt sun', value: (held.high - held.low) / 2000, unit: 'kWh', role: 'uncertainty' },
        { label: 'grid meter', value: meter, unit: 'kWh', role: 'uncertainty' },
      ],
    },
  );
}

/** A loss below this share of solar is not worth a finding. */
const WORTH = 0.02;

/** Solar that was not made, where it is worth looking at. */
export function solarFindings(data: RangeData, system: System): Finding[] {
  const lost = lostSun(data, system);
  if (!lost) return frequencyFinding(data);
  const { range, total } = data;
  const of = (
    code: string,
    { wh, low, high, hours }: LostEnergy,
    what: string,
    remedy: string,
  ): Finding[] => {
    if (wh < WORTH * total.solarWh || low <= 0) return [];
    const kWh = (value: number) => Math.round(value / 1000);
    return [
      {
        code,
        severity: 'note',
        fromMs: range.fromMs,
        toMs: range.toMs,
        message: `About ${kWh(wh)} kWh of solar (${kWh(low)} to ${kWh(high)}) ${what} in ${Math.round(hours)} h. ${remedy}`,
        source: null,
        kWh: wh / 1000,
      },
    ];
  };
  return [
    ...(lost.clipped && !lost.limited.noClipping
      ? of(
          'solar-clipped',
          lost.clipped,
          'were clipped: the inverter stood at its AC limit',
          'A larger inverter, or a battery on the DC side, would have had a part of it.',
        )
      : []),
    ...(lost.heldBack
      ? of(
          'solar-held-back',
          lost.heldBack,
          'were held back behind a full battery',
          'A load that can wait for those hours would have had it for nothing.',
        )
      : []),
    ...frequencyFinding(data),
  ];
}
