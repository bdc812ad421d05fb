import { canonicalHeader } from '../import/read/columns.js';
import type { Log, SourceLog } from '../model/log.js';
import { FLOWS, isAmount, isOfInterval, isPower, type Quantity } from '../model/quantity.js';
import { csvOf, quoted, type Cell, type Field } from '../model/csvTable.js';
import { isoOf } from '../time/instant.js';

/** Rows written at a time. */
const ROWS = 20_000;

/**
 * The logged channels of a home as a canonical log file, in pieces of text: one line a cell, empty where missing or only
 * bridged. Read back, it gives the same figures.
 */
export function* canonicalCsv(log: Log): Generator<string> {
  const channels = [...log.channels].filter(([, channel]) => channel.origin === 'logged');
  yield `${['time', ...channels.map(([quantity]) => quoted(canonicalHeader(quantity)))].join(',')}\n`;
  const scale = (quantity: Quantity) =>
    quantity === 'soc' ? 100 : isAmount(quantity) ? log.stepMs / 3_600_000 : 1;
  for (let from = 0; from < log.count; from += ROWS) {
    const lines: string[] = [];
    for (let i = from; i < Math.min(log.count, from + ROWS); i++) {
      const cells = channels.map(([quantity, { values, bridged, texts }]) => {
        const text = texts?.[values[i]!];
        if (text !== undefined) return bridged[i] === 1 ? '' : quoted(text);
        const value = values[i]! * scale(quantity);
        // Fifteen digits are what a double holds for certain; a share given back as per cent must not end in a tail of them.
        return Number.isNaN(value) || bridged[i] === 1
          ? ''
          : String(isPower(quantity) ? value : Number(value.toPrecision(15)));
      });
      if (cells.some((cell) => cell !== ''))
        lines.push(`${isoOf(log.startMs + i * log.stepMs)},${cells.join(',')}\n`);
    }
    yield lines.join('');
  }
}

/** The columns of a home's canonical log file. */
export function canonicalFields(log: Log): Field[] {
  const logged = [...log.channels].filter(([, channel]) => channel.origin === 'logged');
  return [
    { name: 'time', type: 'datetime', description: 'start of the interval' },
    ...logged.map(([quantity, { texts }]): Field => ({
      name: canonicalHeader(quantity),
      type: texts ? 'string' : 'number',
      description: isPower(quantity)
        ? `${quantity}, mean of the interval, W`
        : isOfInterval(quantity)
          ? `${quantity} of the interval`
          : `${quantity} at its start`,
    })),
  ];
}

/** The columns of the file of energies without a course. */
export const TOTALS_FIELDS: readonly Field[] = [
  { name: 'time', type: 'datetime', description: 'start of the stretch' },
  { name: 'until', type: 'datetime', description: 'its end' },
  ...FLOWS.map((flow): Field => ({ name: `${flow}_kwh`, type: 'number', description: `${flow}, kWh` })),
  { name: 'leads', type: 'integer', description: '1 where a utility meter leads the totals' },
];

/**
 * Energies that a home's sources know without their course, one line a stretch, which readTotals reads back; null where there are none.
 */
export function totalsCsv({ sources }: { readonly sources: readonly SourceLog[] }): string | null {
  const lines = new Map<string, Cell[]>();
  for (const { flow, fromMs, toMs, wh, leads, source } of sources.flatMap(({ lumps }) => lumps)) {
    const key = [fromMs, toMs, source, leads].join();
    const line = lines.get(key) ?? [isoOf(fromMs), isoOf(toMs), ...FLOWS.map(() => null), leads ? 1 : null];
    line[2 + FLOWS.indexOf(flow)] = wh / 1000;
    lines.set(key, line);
  }
  if (lines.size === 0) return null;
  const rows = [...lines.values()].sort(([a], [b]) => (a! < b! ? -1 : a! > b! ? 1 : 0));
  return csvOf({ fields: TOTALS_FIELDS, rows });
}
