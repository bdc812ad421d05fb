import { describe, expect, test } from '@jest/globals';
import { surveyFile, readPart } from '../readLog.js';
import { analyse } from '../../report/report.js';
import type { Report } from '../../report/reportFormat.js';
import type { SourceLog } from '../../model/log.js';
import { bytesOf, logOf } from '../../testing/logs.js';
import { MORE_SHAPES, SHAPES as PLAIN } from '../../testing/corpus.js';
import { CORPUS_HOME, series, type Interval } from '../../testing/shape.js';
import { isLong } from '../../testing/long.js';

// Logs of invented shapes with known truth: the canonical log of the same series.
const rowOf = ({ solar, load, grid, battery, soc }: Interval) => ({
  solar_w: solar,
  load_w: load,
  grid_w: grid,
  battery_w: battery,
  soc_pct: soc,
});
const ALL = [...PLAIN, ...MORE_SHAPES];
/** Every eighth of them, where the long checks are not run. */
const SHAPES = isLong ? ALL : ALL.filter((_, i) => i % 8 === 0);
const outcomes: string[] = [];

const canonicals = new Map<string, Promise<Report>>();
/** The report of the canonical log; shapes of as many days and the same step share it. */
function canonicalOf(fromMs: number, list: readonly Interval[], stepMinutes: number): Promise<Report> {
  const key = `${list.length} ${stepMinutes}`;
  const kept =
    canonicals.get(key) ??
    logOf(list.map(rowOf), new Date(fromMs).toISOString(), stepMinutes * 60).then((log) =>
      analyse(CORPUS_HOME, [log]),
    );
  canonicals.set(key, kept);
  return kept;
}

describe('the corpus', () => {
  test.each(SHAPES.map((shape) => [shape.name, shape] as const))('%s', async (name, shape) => {
    // 3 May for the one ambiguous day: 03/05 and 05/03 are both days.
    const fromMs = Date.UTC(2024, 4, 3) - 3_600_000;
    const list = series(fromMs, shape.days, shape.stepMinutes);
    const content = shape.write(list);
    const { surveys } = await surveyFile(shape.file, () => bytesOf(content), CORPUS_HOME);
    const asked = surveys.flatMap(({ recognition }) =>
      recognition.conclusions.filter(({ asks }) => asks).map(({ about }) => about),
    );
    expect([...new Set(asked)].sort()).toEqual([...shape.asks].sort());
    outcomes.push(`${shape.asks.length === 0 ? 'read' : 'asked'} ${name}`);
    const logs: SourceLog[] = [];
    for (const { part, mapping } of surveys) logs.push((await readPart(part, mapping, CORPUS_HOME)).log);
    const canonical = await canonicalOf(fromMs, list, shape.stepMinutes);
    const found = analyse(CORPUS_HOME, logs);
    for (const key of shape.keys) {
      const expected = canonical.figures[key]!.value!;
      const value = found.figures[key]!.value;
      expect([
        key,
        value === null
          ? null
          : Math.abs(value - expected) <= shape.within * Math.abs(expected) + 0.02
            ? 'equal'
            : [value, expected],
      ]).toEqual([key, 'equal']);
    }
  });

  test('is large enough, and its share read without help is printed', () => {
    const read = outcomes.filter((text) => text.startsWith('read')).length;
    console.log(
      `corpus: ${SHAPES.length} shapes, ${read} read without help, ${outcomes.length - read} rightly asked about`,
    );
    expect(ALL.length).toBeGreaterThanOrEqual(80);
    expect(outcomes.length).toBe(SHAPES.length);
  });
});
