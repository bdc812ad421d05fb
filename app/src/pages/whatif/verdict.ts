import type { WhatifBase, WhatifScenario } from '@long-tally/core';
import { decimal } from '../../ui/format.js';

/** What a scenario would have meant, in a sentence, with the intervals of its differences. */
export function verdictOf({ figures }: WhatifScenario, currency: string): string {
  const told = [
    change(figures, 'account.selfSufficiency.supply', 100, 1, [
      'self-sufficiency',
      'points higher',
      'points lower',
    ]),
    change(figures, 'account.import', 1, 0, ['import', 'kWh higher', 'kWh lower']),
    change(figures, 'money.bill', 1, 0, ['the bill', `${currency} higher`, `${currency} lower`]),
    change(figures, 'outage.survive.24h', 100, 0, [
      'outages of 24 hours that are carried',
      'points more',
      'points fewer',
    ]),
  ].filter((one) => one !== null);
  return told.length === 0
    ? 'None of the figures shown here would have changed.'
    : `Over this range ${listed(told)}.`;
}

/** How far the model lies from the log, on which every verdict rests. */
export function trustOf({ errors, errorsAsItWas }: WhatifBase): string {
  const supply = (errorsAsItWas ?? errors)['account.selfSufficiency.supply'];
  if (supply == null) return 'What the model is worth cannot be held against the log here.';
  const where = errorsAsItWas
    ? 'Each stretch of the range modelled as the home was then'
    : 'The home as it is, modelled';
  return `${where}: self-sufficiency lies ${decimal(Math.abs(100 * supply), 1)} points ${supply >= 0 ? 'above' : 'below'} the log. A what-if is only as good as that; what to trust are the differences.`;
}

type Words = readonly [what: string, higher: string, lower: string];

function change(
  figures: WhatifScenario['figures'],
  key: string,
  scale: number,
  digits: number,
  [what, higher, lower]: Words,
): string | null {
  const difference = figures[key]?.basis.difference;
  if (!difference) return null;
  const [value, low, high] = [difference.value, difference.low, difference.high].map(
    (one) => scale * one,
  ) as [number, number, number];
  if (!/[1-9]/.test(decimal(value, digits))) return null;
  const bounds = value > 0 ? [low, high] : [-high, -low];
  return `${what} would have been ${decimal(Math.abs(value), digits)} ${value > 0 ? higher : lower} (${bounds.map((bound) => decimal(bound, digits)).join(' to ')})`;
}

function listed(parts: readonly string[]): string {
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}
