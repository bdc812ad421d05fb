import type { Finding } from '../model/finding.js';
import type { BusColumns } from './busColumns.js';
import { cellAt, endMs, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';
import type { JournalNote } from '../system/journal.js';
import { dayNumberAt, dayOf } from '../time/days.js';
import { siteTimeOf, zoneOf, type Zone } from '../time/zone.js';
import { signsOf } from './busColumns.js';
import type { Interruption } from './interruptions.js';

/** A grid that gives or takes no more than this, W, may be down. */
const NOTHING_W = 20;
/** So much of an interruption must lie in a test of the journal to be planned. */
const PLANNED_SHARE = 0.5;
/** So much of an outage in the journal must be quiet in the log. */
const QUIET_SHARE = 0.5;

/** Interruptions with what the journal says of them. */
export interface Told {
  readonly interruptions: readonly Interruption[];
  /** Outages of the journal that the log speaks against. */
  readonly findings: readonly Finding[];
}

/**
 * Adds the outages and the tests of which the journal alone knows, and marks those that a test explains as planned. A note over whole
 * days names days, not the hours of an outage; where the log shows the grid at work, the log leads.
 * @param tests of the journal, and trials for which the home was taken off the grid
 * @param found interruptions by what is logged, in order of time
 */
export function withJournal(
  log: Log,
  columns: BusColumns,
  configurations: readonly Configuration[],
  notes: readonly JournalNote[],
  tests: readonly Range[],
  found: readonly Interruption[],
): Told {
  const zone = zoneOf(log.zone);
  const interruptions = [...found];
  const findings: Finding[] = [];
  const outages = notes.filter(({ kind }) => kind === 'outage');
  for (const note of [...outages, ...tests]) {
    const { fromMs, toMs } = note;
    const isOutside = toMs <= log.startMs || fromMs >= endMs(log);
    const hasGrid = configurations.some((one) => one.hasGrid && one.fromMs < toMs && one.toMs > fromMs);
    if (isOutside || !hasGrid || isOfDays(note, zone)) continue;
    if (found.some((one) => overlapMs(one, note) > 0)) continue;
    const stretch = quietest(log, columns, note);
    if (stretch) interruptions.push({ ...stretch, evidence: 'journal', isPlanned: false, isSure: false });
    else if (outages.some((one) => one === note))
      findings.push({
        code: 'journal-outage',
        severity: 'note',
        fromMs,
        toMs,
        message: `The journal tells of an outage from ${siteTimeOf(zone, fromMs)}, but the log shows the grid at work all the while. The log leads; look at the times of the note.`,
        source: null,
        kWh: null,
      });
  }
  return {
    interruptions: interruptions
      .sort((a, b) => a.fromMs - b.fromMs)
      .map((one) => ({
        ...one,
        isPlanned: tests.some((test) => overlapMs(one, test) >= PLANNED_SHARE * (one.toMs - one.fromMs)),
      })),
    findings,
  };
}

/** The stretches in which the journal tells of a test. */
export function testsOf(notes: readonly JournalNote[]): Range[] {
  return notes.filter(({ kind }) => kind === 'test').map(({ fromMs, toMs }) => ({ fromMs, toMs }));
}

function overlapMs(a: Range, b: Range): number {
  return Math.min(a.toMs, b.toMs) - Math.max(a.fromMs, b.fromMs);
}

function isOfDays({ fromMs, toMs }: Range, zone: Zone): boolean {
  const begins = (ms: number) => dayOf(zone, dayNumberAt(zone, ms)).fromMs === ms;
  return begins(fromMs) && begins(toMs);
}

/** The longest stretch within a range in which nothing shows the grid at work; null where it is less than half of it. */
function quietest(log: Log, { grid }: BusColumns, { fromMs, toMs }: Range): Range | null {
  const [from, to] = [cellAt(log, fromMs), cellAt(log, toMs)];
  const signs = signsOf(log);
  let [best, length] = [from, 0];
  for (let i = from, run = 0; i < to; i++) {
    const isUp = signs.some(({ values, below }) => values[i]! >= below);
    const isQuiet = !isUp && !(grid && Math.abs(grid[i]!) > NOTHING_W);
    run = isQuiet ? run + 1 : 0;
    if (run > length) [best, length] = [i + 1 - run, run];
  }
  if (length === 0 || length < QUIET_SHARE * (to - from)) return null;
  const atMs = (i: number) => log.startMs + i * log.stepMs;
  return { fromMs: atMs(best), toMs: atMs(best + length) };
}
