import {
  countingTrials,
  coverageOfSource,
  extendPrepared,
  prepare,
  readingsLog,
  trialRecords,
  type Coverage,
  type Prepared,
  type Reading,
  type SourceLog,
} from '@long-tally/core';
import { correctionsOf } from '../db/corrections.js';
import { db, type Home } from '../db/database.js';
import { homeOf } from '../db/homes.js';
import { checkedRows, noteRow, readingRow, trialRow } from '../db/rows.js';
import { loadSources } from '../db/sources.js';
import type { At } from '../protocol.js';

/** A home as its worker holds it. */
export interface Opened {
  readonly home: Home;
  readonly stored: ReadonlyMap<number, SourceLog>;
  readonly prepared: Prepared | null;
  readonly readings: readonly Reading[];
  readonly coverage: readonly Coverage[];
}

let opened: Opened | null = null;
let opening: Promise<Opened> | null = null;

/** The prepared home as it is stored now, gone through again only when it has changed. */
export async function openHome(homeId: string): Promise<Opened> {
  const home = await homeOf(homeId);
  if (opened?.home.id === homeId && opened.home.revision === home.revision) return opened;
  opening ??= (async () => {
    try {
      // What is known of this home stays known: a month added to ten years is not ten years again.
      const before = opened?.home.id === homeId ? opened : null;
      const [stored, corrections, noteRows, readingRows, trialRows] = await Promise.all([
        loadSources(homeId, before?.stored),
        correctionsOf(homeId),
        db.journal.where('homeId').equals(homeId).toArray(),
        db.readings.where('homeId').equals(homeId).toArray(),
        db.trials.where('homeId').equals(homeId).toArray(),
      ]);
      const trials = trialRecords(countingTrials(checkedRows(trialRow, trialRows).good), home.system);
      const journal = checkedRows(noteRow, noteRows).good;
      const readings = checkedRows(readingRow, readingRows).good;
      const byHand = readingsLog(readings);
      const logs = [...stored.values(), ...(byHand ? [byHand] : [])];
      const isSameZone = before?.home.system.timeZone === home.system.timeZone;
      const covered = new Map(
        isSameZone ? [...before.stored.values()].map((log, i) => [log, before.coverage[i]!]) : [],
      );
      const fresh = () =>
        before?.prepared
          ? extendPrepared(before.prepared, home.system, logs, corrections, journal, trials)
          : prepare(home.system, logs, corrections, journal, trials);
      opened = {
        home,
        stored,
        readings,
        prepared: logs.length > 0 ? fresh() : null,
        coverage: logs.map((log) => covered.get(log) ?? coverageOfSource(log, home.system.timeZone)),
      };
      return opened;
    } finally {
      opening = null;
    }
  })();
  await opening;
  return openHome(homeId);
}

/** The home of an overview that was given before: no look into the store, which would cost more than the figures. */
export async function openAt({ homeId, revision }: At): Promise<Opened> {
  return opened?.home.id === homeId && opened.home.revision >= revision ? opened : openHome(homeId);
}
