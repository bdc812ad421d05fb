import { endMs } from '../../model/log.js';
import type { Outage } from '../../passes/outages.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import type { RangeData } from '../../passes/rangeData.js';
import { configurationAt, type Configuration } from '../../system/configuration.js';
import { homeStorage, type HomeStorage } from '../shared/homeStorage.js';
import { expectedOf, type Expected } from './expectedRuntime.js';

/** An interruption with what could be expected of it, where the battery it met is described. */
export type ToldOutage = Outage & { readonly expected: Expected | null };

/** The interruptions of a range, each set against what the battery it met, as measured over its time, let expect. */
export function toldOutages(prepared: Prepared, { outages, accuracy }: RangeData): ToldOutage[] {
  const { log, columns, configurations } = prepared;
  const storages = new Map<Configuration, HomeStorage | null>();
  return outages.map((outage) => {
    const configuration = configurationAt(configurations, outage.fromMs);
    let storage = storages.get(configuration);
    if (storage === undefined) {
      const fromMs = Math.max(log.startMs, configuration.fromMs);
      const toMs = Math.min(endMs(log), configuration.toMs);
      storage = homeStorage(rangeDataOf(prepared, { fromMs, toMs }));
      storages.set(configuration, storage);
    }
    return {
      ...outage,
      expected: storage && expectedOf(log, columns, outage, storage, accuracy.load),
    };
  });
}
