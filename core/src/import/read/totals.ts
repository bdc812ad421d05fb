import { placeOnGrid } from '../merge/placeOnGrid.js';
import { InputError } from '../../model/problem.js';
import type { UnshapedEnergy, SourceLog } from '../../model/log.js';
import { FLOWS } from '../../model/quantity.js';
import { parseInstant } from '../../time/instant.js';
import { readNumber } from './number.js';
import { splitRow } from './splitRow.js';

/** True of the header of a file of energies without a course, as a home of totals is saved. */
export function isTotals(names: readonly string[]): boolean {
  const words = names.map((name) => name.trim().toLowerCase());
  return (
    words.includes('time') && words.includes('until') && FLOWS.some((flow) => words.includes(`${flow}_kwh`))
  );
}

/**
 * Energies without their course from the bytes of their file: `time`, `until` and a column for each flow in kWh.
 * @throws InputError when no line of it can be used
 */
export function readTotals(name: string, bytes: Uint8Array): { log: SourceLog; rows: number } {
  let names: string[] | null = null;
  let rows = 0;
  const skipped: number[] = [];
  const lumps: UnshapedEnergy[] = [];
  let line = 1;
  for (let at = 0; at < bytes.length;) {
    const row = splitRow(bytes, at, bytes.length);
    if (!row) break;
    const cells = row.cells.map((cell) => cell.trim());
    const first = line;
    at = row.next;
    line += row.lines;
    if (cells.every((cell) => cell === '')) continue;
    if (!names) {
      names = cells.map((cell) => cell.replace(/^\uFEFF/, '').toLowerCase());
      continue;
    }
    const cell = (word: string) => cells[names!.indexOf(word)] ?? '';
    const [fromMs, toMs] = [parseInstant(cell('time')), parseInstant(cell('until'))];
    const leads = cell('leads') === '1' ? { leads: true as const } : {};
    const own = FLOWS.flatMap((flow): UnshapedEnergy[] => {
      const kWh = readNumber(cell(`${flow}_kwh`), '.')?.value ?? NaN;
      return kWh >= 0 && fromMs < toMs
        ? [{ flow, source: name, fromMs, toMs, wh: kWh * 1000, ...leads }]
        : [];
    });
    lumps.push(...own);
    rows++;
    if (own.length === 0) skipped.push(first);
  }
  if (lumps.length === 0) {
    const found = 'No line holds a time, its end and an energy in kWh.';
    throw new InputError([
      { where: name, found, mend: 'Write time and until with their offsets, and energies of zero or more.' },
    ]);
  }
  const log = placeOnGrid({ name, timeMs: new Float64Array(0), columns: [] }, lumps);
  if (skipped.length === 0) return { log, rows };
  const message = `${skipped.length} ${skipped.length === 1 ? 'row holds' : 'rows hold'} no energy that can be used; first on line ${skipped[0]!}.`;
  const told = {
    code: 'not-a-number',
    severity: 'warning',
    fromMs: null,
    toMs: null,
    message,
    source: name,
    kWh: null,
  } as const;
  return { log: { ...log, findings: [told] }, rows };
}
