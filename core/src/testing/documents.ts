import { parseRun, runBudget } from '../books/losses/shortRun.js';
import { InputError } from '../model/problem.js';
import { parseMapping } from '../import/read/mapping.js';
import { analyse } from '../report/report.js';
import type { SourceLog } from '../model/log.js';
import { seededRandom } from '../statistics/random.js';
import { parseJournal } from '../system/journal.js';
import { parseSystem } from '../system/parse.js';
import { CORPUS_HOME, series } from './shape.js';
import { malformedIn, type Outcome, type Trial } from './fuzzing.js';
import { logOf, read } from './logs.js';
import type { Random } from './mutation.js';

const FROM = '2024-05-02T23:00:00.000Z';

/** Full examples of the files that describe and explain a home. */
const DOCUMENTS = {
  system: {
    ...CORPUS_HOME,
    currency: 'EUR',
    configurations: [
      {
        ...CORPUS_HOME.configurations![0]!,
        inverter: {
          units: 1,
          continuousKW: 5,
          batteryOnlyKW: 4,
          surgeKW: 9,
          legs: 2,
          perLegKW: 2.5,
          statedIdleW: 40,
        },
        coupling: 'ac',
        arrays: [{ name: 'roof', kWp: 5, tilt: 30, azimuth: 180 }],
        exportLimitKW: 4,
        warranty: { years: 10, throughputKWh: 30_000, cycles: 6000, cycleDepth: 0.9, endCapacity: 0.7 },
        price: { paid: 12_000, incentives: 1000 },
        chargeWindows: [{ start: '23:00', end: '05:00', toSoc: 0.8 }],
      },
    ],
    tariffs: [
      {
        from: '2024-01-01',
        standingPerDay: 0.4,
        import: [{ rate: 0.3 }, { rate: 0.15, days: ['sat', 'sun'], start: '22:00', end: '08:00' }],
        export: [{ rate: 0.06 }],
      },
    ],
    accuracy: { solar: 0.02, load: 0.02, grid: 0.01, battery: 0.02, soc: 0.03, offsetW: 5 },
  },
  journal: {
    schema: 'long-tally/journal@1',
    notes: [
      { from: '2024-05-04T10:00:00Z', to: '2024-05-04T12:00:00Z', kind: 'test', text: 'main switch off' },
      { from: '2024-05-05T00:00:00Z', to: '2024-05-06T00:00:00Z', kind: 'outage', text: '', leaveOut: true },
    ],
  },
  mapping: {
    schema: 'long-tally/mapping@1',
    table: { separator: ',', decimal: '.', headerLine: 1, skipLines: 0 },
    time: { columns: ['When'], format: 'ymd', zone: 'offset', marks: 'start' },
    columns: [
      { column: 'A', quantity: 'load', unit: 'W', sign: 1, kind: 'power', sample: 'mean' },
      { column: 'B', quantity: 'soc', unit: '%', sign: 1, kind: 'state' },
    ],
  },
  run: {
    schema: 'long-tally/run@1',
    hours: 12,
    socStart: 0.9,
    socEnd: 0.3,
    inKWh: 0.2,
    outKWh: 6.1,
    usableKWh: 10,
    idleW: [10, 60],
    conversion: [0.04, 0.12],
    socError: 0.03,
    counterError: 0.02,
  },
} as const;
type Kind = keyof typeof DOCUMENTS;
const KINDS = Object.keys(DOCUMENTS) as Kind[];

/** Values that no key of these files should meet, and some that it may. */
const VALUES: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  0.5,
  3,
  1e6,
  1e15,
  1e308,
  -1e308,
  5e-324,
  '',
  '2024-02-30',
  '2024-13-01T00:00:00Z',
  '2024-01-01T00:00:00+99:99',
  '25:61',
  '=1+1',
  '<script>',
  'constructor',
  '__proto__',
  '\u001b[2J',
  'x'.repeat(100_000),
  [],
  [[]],
  {},
  { toString: null },
];

type Path = readonly (string | number)[];

function pathsOf(value: unknown, path: Path = []): Path[] {
  if (typeof value !== 'object' || value === null) return [path];
  return [
    path,
    ...Object.keys(value).flatMap((key) => pathsOf((value as Record<string, unknown>)[key], [...path, key])),
  ];
}

function changed(
  value: unknown,
  path: Path,
  change: (parent: Record<string, unknown>, key: string) => void,
): unknown {
  const copy: unknown = structuredClone(value);
  let parent = copy as Record<string, unknown>;
  for (const key of path.slice(0, -1)) parent = parent[key] as Record<string, unknown>;
  change(parent, String(path.at(-1)));
  return copy;
}

/** Ways in which a document can be spoilt. */
const SPOILS: readonly ((document: unknown, path: Path, random: Random) => string)[] = [
  (document, path, random) => {
    const value = VALUES[Math.floor(random() * VALUES.length)];
    return JSON.stringify(changed(document, path, (parent, key) => (parent[key] = value)));
  },
  (document, path) =>
    JSON.stringify(changed(document, path, (parent, key) => Reflect.deleteProperty(parent, key))),
  (document, path) =>
    JSON.stringify(
      changed(document, path, (parent, key) => Object.assign(parent, { [`${key} `]: parent[key] })),
    ),
  (document, _path, random) => {
    const text = JSON.stringify(document);
    return text.slice(0, Math.floor(random() * text.length));
  },
  (document, _path, random) => {
    const text = JSON.stringify(document);
    const at = Math.floor(random() * text.length);
    return `${text.slice(0, at)}${'[{"'.repeat(50_000)}${text.slice(at)}`;
  },
  (document, path) =>
    JSON.stringify(changed(document, path, (parent, key) => (parent[key] = [parent[key], parent[key]]))),
  (document, _path, random) => {
    const text = JSON.stringify(document);
    const at = Math.floor(random() * text.length);
    return text.slice(0, at) + String.fromCharCode(32 + Math.floor(random() * 90)) + text.slice(at + 1);
  },
];

let home: Promise<SourceLog> | null = null;
function homeLog(): Promise<SourceLog> {
  home ??= logOf(
    series(Date.parse(FROM), 4, 30).map(({ solar, load, grid, battery, soc }) => ({
      solar_w: solar,
      load_w: load,
      grid_w: grid,
      battery_w: battery,
      soc_pct: soc,
    })),
    FROM,
    1800,
  );
  return home;
}

/** Reads a document and uses it, as the command line would; what it gives must be well formed. */
async function use(kind: Kind, text: string): Promise<string | null> {
  const log = await homeLog();
  if (kind === 'system') return malformedIn(analyse(parseSystem(text, 'system.json'), [log]));
  if (kind === 'journal')
    return malformedIn(analyse(CORPUS_HOME, [log], undefined, [], parseJournal(text, 'journal.json')));
  if (kind === 'mapping') {
    const mapping = parseMapping(text, 'map.json');
    const rows = Array.from(
      { length: 50 },
      (_, i) =>
        `2024-05-04T${String(10 + Math.floor(i / 12))}:${String((i % 12) * 5).padStart(2, '0')}:00Z,${400 + i},${50 + (i % 7)}`,
    );
    const { log: mapped } = await read(`When,A,B\n${rows.join('\n')}\n`, 'a.csv', undefined, CORPUS_HOME, [
      mapping,
    ]);
    return malformedIn(analyse(CORPUS_HOME, [mapped]));
  }
  const { capacityKWh, restKWh, missingKWh } = runBudget(parseRun(text, 'run.json'));
  const isWell =
    (capacityKWh === null || capacityKWh > 0) && restKWh.low <= restKWh.high && Number.isFinite(missingKWh);
  return isWell ? null : JSON.stringify({ capacityKWh, restKWh, missingKWh });
}

/** Spoils one document and uses it: it must be refused in words that name the key, or give figures that are well formed. */
export async function tryDocument(seed: number): Promise<Trial> {
  const random = seededRandom(seed);
  const kind = KINDS[Math.floor(random() * KINDS.length)]!;
  const document = DOCUMENTS[kind];
  const paths = pathsOf(document).filter((path) => path.length > 0);
  const path = paths[Math.floor(random() * paths.length)]!;
  const spoil = Math.floor(random() * SPOILS.length);
  const text = SPOILS[spoil]!(document, path, random);
  const begin = performance.now();
  let [outcome, why]: [Outcome, string] = ['equal', ''];
  try {
    const malformed = await use(kind, text);
    if (malformed) [outcome, why] = ['broken', malformed];
  } catch (error) {
    outcome = 'refused';
    if (!(error instanceof InputError)) [outcome, why] = ['broken', (error as Error).stack ?? String(error)];
    else {
      const unclear = error.problems.find(
        ({ found, mend }) =>
          /zod|expected .* received|invalid input|undefined/i.test(found + mend) ||
          found.length + mend.length < 20,
      );
      if (unclear) [outcome, why] = ['broken', `Not said in words: ${JSON.stringify(unclear)}`];
    }
  }
  const ms = performance.now() - begin;
  if (ms > 5000) [outcome, why] = ['broken', `It took ${Math.round(ms)} ms.`];
  return { seed, shape: kind, mutation: `spoil ${spoil} at ${path.join('.')}`, outcome, why, ms };
}
