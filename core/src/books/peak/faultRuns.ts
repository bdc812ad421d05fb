import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';

/** A stretch in which the equipment reports the same fault. */
export interface FaultRun extends Range {
  readonly code: number;
  /** As the file writes it: its words, else "code 7". */
  readonly text: string;
}

/** One fault, whenever it was reported. */
export interface Fault {
  readonly text: string;
  readonly runs: readonly FaultRun[];
  readonly hours: number;
}

/** What a code of a log's fault column says. */
export function faultText(log: Log, code: number): string {
  return log.channels.get('fault')?.texts?.[code] ?? `code ${code}`;
}

/** The faults that a log reports in a range, in order of time; an interval without a code ends a run. */
export function faultRuns(log: Log, { fromMs, toMs }: Range): FaultRun[] {
  const codes = log.channels.get('fault')?.values;
  if (!codes) return [];
  const runs: FaultRun[] = [];
  const end = cellAt(log, toMs);
  for (let i = cellAt(log, fromMs); i < end;) {
    const code = codes[i]!;
    const from = i++;
    if (!(code !== 0 && code === code)) continue;
    while (i < end && codes[i] === code) i++;
    const atMs = (cell: number) => log.startMs + cell * log.stepMs;
    runs.push({ fromMs: atMs(from), toMs: atMs(i), code, text: faultText(log, code) });
  }
  return runs;
}

/** Runs put together by what they say, the most frequent first. */
export function faultsOf(runs: readonly FaultRun[]): Fault[] {
  const texts = [...new Set(runs.map(({ text }) => text))];
  return texts
    .map((text) => {
      const own = runs.filter((run) => run.text === text);
      return {
        text,
        runs: own,
        hours: own.reduce((sum, run) => sum + (run.toMs - run.fromMs) / 3_600_000, 0),
      };
    })
    .sort((a, b) => b.runs.length - a.runs.length || b.hours - a.hours);
}
