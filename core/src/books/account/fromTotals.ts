import { estimated, notMeasured, type Figure } from '../../model/figure.js';
import { configurationNames, coverageOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import type { KnownTotals } from '../shared/knownTotals.js';
import {
  combined,
  energyUncertainty,
  percent,
  uncertaintyLines,
  type Uncertainty,
} from '../shared/uncertainty.js';
import { energyLine } from './evidence.js';
import { METHODS } from './methods.js';

/** What a store of unknown charge may hold more or less at the end, as a share of its capacity: any charge may follow any. */
const UNKNOWN_STORE = 0.8;

/**
 * Losses of a range whose flows are known as totals: what is stored is not, but cannot exceed the store.
 * @param store its change, where the charge is known at both ends
 */
export function lossesOfTotals(data: RangeData, { wh, seconds }: KnownTotals, store: Figure): Figure {
  const { usableWh } = data.parts.at(-1)!.configuration;
  const isBatteryless = data.parts.every(
    ({ configuration: { described } }) => described?.battery?.modules === 0,
  );
  if (usableWh === null && !isBatteryless) {
    return notMeasured(
      'kWh',
      METHODS.losses,
      'The usable capacity is not known, so neither is what the battery may hold more or less at the end; describe modules, kWh each and usable share in the system.',
    );
  }
  const isKnown = store.value !== null;
  const storeWh = isKnown ? store.value * 1000 : 0;
  const storeHalf = isKnown ? (store.high! - store.value) * 1000 : UNKNOWN_STORE * (usableWh ?? 0);
  const doubts = [
    ...energyUncertainty(data, 'solar', wh.solar, 0).slice(0, 1),
    ...energyUncertainty(data, 'load', wh.load, 0).slice(0, 1),
    ...energyUncertainty(data, 'grid', wh.import - wh.export, 0).slice(0, 1),
    {
      label: isKnown
        ? 'change in store'
        : `what the battery may hold more or less, ${percent(UNKNOWN_STORE)} of its capacity`,
      half: storeHalf,
    },
  ];
  const half = combined(doubts) / 1000;
  const lossWh = wh.solar + wh.import - wh.load - wh.export - storeWh;
  const value = lossWh / 1000;
  return estimated(
    { value, low: value - half, high: value + half },
    {
      unit: 'kWh',
      method: METHODS.losses,
      basis: {
        coverage: coverageOf(data, seconds),
        hours: seconds / 3600,
        shapelessHours: seconds / 3600,
        configurations: configurationNames(data),
      },
      working: [
        energyLine('solar', wh.solar),
        energyLine('+ import', wh.import),
        energyLine('− load', wh.load),
        energyLine('− export', wh.export),
        ...(isKnown ? [energyLine('− change in store', storeWh)] : []),
        energyLine('losses', lossWh, 'result'),
        ...uncertaintyLines(doubts, 1 / 1000, 'kWh'),
      ],
      assumptions: [
        'From totals: energies over the same time, without their course.',
        ...(isKnown ? [] : ['The charge at both ends is not known; the interval holds what the store can.']),
      ],
    },
  );
}

/** From totals all that is exported is taken for solar, of which no more can leave than came. */
export function selfConsumptionOfTotals(data: RangeData, { wh, seconds }: KnownTotals): Figure {
  const exported = Math.min(1, wh.export / wh.solar);
  const value = 1 - exported;
  const doubts: Uncertainty[] = [
    { label: 'grid meter', half: data.accuracy.grid * exported },
    { label: 'solar meter', half: data.accuracy.solar * exported },
  ];
  const half = combined(doubts);
  return estimated(
    { value, low: Math.max(0, value - half), high: Math.min(1, value + half) },
    {
      unit: 'share',
      method: METHODS.selfConsumption,
      basis: { coverage: coverageOf(data, seconds), shapelessHours: hoursOf(seconds) },
      working: [
        { label: 'solar', value: wh.solar / 1000, unit: 'kWh', role: 'input' },
        { label: '− export', value: wh.export / 1000, unit: 'kWh', role: 'input' },
        { label: 'self-consumption', value, unit: 'share', role: 'result' },
        ...uncertaintyLines(doubts, 1, 'share'),
      ],
      assumptions: [
        'From totals: whatever was exported is taken for solar; a battery that sells would make it higher.',
        'What is lost in the battery counts as consumed at home.',
      ],
    },
  );
}
