import { describe, expect, test } from '@jest/globals';
import type { Figure, RollDay, Settings, Statement } from '@long-tally/core';
import { schoolsFrom } from '../../ui/schools.js';
import { changesSince, sectionsOf } from './sections.js';

const figure = (value: number | null, unit: string, more: Partial<Figure> = {}): Figure =>
  ({
    ...{ value, low: value, high: value, unit, status: value === null ? 'not-measured' : 'measured' },
    ...{ reason: null, basis: {}, working: [], assumptions: [], method: { id: '', formula: '', source: '' } },
    ...more,
  }) as unknown as Figure;

const YEAR_MS = 365.25 * 86_400_000;
const days = (month: number, bought: number, solar: number, load: number): RollDay[] =>
  Array.from(
    { length: 20 },
    (_, day) =>
      ({
        date: `2024-${String(month).padStart(2, '0')}-${String(day + 1).padStart(2, '0')}`,
        ...{ import: bought, solar, load },
      }) as unknown as RollDay,
  );
const statement = (now: Record<string, Figure>, findings: Statement['findings'] = []) => ({
  now,
  findings,
  range: { fromMs: 0, toMs: YEAR_MS },
});

describe('what a log says', () => {
  test('begins with self-sufficiency, and the month that keeps it from being more', () => {
    const now = { 'account.selfSufficiency.supply': figure(0.889, 'share') };
    const roll = [...days(6, 8.8, 9, 16), ...days(12, 0.1, 30, 12)];
    const [first] = sectionsOf(statement(now), roll, 'NZD', schoolsFrom('grid'));
    expect(first!.path).toBe('account');
    expect(first!.says).toEqual([
      expect.stringMatching(/^Self-sufficiency, by supply: 88\.9 %/),
      'Most is bought in June, 8.8 kWh a day: the sun gave 9.0 kWh of the 16.0 kWh that were used.',
    ]);
  });

  test('leads with the school that the reader has chosen, where it is told', () => {
    const now = {
      'account.selfSufficiency.grid': figure(0.807, 'share'),
      'account.selfSufficiency.supply': figure(0.886, 'share'),
    };
    const first = (leading: Settings['leadingSchool']) => {
      const [section] = sectionsOf(statement(now), [], '', schoolsFrom(leading));
      return section!.says[0];
    };
    expect(first('grid')).toMatch(/^Self-sufficiency, by the meter: 80\.7 %/);
    expect(first('supply')).toMatch(/^Self-sufficiency, by supply: 88\.6 %/);
    expect(first('solar')).toMatch(/^Self-sufficiency, by the meter: 80\.7 %/);
    const before = { 'account.selfSufficiency.grid': 0.8, 'account.selfSufficiency.supply': 0.8 };
    expect(changesSince(before, now, schoolsFrom('supply'))).toEqual([
      'Self-sufficiency, by supply: 80.0 → 88.6 %',
    ]);
  });

  test('says where the storage is short and not the sun', () => {
    const now = { 'account.selfSufficiency.grid': figure(0.6, 'share') };
    const [first] = sectionsOf(
      statement(now),
      [...days(6, 5, 25, 16), ...days(7, 1, 25, 16)],
      '',
      schoolsFrom('grid'),
    );
    expect(first!.says[1]).toMatch(
      /gave more than was used, 25\.0 kWh against 16\.0 kWh, so that it is the storage/,
    );
  });

  test('names no cause where sun and use are near to each other', () => {
    const now = { 'account.selfSufficiency.grid': figure(0.6, 'share') };
    const [first] = sectionsOf(
      statement(now),
      [...days(6, 5, 14.6, 13.7), ...days(7, 1, 25, 16)],
      '',
      schoolsFrom('grid'),
    );
    expect(first!.says[1]).toMatch(/14\.6 kWh where 13\.7 kWh were used, little beyond the losses/);
  });

  test('tells idle draw in a year, cycles a year, findings, and what would tell more by its reason', () => {
    const now = {
      'losses.idle.battery': figure(40, 'W'),
      'wear.efc.nameplate': figure(180, 'cycles'),
      'outage.survive.12h': figure(null, 'share', { reason: 'No column soc_pct.' }),
      'outage.survive.24h': figure(null, 'share', { reason: 'No column soc_pct.' }),
      'money.savingPerYear': figure(null, 'currency', { reason: 'No tariff.' }),
    };
    const findings = [
      { source: 'a.csv', message: 'Two hours are missing.' },
    ] as unknown as Statement['findings'];
    const sections = sectionsOf(statement(now, findings), [], 'EUR', schoolsFrom('grid'));
    const says = (path: string) => sections.find((one) => one.path === path)?.says;
    expect(says('losses')![0]).toMatch(/, 351 kWh a year \(351 – 351\)/);
    expect(says('wear')![0]).toMatch(/180 cycles.*, 180 a year\.$/);
    expect(says('sources')).toEqual(['a.csv: Two hours are missing.']);
    expect(says('system')![0]).toMatch(/: No column soc_pct\.$/);
    expect(says('system')![1]).toMatch(/: No tariff\.$/);
    expect(says('outages')).toBeUndefined();
  });

  test('tells what has changed since it was opened before, as far as one would see it', () => {
    const now = {
      'account.selfSufficiency.supply': figure(0.91, 'share'),
      'losses.idle.battery': figure(40.2, 'W'),
      'capacity.now': figure(null, 'kWh'),
    };
    expect(
      changesSince(
        { 'account.selfSufficiency.supply': 0.889, 'losses.idle.battery': 40.1, 'capacity.now': 12 },
        now,
        schoolsFrom('grid'),
      ),
    ).toEqual([expect.stringMatching(/^Self-sufficiency, by supply: 88\.9 → 91\.0 %$/)]);
  });
});
