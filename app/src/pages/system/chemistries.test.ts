import { afterEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_SETTINGS } from '@long-tally/core';
import { showAs } from '../../ui/format.js';
import { CHEMISTRIES, chemistryChoices, usualText } from './chemistries.js';

afterEach(() => showAs(DEFAULT_SETTINGS));

describe('what is usual for a chemistry', () => {
  test('stands within what a battery can be', () => {
    for (const { key, usablePct, cutOffPct, charge, discharge } of CHEMISTRIES) {
      expect([key, usablePct > 0 && usablePct <= 100, cutOffPct >= 0 && cutOffPct < 50]).toEqual([
        key,
        true,
        true,
      ]);
      // No cell may be charged where it may not even be discharged (common practice, no published source).
      expect(charge[0]).toBeGreaterThanOrEqual(discharge[0]);
      expect(charge[1]).toBeLessThanOrEqual(discharge[1]);
    }
    expect(new Set(CHEMISTRIES.map(({ key }) => key)).size).toBe(CHEMISTRIES.length);
  });

  test('lithium iron phosphate is not charged below freezing (common practice, no published source)', () => {
    const lfp = CHEMISTRIES.find(({ key }) => key === 'LFP')!;
    expect(lfp.charge[0]).toBe(0);
    expect(usualText(lfp)).toBe(
      'Usual for it: 90 % usable, cut-off at 5 %; charged between 0 and 45\u00a0°C, discharged between \u221220 and 55\u00a0°C. Common practice: the data sheet leads.',
    );
    showAs({ ...DEFAULT_SETTINGS, temperature: 'F' });
    expect(usualText(lfp)).toMatch(
      /charged between 32 and 113\u00a0°F, discharged between \u22124 and 131\u00a0°F/,
    );
  });

  test('is offered beside what a file says that is not known here', () => {
    const known = chemistryChoices('');
    expect(known[0]).toEqual(['', 'not known']);
    expect(known).toHaveLength(CHEMISTRIES.length + 1);
    expect(chemistryChoices('LFP')).toEqual(known);
    expect(chemistryChoices('aluminium-air').at(-1)).toEqual(['aluminium-air', 'aluminium-air']);
  });
});
