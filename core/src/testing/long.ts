import { test } from '@jest/globals';

/** Whether the checks that take long are run too, as `npm run test:long` and the checks of every change do. */
export const isLong = process.env['LONG'] !== undefined;

/** How often a law is tried: more often where the checks that take long are run. */
export const runs = (everyDay: number, long: number) => ({ numRuns: isLong ? long : everyDay });

/** A test that takes seconds: a simulation against known truth, or a law tried on many homes. */
export const longTest: typeof test.skip = isLong ? test : test.skip;
