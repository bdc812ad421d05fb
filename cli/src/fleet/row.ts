import { InputError, problemText, report, REGISTRY, writtenReport } from '@long-tally/core';
import { readHome } from '../home.js';
import { UsageError } from '../usage.js';
import type { FleetHome } from './homes.js';

/** What a fleet tells of one home: every figure by its key, or why there are none. */
export interface FleetRow {
  readonly home: string;
  readonly problem: string | null;
  readonly figures: Readonly<Record<string, number | string | null>>;
}

/** Keys of the figures, in the order of the columns; dates are texts. */
export const COLUMNS: readonly { readonly key: string; readonly isDate: boolean }[] = REGISTRY.flatMap(
  ({ figures }) => figures.map(({ key, unit }) => ({ key, isDate: unit === 'date' })),
);

/** The row of a home; one that cannot be used is a row with its problem. */
export async function rowOf({ name, values }: FleetHome): Promise<FleetRow> {
  try {
    const { prepared, range } = await readHome(values, []);
    const { figures } = writtenReport(report(prepared, range)) as {
      figures: Record<string, { value: number | string | null }>;
    };
    return {
      home: name,
      problem: null,
      figures: Object.fromEntries(COLUMNS.map(({ key }) => [key, figures[key]?.value ?? null])),
    };
  } catch (error) {
    const problem =
      error instanceof InputError
        ? error.problems.map(problemText).join(' ')
        : error instanceof UsageError
          ? error.message
          : `This could not be done, by a fault of the program: ${error instanceof Error ? error.message : String(error)}`;
    return { home: name, problem, figures: {} };
  }
}
