import type {
  Appliance,
  Column,
  Correction,
  Finding,
  JournalNote,
  UnshapedEnergy,
  Mapping,
  Offer,
  Quantity,
  Reading,
  ReportLayout,
  ScenarioFile,
  System,
  TrialFile,
} from '@long-tally/core';
import Dexie, { type EntityTable, type Table } from 'dexie';

/** What was changed of a home, and when. */
export interface Change {
  readonly atMs: number;
  readonly says: string;
}

/** A home: its description as last saved. `revision` grows with every change of it or of its sources. */
export interface Home {
  readonly id: string;
  readonly system: System;
  readonly revision: number;
  readonly addedAt: number;
  /** When its book was last saved, and at which revision; null when it never was. */
  readonly savedAt: number | null;
  readonly savedRevision: number | null;
  /** What was changed, the oldest first. */
  readonly changes?: readonly Change[];
}

/** What was read from one text of a file. The file itself and its columns stand in tables of their own. */
export interface Source {
  readonly id: number;
  readonly homeId: string;
  /** Name of the text: the file's own, or of a part of it. */
  readonly name: string;
  readonly fileName: string;
  readonly bytes: number;
  /** SHA-256 of the file; null for one stored before it was taken. */
  readonly hash: string | null;
  /** The source under whose id the file is kept, for several texts of one file. */
  readonly fileOf: number;
  readonly importedAt: number;
  /** When it was taken out of the figures; its data stay until it is deleted for good. */
  readonly removedAt: number | null;
  /** How it was read; null for a canonical log. */
  readonly mapping: Mapping | null;
  readonly rows: number;
  readonly startMs: number;
  readonly stepMs: number;
  readonly count: number;
  readonly firstLine?: number | undefined;
  readonly columns: readonly (Omit<Column, 'values'> & { readonly quantity: Quantity })[];
  readonly lumps: readonly UnshapedEnergy[];
  readonly findings: readonly Finding[];
}

/** A mapping that was used in a home, to be offered for the next file of its shape. */
export interface RememberedMapping {
  readonly homeId: string;
  readonly shape: string;
  /** As its owner left it. */
  readonly mapping: Mapping;
  /** As it was recognised then, and what of it was asked; null where that is not known. */
  readonly proposed: Mapping | null;
  readonly asked: readonly string[];
  readonly usedAt: number;
}

/** The file as it came. */
export interface RawFile {
  readonly sourceId: number;
  readonly file: Blob;
}

/** One quantity of one source in one calendar month (UTC); `from` is the first cell it holds. */
export interface Chunk {
  readonly sourceId: number;
  readonly quantity: Quantity;
  readonly month: string;
  readonly from: number;
  readonly values: Float64Array;
}

/** A correction the user has made, with what moved them to it. */
export interface StoredCorrection {
  readonly id: number;
  readonly homeId: string;
  readonly correction: Correction;
  readonly reason: string;
  readonly madeAt: number;
}

/** A finding the user has seen and set aside. */
export interface Dismissal {
  readonly homeId: string;
  readonly key: string;
}

/** A note of the journal as stored. */
export interface StoredNote extends JournalNote {
  readonly id: number;
  readonly homeId: string;
}

/** Counters read by hand, as stored. */
export interface StoredReading extends Reading {
  readonly id: number;
  readonly homeId: string;
}

/** A trial as it is run and kept: every reading as it was typed, those struck out among them. */
export interface StoredTrial {
  readonly id: number;
  readonly homeId: string;
  readonly file: TrialFile;
  /** Places of readings that do not count. */
  readonly struck: readonly number[];
  readonly state: 'running' | 'paused' | 'done' | 'abandoned';
  readonly madeAt: number;
}

/** The appliances of a home, of which combinations are held against its limits. */
export interface StoredAppliances {
  readonly homeId: string;
  readonly appliances: readonly Appliance[];
}

/** Offers of batteries that a home compares. */
export interface StoredOffers {
  readonly homeId: string;
  readonly offers: readonly Offer[];
}

/** What-if scenarios that are kept with a home. */
export interface StoredScenarios {
  readonly homeId: string;
  readonly scenarios: readonly ScenarioFile[];
}

/** How the report of a home was last set out. */
export interface StoredLayout {
  readonly homeId: string;
  readonly layout: ReportLayout;
}

/** A folder of this machine in which the book of a home is kept up to date. */
export interface StoredFolder {
  readonly homeId: string;
  readonly handle: FileSystemDirectoryHandle;
}

/** A picture of a display, beside the reading of a trial at that place. */
export interface StoredPicture {
  readonly id: number;
  readonly homeId: string;
  readonly trialId: number;
  readonly place: number;
  readonly name: string;
  readonly picture: Blob;
  readonly addedAt: number;
}

export type Database = Dexie & {
  homes: EntityTable<Home, 'id'>;
  sources: EntityTable<Source, 'id'>;
  files: EntityTable<RawFile, 'sourceId'>;
  chunks: Table<Chunk, [number, string, string]>;
  homeMappings: Table<RememberedMapping, [string, string]>;
  corrections: EntityTable<StoredCorrection, 'id'>;
  dismissals: Table<Dismissal, [string, string]>;
  journal: EntityTable<StoredNote, 'id'>;
  readings: EntityTable<StoredReading, 'id'>;
  trials: EntityTable<StoredTrial, 'id'>;
  appliances: EntityTable<StoredAppliances, 'homeId'>;
  attachments: EntityTable<StoredPicture, 'id'>;
  offers: EntityTable<StoredOffers, 'homeId'>;
  scenarios: EntityTable<StoredScenarios, 'homeId'>;
  layouts: EntityTable<StoredLayout, 'homeId'>;
  folders: EntityTable<StoredFolder, 'homeId'>;
};

/** The browser's own database of everything that was imported. */
export const db = new Dexie('long-tally') as Database;
db.version(1).stores({
  homes: 'id',
  sources: '++id, homeId',
  files: 'sourceId',
  chunks: '[sourceId+quantity+month], sourceId',
});

// Version 2: energies without a course, parts of files, mappings, sources taken out but kept, corrections, the journal.
db.version(2)
  .stores({
    mappings: 'shape',
    corrections: '++id, homeId',
    dismissals: '[homeId+key], homeId',
    journal: '++id, homeId',
    readings: '++id, homeId',
  })
  .upgrade((transaction) =>
    transaction
      .table<Source>('sources')
      .toCollection()
      .modify((source: Source) => {
        Object.assign(source, {
          lumps: [],
          mapping: null,
          removedAt: null,
          fileOf: source.id,
          fileName: source.name,
        });
      }),
  );

/** A mapping as version 2 kept it: of no home. */
interface SharedMapping {
  readonly shape: string;
  readonly mapping: Mapping;
  readonly usedAt: number;
}

// Version 3: mappings belong to a home, files are known by their contents, homes remember when their book was saved.
db.version(3)
  .stores({ homeMappings: '[homeId+shape], homeId' })
  .upgrade(async (transaction) => {
    const shared = await transaction.table<SharedMapping>('mappings').toArray();
    const sources = await transaction.table<Source>('sources').toArray();
    // A mapping goes to the homes that have a source read through it.
    const owned = shared.flatMap(({ shape, mapping, usedAt }): RememberedMapping[] => {
      const text = JSON.stringify(mapping);
      const homes = sources.filter((source) => JSON.stringify(source.mapping) === text);
      return [...new Set(homes.map(({ homeId }) => homeId))].map((homeId) => ({
        homeId,
        shape,
        mapping,
        proposed: null,
        asked: [],
        usedAt,
      }));
    });
    await transaction.table<RememberedMapping>('homeMappings').bulkPut(owned);
    await transaction
      .table<Source>('sources')
      .toCollection()
      .modify((source: Source) => {
        Object.assign(source, { hash: null });
      });
    await transaction
      .table<Home>('homes')
      .toCollection()
      .modify((home: Home) => {
        Object.assign(home, { savedAt: null, savedRevision: null });
      });
  });
db.version(4).stores({ mappings: null });

// Version 5: trials.
db.version(5).stores({ trials: '++id, homeId' });

// Version 6: appliances, pictures beside the readings of trials, and offers.
db.version(6).stores({ appliances: 'homeId', attachments: '++id, homeId, trialId', offers: 'homeId' });

// Version 7: scenarios, layouts of reports, and folders in which books are kept up to date.
db.version(7).stores({ scenarios: 'homeId', layouts: 'homeId', folders: 'homeId' });
