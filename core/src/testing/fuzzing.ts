import { readFile } from '../import/readLog.js';
import { InputError } from '../model/problem.js';
import { analyse } from '../report/report.js';
import type { Report, ReportFinding } from '../report/reportFormat.js';
import type { SourceLog } from '../model/log.js';
import { seededRandom } from '../statistics/random.js';
import { bytesOf } from './logs.js';
import { SHAPES } from './corpus.js';
import { CORPUS_HOME, series, type Interval, type Shape } from './shape.js';
import type { CaseFile, Mutation } from './mutation.js';
import { MUTATIONS } from './mutations.js';

/** What became of a mutated log. `silent`: figures changed without a word; `broken`: it ended in no way a reader understands. */
export type Outcome = 'equal' | 'told' | 'asked' | 'refused' | 'silent' | 'broken';

export interface Trial {
  readonly seed: number;
  readonly shape: string;
  readonly mutation: string;
  readonly outcome: Outcome;
  /** What was wrong, for an outcome that is. */
  readonly why: string;
  readonly ms: number;
}

/** A file this small is done in so much. */
const MOST_MS = 5000;
const FROM = Date.UTC(2024, 4, 3) - 3_600_000;
/** Rows of the counters and totals are few enough; the others are drawn out by their step. */
const STEP_MINUTES = 15;
/** Codes that tell of data that are missing, wrong or doubtful; others tell of the home. */
const EXPLAINS = new Set(
  [
    'not-a-number beyond-range unreadable-time no-offset implausible-time ragged-row unordered-rows doubled-rows',
    'uneven-step stray-times left-out clock-skips-not clock-repeats coarse coarse-unused counter-only counter-fell',
    'counter-reset sign-turned unit-mistaken columns-exchanged implausible depth-for-charge spikes stuck-values solar-at-night',
    'clock-shift daylight-saving closing-error gaps sources-differ above-rating sums-differ clocks-differ coarse-step',
    'closed-by-construction unknown-columns both-ways meter-floor counter-differs no-table totals-only counters-stood',
  ].flatMap((line) => line.split(' ')),
);

interface Read {
  readonly report: Report | null;
  /** Why there is none. */
  readonly refusal: InputError | null;
}

const sound = new Map<string, Read>();

/** The home of the corpus as its files are read, without anyone to ask. */
async function readAll(files: readonly CaseFile[]): Promise<Read> {
  try {
    const logs: SourceLog[] = [];
    for (const { name, bytes } of files)
      for (const { log } of await readFile(name, () => bytesOf(bytes), CORPUS_HOME)) logs.push(log);
    return { report: analyse(CORPUS_HOME, logs), refusal: null };
  } catch (error) {
    if (error instanceof InputError) return { report: null, refusal: error };
    throw error;
  }
}

function listOf({ stepMinutes, days }: Shape): Interval[] {
  return series(FROM, days, stepMinutes === 5 ? STEP_MINUTES : stepMinutes);
}

function fileOf(shape: Shape, list: readonly Interval[]): CaseFile {
  const content = shape.write(list);
  return {
    name: shape.file,
    bytes: typeof content === 'string' ? new TextEncoder().encode(content) : content,
  };
}

function mutated(mutation: Mutation, shape: Shape, seed: number): CaseFile[] {
  const random = seededRandom(seed);
  const list = mutation.series ? mutation.series(listOf(shape), random) : listOf(shape);
  let file = fileOf(shape, list);
  if (mutation.lines) {
    const lines = new TextDecoder().decode(file.bytes).split('\n');
    const text = mutation.lines(lines, random, shape).join('\n');
    file = { ...file, bytes: new TextEncoder().encode(text) };
  }
  if (mutation.bytes) file = { ...file, bytes: mutation.bytes(file.bytes, random, shape) };
  return mutation.files ? mutation.files(file, random, shape) : [file];
}

/**
 * Mutates one file of the corpus and holds what is read of it against what is read of the sound one: it must not break,
 * take long or give a malformed figure, and where a figure differs something must tell why.
 */
export async function tryLog(seed: number): Promise<Trial> {
  const random = seededRandom(seed);
  const mutation = MUTATIONS[Math.floor(random() * MUTATIONS.length)]!;
  const shapes = SHAPES.filter((shape) => mutation.fits?.(shape) ?? true);
  const shape = shapes[Math.floor(random() * shapes.length)]!;
  let before = sound.get(shape.name);
  if (!before) sound.set(shape.name, (before = await readAll([fileOf(shape, listOf(shape))])));
  const begin = performance.now();
  let outcome: Outcome;
  let why: string;
  try {
    const after = await readAll(mutated(mutation, shape, seed));
    [outcome, why] = capacityAssessment(mutation, before, after);
  } catch (error) {
    [outcome, why] = ['broken', (error as Error).stack ?? String(error)];
  }
  const ms = performance.now() - begin;
  if (ms > MOST_MS) [outcome, why] = ['broken', `It took ${Math.round(ms)} ms.`];
  return { seed, shape: shape.name, mutation: mutation.name, outcome, why, ms };
}

function capacityAssessment(mutation: Mutation, before: Read, after: Read): [Outcome, string] {
  if (after.refusal) {
    const unclear = after.refusal.problems.find(({ found, mend }) => found.length < 10 || mend.length < 10);
    if (unclear) return ['broken', `Not said in words: ${JSON.stringify(unclear)}`];
    const isQuestion = after.refusal.problems.every(({ mend }) => mend.includes('--map'));
    // A file that says the same must not be refused, but where the sound one is asked about too.
    if (mutation.kind === 'same' && before.report && !isQuestion)
      return ['silent', `Refused: ${after.refusal.message}`];
    return [isQuestion ? 'asked' : 'refused', ''];
  }
  const report = after.report!;
  const malformed = malformedIn(report);
  if (malformed) return ['broken', malformed];
  // Of a log that is asked about there are no figures to compare with; mutated, it answers itself or is asked.
  if (!before.report) return ['told', ''];
  const changed = changedFigure(before.report, report, mutation.kind === 'same' ? 1e-6 : 0.02);
  if (!changed && mutation.kind !== 'loses') return ['equal', ''];
  if (mutation.kind === 'same') return ['silent', changed!];
  // Of several members left out each is told by itself.
  const mark = ({ code, message }: ReportFinding) => (code === 'left-out' ? message : code);
  const was = new Set(before.report.findings.map(mark));
  const isCovered = report.coverage.share < before.report.coverage.share - 1e-9;
  const isNewGap = report.coverage.gaps.length > before.report.coverage.gaps.length;
  const said = report.findings.filter((finding) => EXPLAINS.has(finding.code) && !was.has(mark(finding)));
  const isShorter = report.range.days < before.report.range.days;
  if (isCovered || isNewGap || said.length > 0 || (mutation.kind === 'loses' && isShorter))
    return ['told', ''];
  return ['silent', changed ?? 'Something is missing, and neither coverage nor a finding tells of it.'];
}

/** The first figure that is no figure: bounds out of order, a number that is none, a reason that is missing. */
export function malformedIn({ figures }: Report): string | null {
  for (const [key, { value, low, high, status, reason }] of Object.entries(figures)) {
    const isAbsent = status === 'insufficient' || status === 'not-measured';
    const isWell = isAbsent
      ? value === null && low === null && high === null && (reason?.length ?? 0) > 10
      : value !== null && Number.isFinite(low) && Number.isFinite(high) && low! <= value && value <= high!;
    if (!isWell) return `${key}: ${JSON.stringify({ value, low, high, status, reason })}`;
  }
  return null;
}

/**
 * The first figure that has changed by more than a share of itself and, unless the files say the same, to beyond what its
 * own interval allowed.
 */
function changedFigure(before: Report, after: Report, share: number): string | null {
  for (const [key, was] of Object.entries(before.figures)) {
    const is = after.figures[key];
    const text = `${key}: ${was.value} (${was.low} to ${was.high}), then ${is?.value} ${is?.reason ?? ''}`;
    if (was.value === null) continue;
    if (is?.value == null) {
      if (share < 1e-3) return text;
      continue;
    }
    // One changed digit of one row moves a small sum by more than its share, and nothing could tell it.
    const least = was.unit === 'kWh' && share > 1e-3 ? 2 : 1e-3;
    const isSame = Math.abs(is.value - was.value) <= share * Math.max(Math.abs(was.value), least);
    const isWithin = share > 1e-3 && is.value >= was.low! && is.value <= was.high!;
    if (!isSame && !isWithin) return text;
  }
  return null;
}

/** How many trials ended in each way, and those that must not. */
export interface Tally {
  readonly counts: Readonly<Record<Outcome, number>>;
  readonly bad: readonly Trial[];
  readonly slowestMs: number;
}

/** Tries a number of mutations, one after the other. */
export async function tryMany(
  firstSeed: number,
  count: number,
  tryOne: (seed: number) => Promise<Trial> = tryLog,
): Promise<Tally> {
  const counts = { equal: 0, told: 0, asked: 0, refused: 0, silent: 0, broken: 0 };
  const bad: Trial[] = [];
  let slowestMs = 0;
  for (let i = 0; i < count; i++) {
    const trial = await tryOne(firstSeed + i);
    counts[trial.outcome]++;
    slowestMs = Math.max(slowestMs, trial.ms);
    if (trial.outcome === 'silent' || trial.outcome === 'broken') bad.push(trial);
  }
  return { counts, bad, slowestMs };
}
