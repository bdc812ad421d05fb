import { describe, expect, test } from '@jest/globals';
import { checkSystem, type System } from '@long-tally/core';
import Dexie from 'dexie';
import { saveAppliances } from './appliances.js';
import { addPicture } from './attachments.js';
import { db } from './database.js';
import { homeOf, removeHome } from './homes.js';
import { sourcesOf } from './sources.js';
import { removeTrial } from './trials.js';

const SYSTEM: System = checkSystem(
  {
    schema: 'long-tally/system@1',
    name: 'Mill Lane',
    timeZone: 'Pacific/Auckland',
    configurations: [{ from: '2022-03-01T00:00:00+13:00', battery: { modules: 2, moduleKWh: 5.12 } }],
  },
  'system',
);

describe('an upgrade', () => {
  const OLD = {
    homes: 'id',
    sources: '++id, homeId',
    files: 'sourceId',
    chunks: '[sourceId+quantity+month], sourceId',
  };
  const TWO = {
    ...OLD,
    mappings: 'shape',
    corrections: '++id, homeId',
    dismissals: '[homeId+key], homeId',
    journal: '++id, homeId',
    readings: '++id, homeId',
  };
  const source = () => ({
    homeId: 'h',
    importedAt: 1,
    name: 'log.csv',
    bytes: 9,
    rows: 1,
    startMs: 0,
    stepMs: 1,
    count: 1,
    columns: [],
    findings: [],
  });

  async function storeOf(version: number, stores: Record<string, string>): Promise<Dexie> {
    db.close();
    await Dexie.delete('long-tally');
    const old = new Dexie('long-tally');
    old.version(version).stores(stores);
    return old.open();
  }

  test('from the first version keeps everything', async () => {
    const old = await storeOf(1, OLD);
    await old.table('homes').add({ id: 'h', system: SYSTEM, revision: 3, addedAt: 1 });
    await old.table('sources').add(source());
    old.close();
    await db.open();
    expect(await sourcesOf('h')).toMatchObject([
      {
        name: 'log.csv',
        fileName: 'log.csv',
        fileOf: 1,
        hash: null,
        removedAt: null,
        mapping: null,
        lumps: [],
      },
    ]);
    expect(await homeOf('h')).toMatchObject({ revision: 3, savedAt: null });
  });

  const mapping = {
    schema: 'long-tally/mapping@1',
    table: { separator: ',', decimal: '.', headerLine: 1, skipLines: 0 },
    time: { columns: ['Time'], format: 'ymd', zone: 'UTC', marks: 'start' },
    columns: [{ column: 'Load', quantity: 'load', unit: 'kW', sign: 1, kind: 'power' }],
  };
  const second = async () => {
    const old = await storeOf(2, TWO);
    await old
      .table('homes')
      .bulkAdd(['a', 'b'].map((id) => ({ id, system: SYSTEM, revision: 1, addedAt: 1 })));
    await old.table('sources').bulkAdd([
      { ...source(), homeId: 'a', mapping, removedAt: null, fileOf: 1, fileName: 'log.csv', lumps: [] },
      { ...source(), homeId: 'b', mapping: null, removedAt: null, fileOf: 2, fileName: 'log.csv', lumps: [] },
    ]);
    await old.table('mappings').add({ shape: 's', mapping, usedAt: 5 });
    await old
      .table('journal')
      .add({ homeId: 'a', fromMs: 1, toMs: 2, kind: 'test', text: '', leaveOut: false });
    old.close();
  };

  test('from the second gives each remembered mapping to the home that used it', async () => {
    await second();
    await db.open();
    expect(await db.homeMappings.toArray()).toMatchObject([{ homeId: 'a', shape: 's', mapping, usedAt: 5 }]);
    expect([(await sourcesOf('a')).length, (await sourcesOf('b')).length, await db.journal.count()]).toEqual([
      1, 1, 1,
    ]);
  });

  test('from the fifth keeps the trials, and has room for their pictures and for appliances', async () => {
    const old = await storeOf(5, {
      ...TWO,
      homeMappings: '[homeId+shape], homeId',
      trials: '++id, homeId',
    });
    await old
      .table('homes')
      .add({ id: 'h', system: SYSTEM, revision: 3, addedAt: 1, savedAt: null, savedRevision: null });
    await old.table('trials').add({
      homeId: 'h',
      file: { schema: 'long-tally/trial@1', kind: 'idle', readings: [] },
      struck: [],
      state: 'done',
      madeAt: 1,
    });
    old.close();
    await db.open();
    const [trial] = await db.trials.toArray();
    await addPicture(trial!, 0, new File([Uint8Array.of(0xff, 0xd8, 0xff, 0)], 'display.png'));
    await saveAppliances('h', [
      { name: 'kettle', watts: 2200, startFactor: 1, essential: false, canWait: true },
    ]);
    expect(
      (await db.attachments.toArray()).map(({ place, name, picture }) => [place, name, picture.type]),
    ).toEqual([[0, 'display.png', 'image/jpeg']]);
    await removeTrial(trial!);
    expect([await db.attachments.count(), (await homeOf('h')).revision]).toEqual([0, 4]);
    await removeHome('h');
    expect([await db.appliances.count(), await db.trials.count()]).toEqual([0, 0]);
  });

  test('that is cut off leaves the version before whole', async () => {
    await second();
    const cut = new Dexie('long-tally');
    cut.version(2).stores(TWO);
    cut
      .version(3)
      .stores({ homeMappings: '[homeId+shape], homeId' })
      .upgrade(async (transaction) => {
        await transaction.table('sources').clear();
        throw new Error('The power went.');
      });
    await expect(cut.open()).rejects.toThrow();
    cut.close();
    await db.open();
    expect([(await sourcesOf('a')).length, await db.homeMappings.count()]).toEqual([1, 1]);
  });
});
