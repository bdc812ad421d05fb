import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { System } from '@long-tally/core';
import { recordChange, systemChangeText } from './changes.js';
import { db } from './database.js';
import { addHome, homeOf, newHome } from './homes.js';

const SYSTEM: System = { schema: 'long-tally/system@1', name: 'Mill Lane', timeZone: 'Europe/Lisbon' };

beforeEach(async () => {
  await db.delete();
  await db.open();
  await addHome(newHome(SYSTEM, 'mill'));
});

describe('the list of changes', () => {
  test('grows by each, the latest last, and changes no figure', async () => {
    const before = await homeOf('mill');
    await recordChange('mill', 'a.csv is imported.');
    await recordChange('mill', 'A note is struck out.');
    const home = await homeOf('mill');
    expect(home.changes!.map(({ says }) => says)).toEqual(['a.csv is imported.', 'A note is struck out.']);
    expect(home.revision).toBe(before.revision);
  });

  test('keeps the last three hundred', async () => {
    for (let i = 0; i < 302; i++) await recordChange('mill', `change ${i}`);
    const { changes } = await homeOf('mill');
    expect([changes!.length, changes![0]!.says]).toEqual([300, 'change 2']);
  });

  test('that is damaged leaves the home as it is and begins anew', async () => {
    await db.homes.update('mill', { changes: 'none' as never });
    expect((await homeOf('mill')).changes).toBeUndefined();
    await recordChange('mill', 'a.csv is imported.');
    expect((await homeOf('mill')).changes!.length).toBe(1);
  });

  test('says what of a description is another, and nothing where none is', () => {
    const other = { ...SYSTEM, currency: 'EUR', tariffs: [] };
    expect(systemChangeText(SYSTEM, other)).toBe('The description was changed: currency, tariffs.');
    expect(systemChangeText(SYSTEM, { ...SYSTEM })).toBeNull();
  });
});
