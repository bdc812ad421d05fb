import { describe, expect, test } from '@jest/globals';
import { endMs } from '../model/log.js';
import { prepare } from '../passes/prepare.js';
import { report } from '../report/report.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { STATEMENT_PARTS, statementOf } from './statement.js';

const DAY = 86_400_000;
const log = simulatedStore({
  seed: 2,
  days: 500,
  stepSeconds: 3600,
  idleW: 30,
  efficiency: 0.9,
  socStep: 0.01,
});
const note = {
  fromMs: log.startMs + 401 * DAY,
  toMs: log.startMs + 402 * DAY,
  kind: 'weather',
  text: 'hail',
  leaveOut: false,
} as const;
const prepared = prepare(STORE_HOME, [log], [], [note, { ...note, fromMs: 0, toMs: 1 }]);
/** February 2024, of a log that begins in January 2023. */
const range = { fromMs: Date.UTC(2024, 1, 1), toMs: Date.UTC(2024, 2, 1) };

describe('a statement', () => {
  const statement = statementOf(prepared, range);
  test('has the figures of its range, of the same days of the year before, and of the year so far', () => {
    expect(statement.now['account.load']!.value).toBe(report(prepared, range).figures['account.load']!.value);
    expect(new Date(statement.yearBefore!.fromMs).toISOString()).toBe('2023-02-01T00:00:00.000Z');
    // 29 days against the 28 up to the same date.
    expect(new Date(statement.yearBefore!.toMs).toISOString()).toBe('2023-03-01T00:00:00.000Z');
    expect(statement.yearBefore!.figures).toEqual(report(prepared, statement.yearBefore!).figures);
    expect(new Date(statement.toDate!.fromMs).toISOString()).toBe('2024-01-01T00:00:00.000Z');
    expect(statement.toDate!.figures['account.load']!.value!).toBeGreaterThan(
      statement.now['account.load']!.value!,
    );
  });
  test('has the notes that touch it, and no year before where the log does not reach', () => {
    expect(statement.journal.map(({ text }) => text)).toEqual(['hail']);
    const first = statementOf(prepared, { fromMs: log.startMs, toMs: log.startMs + 31 * DAY });
    expect(first.yearBefore).toBeNull();
    expect(first.toDate).toBeNull();
    expect(statementOf(prepared, { fromMs: log.startMs, toMs: endMs(log) }).toDate).not.toBeNull();
  });
  test('names figures that there are', () => {
    for (const { keys } of STATEMENT_PARTS)
      for (const key of keys) expect([key, statement.now[key] !== undefined]).toEqual([key, true]);
  });
});
