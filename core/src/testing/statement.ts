import type { SourceLog } from '../model/log.js';

const FLOWS = [
  ['Solar', 'solar', 1],
  ['Consumption', 'load', 1],
  ['Import', 'grid', 1],
  ['Export', 'grid', -1],
  ['Battery charged', 'battery', -1],
  ['Battery discharged', 'battery', 1],
] as const;

/**
 * The statement that a portal would give of a home: the energies of its days put together by a name, kWh of one decimal.
 * @param log of solar, load, grid and battery, in UTC
 * @param nameOf what stands in the row of a date: the date itself, or its month
 */
export function statementCsv(log: SourceLog, nameOf: (date: string) => string): string {
  const sums = new Map<string, number[]>();
  for (let i = 0; i < log.count; i++) {
    const name = nameOf(new Date(log.startMs + i * log.stepMs).toISOString().slice(0, 10));
    const row = sums.get(name) ?? FLOWS.map(() => 0);
    sums.set(name, row);
    FLOWS.forEach(([, quantity, sign], f) => {
      row[f]! += Math.max(0, (sign * log.columns.get(quantity)!.values[i]! * log.stepMs) / 3.6e9);
    });
  }
  const rows = [...sums].map(([name, row]) => [name, ...row.map((kWh) => kWh.toFixed(1))].join(','));
  return `Date,${FLOWS.map(([name]) => `${name} (kWh)`).join(',')}\n${rows.join('\n')}\n`;
}
