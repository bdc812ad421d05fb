import type { Finding } from '../../model/finding.js';
import type { SourceLog } from '../../model/log.js';
import { InputError } from '../../model/problem.js';
import { instantOfLocal, zoneOf } from '../../time/zone.js';
import { coarse } from '../merge/coarse.js';
import { placeOnGrid } from '../merge/placeOnGrid.js';
import { sayer } from '../merge/rows.js';
import { mappedLayout } from './layout.js';
import type { Mapping, PeriodFormat } from './mapping.js';
import { readNumber } from './number.js';
import { readPeriods } from './period.js';
import { splitRow } from './splitRow.js';
import type { RawColumn } from './table.js';

/** Year of periods that name none, where nobody said which. */
const SOME_YEAR = 2000;

/**
 * A statement from the bytes of its file: a row for each month, year or range of dates, with the energies of it.
 * @param zone of the site, in which its days begin
 * @throws InputError when no row of it can be used
 */
export function readStatement(
  name: string,
  bytes: Uint8Array,
  mapping: Mapping,
  zone: string,
): { log: SourceLog; rows: number } {
  const { table, time } = mapping;
  const lines = linesOf(bytes, table.separator.charCodeAt(0));
  const header = lines.find(({ line }) => line === table.headerLine);
  const layout = mappedLayout(mapping, header?.cells ?? [], name);
  const [field, endField] = layout.timeFields as [number, number?];
  const data = lines.filter(({ line }) => line > table.headerLine + table.skipLines);
  const periods = readPeriods(
    data.map(({ cells }) => [
      cells[field] ?? '',
      endField === undefined ? undefined : (cells[endField] ?? ''),
    ]),
    time.format as PeriodFormat,
    time.year ?? SOME_YEAR,
  );
  const kept = data.flatMap(({ cells }, i) => (periods[i] ? [{ cells, period: periods[i] }] : []));
  if (kept.length === 0) {
    const found = 'No row names a month, a year or a range of dates.';
    const mend = 'Write each row as "2024-03", "March 2024", "2024" or "1 Mar 2024 – 31 Mar 2024".';
    throw new InputError([{ where: name, line: table.headerLine + 1, found, mend }]);
  }
  const at = zoneOf(zone);
  const spans = kept.map(
    ({ period }) => [instantOfLocal(at, period.fromMs), instantOfLocal(at, period.untilMs)] as const,
  );
  const columns = layout.rules.flatMap((rule, f): RawColumn[] => {
    if (!rule) return [];
    const written = kept.map(({ cells }) => readNumber(cells[f] ?? '', layout.decimal));
    const decimals = Math.max(0, ...written.map((one) => one?.decimals ?? 0));
    return [
      {
        rule,
        values: Float64Array.from(written, (one) => (one ? (one.value + rule.shift) * rule.scale : NaN)),
        resolution: Math.abs(rule.scale) / 10 ** decimals,
      },
    ];
  });
  const findings: Finding[] = [];
  const say = sayer(name, findings);
  const skipped = data.filter(({ cells }, i) => !periods[i] && cells.some((cell) => cell !== ''));
  if (skipped.length > 0)
    say(
      'unreadable-time',
      'warning',
      `${skipped.length} ${skipped.length === 1 ? 'row names' : 'rows name'} no period and ${skipped.length === 1 ? 'is' : 'are'} left out; the first is line ${skipped[0]!.line}.`,
    );
  const timeMs = Float64Array.from(spans, ([fromMs]) => fromMs);
  const { table: rows, lumps, states } = coarse(name, { timeMs, columns }, findings, say, spans);
  const log = placeOnGrid(rows, lumps, states);
  return { log: { ...log, findings: [...findings, ...log.findings] }, rows: kept.length };
}

interface Line {
  readonly cells: readonly string[];
  readonly line: number;
}

function linesOf(bytes: Uint8Array, separator: number): Line[] {
  const lines: Line[] = [];
  let line = 1;
  for (let at = 0; at < bytes.length;) {
    const row = splitRow(bytes, at, bytes.length, separator);
    if (!row) break;
    lines.push({ cells: row.cells.map((cell) => cell.trim().replace(/^\uFEFF/, '')), line });
    at = row.next;
    line += row.lines;
  }
  return lines;
}
