import { beforeEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_SETTINGS, booksIn, openBook } from '@long-tally/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { lookIntoBooks, restoreBook } from '../workers/restore.js';
import { bookOfHome } from '../workers/saveBook.js';
import { saveAppliances } from './appliances.js';
import { addPicture, removePicture } from './attachments.js';
import { db } from './database.js';
import { belongings, bookSaved, homeOf, removeEverything } from './homes.js';
import { saveOffers } from './offers.js';
import { saveScenarios } from './scenarios.js';
import { addReading } from './readings.js';
import { loadSources, setRemoved, sourcesOf } from './sources.js';
import { addTrial, addTrialReading, beginTrial, setTrialState, strikeTrialReading } from './trials.js';
import {
  OTHER,
  readText,
  store,
  TRIAL,
  PICTURE,
  PUMP,
  SCENARIO,
  FULL_READING,
  OFFER,
  fullHome,
} from './testing.js';

beforeEach(async () => {
  await db.delete();
  await db.open();
});

describe('a book', () => {
  test('of a home, wiped and opened again, holds what the home held', async () => {
    const home = await fullHome();
    const [source] = await sourcesOf('mill');
    await store(home, new File([OTHER], 'next.csv'), await readText(OTHER));
    await setRemoved(source!, 77);
    const trialId = await addTrial('mill', TRIAL);
    await strikeTrialReading(trialId, 1);
    await addPicture((await db.trials.get(trialId))!, 0, PICTURE);
    await saveAppliances('mill', [PUMP]);
    await saveScenarios('mill', [SCENARIO]);
    await addReading('mill', FULL_READING);
    await saveOffers('mill', [OFFER]);
    const before = await loadSources('mill');
    const { blob, without } = await bookOfHome(await homeOf('mill'), null, null);
    expect(without).toEqual([]);
    await removeEverything();
    const file = new File([blob], 'mill.zip');
    const [book] = await lookIntoBooks(file);
    expect(book!.found).toMatchObject({
      homeName: 'Mill Lane',
      holds: { logs: 2, notes: 1, readings: 3, trials: 1 },
      replaces: null,
      lost: [],
    });
    expect(await restoreBook(book!, 'new', 'refuse')).toEqual({
      homeId: 'mill',
      settings: null,
      problems: [],
    });
    const columns = (logs: typeof before) =>
      [...logs.values()].map((log) => [log.name, log.startMs, [...log.columns]]);
    expect(columns(await loadSources('mill'))).toEqual(columns(before));
    expect((await sourcesOf('mill')).map(({ name, removedAt }) => [name, removedAt])).toEqual([
      ['log.csv', 77],
      ['next.csv', null],
    ]);
    expect(await belongings('mill')).toEqual({ logs: 2, notes: 1, readings: 3, corrections: 1 });
    const [trial] = await db.trials.toArray();
    expect(trial).toMatchObject({ homeId: 'mill', file: TRIAL, struck: [1], state: 'done' });
    const [shown] = await db.attachments.toArray();
    expect(shown).toMatchObject({ homeId: 'mill', trialId: trial!.id, place: 0, name: 'display.png' });
    expect([shown!.picture.type, await shown!.picture.arrayBuffer()]).toEqual([
      'image/png',
      await PICTURE.arrayBuffer(),
    ]);
    expect(await db.appliances.toArray()).toEqual([{ homeId: 'mill', appliances: [PUMP] }]);
    expect(await db.offers.toArray()).toEqual([{ homeId: 'mill', offers: [OFFER] }]);
    expect(await db.scenarios.toArray()).toEqual([{ homeId: 'mill', scenarios: [SCENARIO] }]);
    // Everything that was noted with a reading comes back, to the last digit of its counters.
    expect(await db.readings.toArray()).toContainEqual(expect.objectContaining(FULL_READING));
    // Opened once more it may stand beside the home that is here, under an id of its own.
    const again = await restoreBook((await lookIntoBooks(file))[0]!, 'new', 'refuse');
    expect([again.homeId === 'mill', await db.homes.count()]).toEqual([false, 2]);
    const [bytes] = await booksIn('mill.zip', new Uint8Array(await file.arrayBuffer()));
    expect((await openBook('mill.zip', bytes!.bytes)).id).toBe('mill');
  });

  test('counts what has changed since it was saved, trials and appliances among it', async () => {
    const home = await fullHome();
    await bookSaved('mill', home.revision);
    const since = async () => {
      const { revision, savedRevision } = await homeOf('mill');
      return revision - savedRevision!;
    };
    expect(await since()).toBe(0);
    const trialId = await beginTrial('mill', 'drawdown');
    await addTrialReading(trialId, TRIAL.readings[0]!);
    await addPicture((await db.trials.get(trialId))!, 0, PICTURE);
    await removePicture((await db.attachments.toArray())[0]!);
    await saveAppliances('mill', [PUMP]);
    await saveOffers('mill', [OFFER]);
    // No figure follows any of these; what is shown of the home stays as it is.
    expect([await since(), (await homeOf('mill')).revision]).toEqual([6, home.revision]);
    await setTrialState(trialId, 'done');
    expect([await since(), (await homeOf('mill')).revision]).toEqual([7, home.revision + 1]);
  });

  test('with a picture that is none is opened without it, and says so', async () => {
    await fullHome();
    const trialId = await addTrial('mill', TRIAL);
    const picture = new Blob(['<svg/>'], { type: 'image/png' });
    await db.attachments.add({ homeId: 'mill', trialId, place: 0, name: 'x.png', picture, addedAt: 1 });
    const { blob } = await bookOfHome(await homeOf('mill'), null, null);
    const [book] = await lookIntoBooks(new File([blob], 'mill.zip'));
    const { problems } = await restoreBook(book!, 'replace', 'refuse');
    expect(problems).toEqual([
      'attachments/001 x.png: It is neither a PNG nor a JPEG picture, and is left out.',
    ]);
    expect([await db.trials.count(), await db.attachments.count()]).toEqual([1, 0]);
  });

  test('brings the settings of its reader, and none where nothing was chosen', async () => {
    await fullHome();
    const theirs = { ...DEFAULT_SETTINGS, temperature: 'F' } as const;
    for (const settings of [theirs, null]) {
      const { blob } = await bookOfHome(await homeOf('mill'), null, settings);
      const [book] = await lookIntoBooks(new File([blob], 'mill.zip'));
      expect((await restoreBook(book!, 'replace', 'refuse')).settings).toEqual(settings);
    }
  });

  test('of before books held trials takes the home’s place and leaves its trials', async () => {
    await fullHome();
    const { blob } = await bookOfHome(await homeOf('mill'), null, null);
    const members = unzipSync(new Uint8Array(await blob.arrayBuffer()));
    delete members['trials.json'];
    const manifest = strFromU8(members['MANIFEST.sha256']!).replace(/^.*trials\.json\n/m, '');
    const older = zipSync({ ...members, 'MANIFEST.sha256': strToU8(manifest) });
    const trialId = await addTrial('mill', TRIAL);
    await addPicture((await db.trials.get(trialId))!, 0, PICTURE);
    await saveAppliances('mill', [PUMP]);
    for (const [bytes, kept] of [
      [older, 1],
      [new Uint8Array(await blob.arrayBuffer()), 0],
    ] as const) {
      const [book] = await lookIntoBooks(new File([bytes], 'mill.zip'));
      expect(await restoreBook(book!, 'replace', 'refuse')).toEqual({
        homeId: 'mill',
        settings: null,
        problems: [],
      });
      const counts = [db.trials, db.attachments, db.appliances].map((table) => table.count());
      expect(await Promise.all(counts)).toEqual([kept, kept, kept]);
    }
  });
});
