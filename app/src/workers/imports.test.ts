/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { Home } from '../db/database.js';
import type { Found, ImportProgress, ReadSummary, SetAside } from '../protocol.js';
import { soon } from '../testing/soon.js';

type Report = (progress: ImportProgress) => void;
/** What the worker was asked, how it reports, and how it answers. */
interface Question {
  readonly what: 'look' | 'read' | 'store';
  readonly names: readonly string[];
  readonly report: Report;
  readonly answer: (by: unknown) => void;
  readonly fail: (error: Error) => void;
}
const asked: Question[] = [];
let ended = 0;
const ask = (what: Question['what'], names: readonly string[], report: Report) =>
  new Promise((answer, fail) => void asked.push({ what, names, report, answer, fail }));
const remote = {
  look: (_home: Home, files: readonly File[], report: Report) =>
    ask(
      'look',
      files.map(({ name }) => name),
      report,
    ),
  read: (_home: Home, found: readonly Found[], report: Report) =>
    ask(
      'read',
      found.map(({ name }) => name),
      report,
    ),
  store: (_home: Home, _corrections: unknown, report: Report) => ask('store', [], report),
};
jest.unstable_mockModule('./client.js', () => ({
  beginImport: () => ({
    ask: (of: (worker: typeof remote) => Promise<unknown>) => of(remote),
    end: () => {
      ended++;
    },
  }),
}));
const recorded: string[] = [];
jest.unstable_mockModule('../db/changes.js', () => ({
  recordChange: (_homeId: string, says: string) => Promise.resolve(void recorded.push(says)),
}));
const { bringFiles, cancelImport, endImport, forgetSaid, readAgain, readFiles, storeFiles, useImport } =
  await import('./imports.js');

const homeOf = (id: string) => ({ id }) as Home;
const HOME = homeOf('mill');
const fileOf = (name: string) => new File(['time,solar_w\n'], name);
/** A text that was found in a file; what it is taken for is open where it is asked. */
const foundOf = (name: string, isAsked = false): Found => ({
  ...{ id: 1, name, shape: '', mapping: null, isRemembered: false },
  recognition: { conclusions: [{ asks: isAsked }] } as unknown as Found['recognition'],
});
const summaryOf = (name: string) => ({ id: 1, name }) as ReadSummary;
const opened = (home = HOME) => renderHook(() => useImport(home.id)).result;
/** Drops files, and waits until the worker has been asked. */
const bring = (...names: string[]) => soon(() => void bringFiles(HOME, names.map(fileOf)));
const answer = async (k: number, by: unknown) => {
  await soon(() => asked[k]!.answer(by));
};
const looked = (found: readonly Found[], aside: readonly SetAside[] = []) => ({ found, aside });

beforeEach(() => {
  endImport('mill', []);
  endImport('barn', []);
  [asked.length, recorded.length, ended] = [0, 0, 0];
});
afterEach(cleanup);

describe('an import', () => {
  test('reads files of which nothing is open as soon as they were looked at, and shows what they hold', async () => {
    const state = opened();
    await bring('a.csv');
    expect(state.current.progress).toEqual({ name: 'a.csv', share: 0, stage: 'looking' });
    act(() => asked[0]!.report({ name: 'a.csv', share: 0.4, stage: 'looking' }));
    expect(state.current.progress?.share).toBe(0.4);
    const refused: SetAside = { name: 'b.csv', kind: 'refused', problems: ['It is empty.'] };
    await answer(0, looked([foundOf('a.csv')], [refused]));
    expect(asked[1]).toMatchObject({ what: 'read', names: ['a.csv'] });
    const leftOut: SetAside = { name: 'c.csv', kind: 'left-out', problems: [] };
    await answer(1, { summaries: [summaryOf('a.csv')], aside: [leftOut] });
    expect(state.current).toMatchObject({
      progress: null,
      stage: { summaries: [{ name: 'a.csv' }], aside: [refused, leftOut] },
    });
  });

  test('waits where the data leave something open, and reads what its owner has answered', async () => {
    const state = opened();
    await bring('a.csv');
    await answer(0, looked([foundOf('a.csv', true)]));
    expect(asked).toHaveLength(1);
    expect(state.current).toMatchObject({ progress: null, stage: { summaries: null } });
    await soon(() => void readFiles(HOME, [foundOf('a.csv')], []));
    await answer(1, { summaries: [summaryOf('a.csv')], aside: [] });
    expect(state.current.stage?.summaries).toHaveLength(1);
    act(() => readAgain('mill'));
    expect(state.current.stage).toMatchObject({ summaries: null, found: [{ name: 'a.csv' }] });
  });

  test('does not ask again of a shape that was answered before', async () => {
    await bring('a.csv');
    await answer(0, looked([{ ...foundOf('a.csv', true), isRemembered: true }]));
    expect(asked[1]?.what).toBe('read');
  });

  test('shows what was set aside where no file can be read', async () => {
    const state = opened();
    const known: SetAside = { name: 'a.csv', kind: 'known', problems: [] };
    await bring('a.csv');
    await answer(0, looked([], [known]));
    expect(asked).toHaveLength(1);
    expect(state.current).toMatchObject({ progress: null, stage: { found: [], aside: [known] } });
  });

  test('is stored, told, and written into the list of changes', async () => {
    const state = opened();
    await soon(() => void storeFiles(HOME, [summaryOf('a.csv'), summaryOf('b.csv')], []));
    expect(state.current.progress?.stage).toBe('storing');
    await answer(0, null);
    expect(state.current).toEqual({
      ...{ progress: null, stage: null },
      said: ['a.csv is imported.', 'b.csv is imported.'],
    });
    expect(recorded).toEqual(['a.csv is imported.', 'b.csv is imported.']);
    act(() => forgetSaid('mill'));
    expect(state.current.said).toEqual([]);
  });

  test('that could not be stored says why, and no change is written down', async () => {
    const state = opened();
    await soon(() => void storeFiles(HOME, [summaryOf('a.csv')], []));
    await answer(0, { problems: ['a.csv: the home was removed in another tab.'] });
    expect(state.current.said).toEqual(['a.csv: the home was removed in another tab.']);
    expect(recorded).toEqual([]);
  });

  test('whose worker breaks ends in words with the names of its files', async () => {
    const state = opened();
    await bring('a.csv', 'b.csv');
    await soon(() => asked[0]!.fail(new Error('gone')));
    expect(state.current).toMatchObject({ progress: null, stage: null });
    expect(state.current.said).toEqual([expect.stringMatching(/^a\.csv, b\.csv: .*gone/)]);
    expect(ended).toBe(1);
  });
});

describe('files that are chosen while others are under way', () => {
  test('while one is read are not taken, and that is said; the one goes on', async () => {
    const state = opened();
    await bring('large.csv');
    await bring('meanwhile.csv');
    expect(state.current.said).toEqual([
      'meanwhile.csv: not taken, since large.csv is still being read. Bring it again when that has ended or is cancelled.',
    ]);
    expect(asked).toHaveLength(1);
    await answer(0, looked([foundOf('large.csv', true)]));
    expect(state.current.stage?.found).toHaveLength(1);
  });

  test('while one is stored wait for it, and what was said of it stays', async () => {
    const state = opened();
    await soon(() => void storeFiles(HOME, [summaryOf('a.csv')], []));
    await bring('b.csv');
    expect(asked.map(({ what }) => what)).toEqual(['store']);
    await answer(0, null);
    expect(asked[1]).toMatchObject({ what: 'look', names: ['b.csv'] });
    expect(state.current.said).toEqual(['a.csv is imported.']);
  });

  test('before one is imported take its place, and that is said', async () => {
    const state = opened();
    await bring('a.csv');
    await answer(0, looked([foundOf('a.csv', true)]));
    await bring('b.csv');
    expect(state.current.said).toEqual(['a.csv: not imported; other files were chosen after it.']);
    expect(asked[1]).toMatchObject({ what: 'look', names: ['b.csv'] });
  });

  test('of another home go their own way', async () => {
    const [mill, barn] = [opened(), opened(homeOf('barn'))];
    await bring('a.csv');
    await soon(() => void bringFiles(homeOf('barn'), [fileOf('b.csv')]));
    expect([mill.current.progress?.name, barn.current.progress?.name]).toEqual(['a.csv', 'b.csv']);
    act(() => cancelImport('mill'));
    expect([mill.current.progress, barn.current.progress?.name]).toEqual([null, 'b.csv']);
  });

  test('none at all begin nothing', async () => {
    const state = opened();
    await bring();
    expect([asked.length, state.current.progress]).toEqual([0, null]);
  });
});

describe('an import that is cancelled', () => {
  test('ends its worker; what that still reports or answers is let go', async () => {
    const state = opened();
    await bring('a.csv');
    act(() => cancelImport('mill'));
    expect(ended).toBe(1);
    expect(state.current.said).toEqual(['a.csv: cancelled; nothing of it was stored.']);
    act(() => asked[0]!.report({ name: 'a.csv', share: 0.9, stage: 'looking' }));
    await answer(0, looked([foundOf('a.csv')]));
    expect(state.current).toMatchObject({ progress: null, stage: null });
    expect(asked).toHaveLength(1);
  });

  test('leaves a failure that comes late unsaid', async () => {
    const state = opened();
    await bring('a.csv');
    act(() => cancelImport('mill'));
    await soon(() => asked[0]!.fail(new Error('gone')));
    expect(state.current.said).toEqual(['a.csv: cancelled; nothing of it was stored.']);
  });

  test('a step that is over reports nothing more into the next', async () => {
    const state = opened();
    await bring('a.csv');
    await answer(0, looked([foundOf('a.csv')]));
    act(() => asked[0]!.report({ name: 'a.csv', share: 0.2, stage: 'looking' }));
    expect(state.current.progress).toEqual({ name: 'a.csv', share: 0, stage: 'reading' });
  });

  test('after its files were read names each of them', async () => {
    const state = opened();
    await bring('a.csv', 'b.csv');
    await answer(0, looked([foundOf('a.csv'), foundOf('b.csv')]));
    await answer(1, { summaries: [], aside: [] });
    act(() => cancelImport('mill'));
    expect(state.current.said).toEqual([
      'a.csv: cancelled; nothing of it was stored.',
      'b.csv: cancelled; nothing of it was stored.',
    ]);
  });
});
