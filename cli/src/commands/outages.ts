import { FIRST_SCENARIOS, isoOf, scenarioOutcome, outagesView, outageStarts } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn } from '../usage.js';

/**
 * Prints the outages of a range against what could be expected of them, how long the next one would be carried by each of
 * the usual options, what other reserves would have meant, and the highest loads.
 */
export async function outages(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, HOME_OPTIONS);
  const { prepared, range } = await readHome(values, positionals);
  const { outages, costs, peaks, reserveSet, figures } = outagesView(prepared, range);
  const starts = outageStarts(prepared, range);
  await print(
    `${JSON.stringify(
      {
        outages: outages.map(({ fromMs, toMs, darkMs, restartMs, ...rest }) => ({
          from: isoOf(fromMs),
          to: isoOf(toMs),
          dark: darkMs === null ? null : isoOf(darkMs),
          restart: restartMs === null ? null : isoOf(restartMs),
          ...rest,
        })),
        scenarios: starts ? FIRST_SCENARIOS.map((option) => scenarioOutcome(starts, option)) : [],
        reserveSet,
        reserves: costs,
        peaks: peaks.peaks.map(({ atMs, ...peak }) => ({ at: isoOf(atMs), ...peak })),
        transfers: peaks.transfers,
        figures: { ...figures, ...peaks.figures },
      },
      null,
      1,
    )}\n`,
  );
}
