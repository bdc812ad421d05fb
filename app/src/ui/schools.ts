import type { Settings } from '@long-tally/core';

const SCHOOLS = ['grid', 'supply', 'solar'] as const;

/** Figures of self-sufficiency, the one that the reader wants to lead first. */
export function schoolsFrom(leading: Settings['leadingSchool']): readonly string[] {
  return [leading, ...SCHOOLS.filter((one) => one !== leading)].map(
    (one) => `account.selfSufficiency.${one}`,
  );
}
