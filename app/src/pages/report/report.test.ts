import { describe, expect, test } from '@jest/globals';
import {
  prepare,
  reportLayoutSchema,
  statementOf,
  STATEMENT_PARTS,
  type SourceLog,
  type System,
} from '@long-tally/core';
import { KIND_NAMES, PARTS, PLAIN_LAYOUT } from './parts.js';
import { shortText } from './shortText.js';

const HOME: System = { schema: 'long-tally/system@1', name: 'Mill Lane', timeZone: 'UTC', currency: 'EUR' };
/** Two days of hours: 1 kW of load, half of it bought. Invented. */
const log: SourceLog = {
  name: 'log.csv',
  startMs: Date.UTC(2024, 0, 1),
  stepMs: 3_600_000,
  count: 48,
  lumps: [],
  findings: [],
  columns: new Map([
    ['load', { values: new Float64Array(48).fill(1000), resolution: 1 }],
    ['grid', { values: new Float64Array(48).fill(500), resolution: 1 }],
  ]),
};
const prepared = prepare(HOME, [log]);
const statement = statementOf(prepared, { fromMs: log.startMs, toMs: log.startMs + 48 * 3_600_000 });

describe('the short text of a statement', () => {
  test('says the figures that are known with their intervals, a line a part', () => {
    const text = shortText(statement, 'Mill Lane', '1 – 2 January 2024', 'EUR', []);
    const lines = text.split('\n');
    expect(lines[0]).toBe('Mill Lane, 1 – 2 January 2024');
    // 48 h of 1 kW, half of it bought.
    expect(lines[1]).toMatch(/^Energy: .*Load 48\.0 kWh \(\d.* – .*\).*Import 24\.0 kWh/);
    expect(text).toMatch(/Self-sufficiency, by the meter 50\.0 % \(/);
    expect(text).not.toMatch(/null|NaN|undefined|Money/);
  });
  test('leaves out the parts that the report leaves out', () => {
    expect(shortText(statement, 'x', 'y', 'EUR', ['account', 'schools', 'findings'])).not.toMatch(
      /Energy|Self/,
    );
  });
});

test('a plain layout is sound, and every kind of report has its parts and its name', () => {
  expect(reportLayoutSchema.parse(PLAIN_LAYOUT)).toEqual(PLAIN_LAYOUT);
  for (const kind of Object.keys(KIND_NAMES) as (keyof typeof PARTS)[]) {
    const ids = PARTS[kind].map(([id]) => id);
    expect(new Set(ids).size).toBe(ids.length);
  }
  for (const { id } of STATEMENT_PARTS) expect(PARTS.statement.map(([part]) => part)).toContain(id);
});
