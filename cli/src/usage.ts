import { parseArgs } from 'node:util';

export const USAGE = `Usage:
  tally analyse  HOME [--out report.json]
  tally reconcile HOME --stated 98
  tally bill --amount 9.31 [--kwh 18.51] [--rate 0.1853] [--days 30] [HOME]
  tally outages  HOME
  tally parts    HOME
  tally book     HOME --out home.zip
  tally fleet FOLDER [--out fleet.csv|.json|.parquet] [--jobs N] [--resume] [--rank losses.idle.battery]
  tally runtime --system system.json --soc 64 --load 3300
  tally run readings.json
  tally whatif   HOME --scenario scenario.json [--scenario ...] [--sweep battery.modules=1..8 [--sweep battery.reserve=0..0.5:0.1]]
                 [--gain 0.01] [--appliances appliances.json] [--out whatif.json]
  tally settings HOME [--hours 12] [--chance 0.9]
  tally storm    HOME --at 2026-12-03T18:00
  tally surplus  HOME
  tally trial trial.json HOME (its log may be left out)
  tally trials   HOME
  tally combinations appliances.json --system system.json [--units 1..3]
  tally detect a.csv [--system system.json]
  tally validate system.json
HOME is a book, --book home.zip [--salvage], or a system and its logs:
  --system system.json --log a.csv [--log b.csv ...] [--map map.json ...] [--journal journal.json]
  [--readings readings.csv] [--trial trial.json ...] and, for both, [--from ISO] [--to ISO]`;

/** Wrong use of the command line: exit code 1. */
export class UsageError extends Error {
  override readonly name = 'UsageError';
}

/** The options that name a home. */
export const HOME_OPTIONS = {
  book: { type: 'string' },
  salvage: { type: 'boolean' },
  system: { type: 'string' },
  log: { type: 'string', multiple: true },
  map: { type: 'string', multiple: true },
  journal: { type: 'string' },
  trial: { type: 'string', multiple: true },
  readings: { type: 'string' },
  from: { type: 'string' },
  to: { type: 'string' },
} as const;

/**
 * The options among arguments.
 * @throws UsageError for one that is not known or lacks its value
 */
export function optionsIn<T extends Options>(args: readonly string[], options: T): Parsed<T> {
  try {
    return parseArgs({ args: [...args], allowPositionals: true, options });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

type Options = Record<string, { readonly type: 'string' | 'boolean'; readonly multiple?: boolean }>;
type Parsed<T extends Options> = ReturnType<typeof parseArgs<{ allowPositionals: true; options: T }>>;

/** The one file that a command is given. */
export function onlyFile([file, ...more]: readonly string[], wanted: string): string {
  if (!file || file.startsWith('-') || more.length > 0) throw new UsageError(wanted);
  return file;
}
