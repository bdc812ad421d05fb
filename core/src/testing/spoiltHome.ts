import { expect } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import { analyse } from '../report/report.js';
import type { SourceLog } from '../model/log.js';
import { CORPUS_HOME, series, type Interval } from './shape.js';
import { logOf, type Row } from './logs.js';

/** When the log begins. */
export const FROM = Date.UTC(2024, 1, 20);
export const iso = new Date(FROM).toISOString();
/** An interval as a row of the canonical log. */
export const row = ({ solar, load, grid, battery, soc }: Interval): Row => ({
  solar_w: solar,
  load_w: load,
  grid_w: grid,
  battery_w: battery,
  soc_pct: soc,
});

/** A home's log with every row spoilt in one way, and the sound one. */
export async function spoilt(
  spoil: (row: Row, i: number, interval: Interval) => Row,
  days = 14,
  stepMinutes = 15,
) {
  const list = series(FROM, days, stepMinutes);
  const source = await logOf(
    list.map((interval, i) => spoil(row(interval), i, interval)),
    iso,
    stepMinutes * 60,
    'home.csv',
  );
  const sound = await logOf(list.map(row), iso, stepMinutes * 60, 'home.csv');
  return { source, sound };
}

/** Codes of the findings that propose something, without and with what they propose. */
export async function toldAndMended(spoil: Parameters<typeof spoilt>[0], code: string, days?: number) {
  const { source, sound } = await spoilt(spoil, days);
  const { findings } = prepare(CORPUS_HOME, [source]);
  const found = findings.find((finding) => finding.code === code);
  expect([findings.map((finding) => finding.code), found !== undefined]).toEqual([expect.anything(), true]);
  const { proposal } = found!;
  const again = prepare(CORPUS_HOME, [source], [proposal!]);
  expect(again.findings.map((finding) => finding.code)).not.toContain(code);
  const value = (logs: SourceLog[], key: string, corrections = [proposal!]) =>
    analyse(CORPUS_HOME, logs, undefined, corrections).figures[key]!.value;
  return {
    found: found!,
    mended: (key: string) => value([source], key),
    true: (key: string) => value([sound], key, []),
  };
}
