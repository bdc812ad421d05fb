import {
  parseAppliances,
  parseScenario,
  report,
  whatif as whatifOf,
  type ScenarioFile,
  type Sweep,
} from '@long-tally/core';
import { textOf } from '../files.js';
import { readHome } from '../home.js';
import { print, writeTo } from '../output.js';
import { HOME_OPTIONS, optionsIn, UsageError } from '../usage.js';

const MOST_POINTS = 500;

/** Prints what scenarios would change, beside the home as it is modelled and as it was logged. */
export async function whatif(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, {
    ...HOME_OPTIONS,
    scenario: { type: 'string', multiple: true },
    sweep: { type: 'string', multiple: true },
    appliances: { type: 'string' },
    gain: { type: 'string' },
    out: { type: 'string' },
  });
  const scenarios: ScenarioFile[] = [];
  for (const file of values.scenario ?? []) scenarios.push(parseScenario(await textOf(file), file));
  const [sweep = null, by = null, ...more] = (values.sweep ?? []).map(sweepIn);
  if (more.length > 0) throw new UsageError('--sweep: one or two quantities can be swept, not more.');
  if (sweep && by && sweep.values.length * by.values.length > MOST_POINTS)
    throw new UsageError(
      `--sweep: ${sweep.values.length} × ${by.values.length} points are more than ${MOST_POINTS}; take wider steps.`,
    );
  const leastGain = Number(values.gain);
  if (values.gain && !(leastGain > 0 && leastGain < 1))
    throw new UsageError('--gain: write a share of the load between 0 and 1, for example 0.01.');
  if (scenarios.length === 0 && !sweep && !values.book)
    throw new UsageError('Name at least one scenario with --scenario, or a sweep with --sweep.');
  const { prepared, range, contents } = await readHome(values, positionals);
  // A book brings the scenarios that are kept in it.
  if (scenarios.length === 0 && !sweep) scenarios.push(...contents.scenarios);
  const { figures } = report(prepared, range);
  const appliances = values.appliances
    ? parseAppliances(await textOf(values.appliances), values.appliances)
    : contents.appliances;
  const asked = { scenarios, sweep, by, appliances, ...(values.gain ? { leastGain } : {}) };
  const text = `${JSON.stringify(whatifOf(prepared, range, figures, asked), null, 1)}\n`;
  if (values.out) await writeTo(values.out, text);
  else await print(text);
}

/** `battery.modules=1..8`, or in other steps `battery.reserve=0..0.5:0.1`. */
function sweepIn(text: string): Sweep {
  const [, key, first, last, by] = /^([\w.\s-]+)=(-?[\d.]+)\.\.(-?[\d.]+?)(?::([\d.]+))?$/.exec(text) ?? [];
  const [from, to, step] = [Number(first), Number(last), Number(by ?? 1)];
  const points = Math.floor((to - from) / step + 1e-9) + 1;
  if (!key || !(from <= to) || !(step > 0) || points > MOST_POINTS)
    throw new UsageError(
      `--sweep: write a quantity and from where to where, for example battery.modules=1..8 or battery.reserve=0..0.5:0.1, up to ${MOST_POINTS} points.`,
    );
  return {
    key,
    tells: 'everything',
    values: Array.from({ length: points }, (_, k) => Number((from + k * step).toFixed(9))),
  };
}
