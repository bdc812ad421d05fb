import { test } from '@jest/globals';

/** Whether the checks that take long are run too, as `npm run test:long` and the checks of every change do. */
export const isLong = process.env['LONG'] !== undefined;

/** A test that takes seconds: a simulation against known truth, or a law tried on many homes. */
export const longTest: typeof test.skip = isLong ? test : test.skip;
