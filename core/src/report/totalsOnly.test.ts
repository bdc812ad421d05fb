import { describe, expect, test } from '@jest/globals';
import type { SourceLog } from '../model/log.js';
import { systemOf, TEN_KWH } from '../testing/logs.js';
import { analyse } from './report.js';

const START = Date.UTC(2024, 5, 1);
const HOUR_MS = 3_600_000;

/** Ten days of hours with 1 kW of load, all of it bought; of two days only a counter's difference is known. By hand. */
function logWith(wh: number): SourceLog {
  const values = new Float64Array(240).fill(1000);
  values.fill(NaN, 96, 144);
  const stretch = { fromMs: START + 96 * HOUR_MS, toMs: START + 144 * HOUR_MS, source: 'meter.csv' };
  return {
    ...{ name: 'meter.csv', startMs: START, stepMs: HOUR_MS, count: 240, findings: [] },
    lumps: [
      { flow: 'load', wh, ...stretch },
      { flow: 'import', wh, ...stretch },
    ],
    columns: new Map([
      ['load', { values, resolution: 1 }],
      ['grid', { values: values.slice(), resolution: 1 }],
    ]),
  };
}

describe('hours of which only a counter’s difference is known', () => {
  const codes = (wh: number) => {
    const { findings, figures } = analyse(systemOf(TEN_KWH), [logWith(wh)]);
    return {
      kWh: figures['account.load']!.value,
      said: findings.filter(({ code }) => code === 'totals-only' || code === 'counters-stood'),
    };
  };
  test('are told, and count in the totals', () => {
    const { kWh, said } = codes(48_000);
    expect(kWh).toBeCloseTo(240, 6);
    expect(said.map(({ code }) => code)).toEqual(['totals-only']);
    expect(said[0]!.message).toContain('48.0 h (load, import; the longest from 2024-06-05');
  });
  test('in which the counter stood still with its logger are warned of', () => {
    const { kWh, said } = codes(900);
    expect(kWh).toBeCloseTo(192.9, 6);
    expect(said.map(({ code }) => code).sort()).toEqual(['counters-stood', 'totals-only']);
  });
});
