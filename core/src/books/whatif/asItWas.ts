import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import type { RangeData } from '../../passes/rangeData.js';
import { modelHome } from './modelHome.js';
import { outagesOf, survivalOf } from './scenarioSurvival.js';
import {
  KEYS,
  modelOf,
  PER_LOAD,
  valuesOf,
  WHATIF_KEYS,
  type Values,
  type WhatifKey,
} from './scenarioValues.js';

/**
 * What the model gives where each stretch of a range is run with the configuration that it had: how far the model itself
 * lies from the log, which a home that changed within the range does not show when it is run as it is at its end.
 * @returns null where the configuration did not change, or a stretch cannot be modelled
 */
export function valuesAsItWas(prepared: Prepared, { configurations, range }: RangeData): Values | null {
  const changes = configurations
    .map(({ fromMs }) => fromMs)
    .filter((ms) => ms > range.fromMs && ms < range.toMs);
  if (changes.length === 0) return null;
  const edges = [range.fromMs, ...changes, range.toMs];
  const stretches: { values: Values; loadKWh: number; days: number }[] = [];
  for (let k = 0; k + 1 < edges.length; k++) {
    const data = rangeDataOf(prepared, { fromMs: edges[k]!, toMs: edges[k + 1]! });
    const home = data.days.length > 0 ? modelHome(data) : null;
    if (!home) return null;
    const model = modelOf(prepared, data, home);
    const modelled = model.run({});
    stretches.push({
      values: valuesOf(model, modelled, survivalOf(outagesOf(model, modelled))),
      loadKWh: modelled.run.loadKWh,
      days: data.days.length,
    });
  }
  const loadKWh = stretches.reduce((sum, one) => sum + one.loadKWh, 0);
  const days = stretches.reduce((sum, one) => sum + one.days, 0);
  const weightOf = (key: WhatifKey, one: (typeof stretches)[number]) => {
    if (PER_LOAD.includes(key)) return one.loadKWh / loadKWh;
    // Of a life each stretch takes its own part, as it does of energies and money; other shares are of the time.
    return WHATIF_KEYS[key] === 'share' && key !== 'wear.damage' ? one.days / days : 1;
  };
  return Object.fromEntries(
    KEYS.map((key) => [key, stretches.reduce((sum, one) => sum + weightOf(key, one) * one.values[key], 0)]),
  ) as Values;
}
