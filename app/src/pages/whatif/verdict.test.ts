import { describe, expect, test } from '@jest/globals';
import type { WhatifBase, WhatifScenario } from '@long-tally/core';
import { trustOf, verdictOf } from './verdict.js';

const figure = (value: number, low: number, high: number) =>
  ({ value, basis: { difference: { value, low, high } } }) as unknown as WhatifScenario['figures'][string];

describe('the verdict', () => {
  test('names what would have changed, with its bounds in the direction of the change', () => {
    const figures = {
      'account.selfSufficiency.supply': figure(0.031, 0.022, 0.04),
      'account.import': figure(-140, -172, -108),
      'money.bill': figure(0.0001, 0, 0.001),
    };
    expect(verdictOf({ figures } as unknown as WhatifScenario, 'EUR')).toBe(
      'Over this range self-sufficiency would have been 3.1 points higher (2.2 to 4.0) and import would have been 140 kWh lower (108 to 172).',
    );
  });

  test('says so where nothing would have', () => {
    expect(verdictOf({ figures: {} } as unknown as WhatifScenario, 'EUR')).toMatch(/^None of the figures/);
  });

  test('rests on how far the model lies from the log, stretch by stretch where the home changed', () => {
    const errors = { 'account.selfSufficiency.supply': 0.02 };
    const of = (errorsAsItWas: WhatifBase['errorsAsItWas']) =>
      trustOf({ errors, errorsAsItWas } as unknown as WhatifBase);
    expect(of(null)).toMatch(/^The home as it is, modelled: self-sufficiency lies 2\.0 points above the log/);
    expect(of({ 'account.selfSufficiency.supply': -0.005 })).toMatch(
      /^Each stretch of the range .* lies 0\.5 points below the log/,
    );
    expect(trustOf({ errors: {}, errorsAsItWas: null } as unknown as WhatifBase)).toMatch(/cannot be held/);
  });
});
