import type { SourceLog } from '../model/log.js';
import { isoOf } from '../time/instant.js';

const FLOWS = [
  ['PV total (kWh)', 'solar', 1],
  ['Consumption total (kWh)', 'load', 1],
  ['Import total (kWh)', 'grid', 1],
  ['Export total (kWh)', 'grid', -1],
  ['Battery charged total (kWh)', 'battery', -1],
  ['Battery discharged total (kWh)', 'battery', 1],
] as const;

/**
 * The same home as its counters would log it: what each flow has come to since some earlier day, cut to whole digits.
 * @param log of solar, load, grid, battery and SOC
 * @param digitKWh last digit of the counters
 */
export function countersCsv(log: SourceLog, digitKWh: number): string {
  const { startMs, stepMs, count, columns } = log;
  const kWh = FLOWS.map((_, f) => 77.3 + 211.7 * f);
  const soc = columns.get('soc')!.values;
  const decimals = Math.max(0, -Math.floor(Math.log10(digitKWh) + 1e-9));
  const shown = (value: number) => (Math.floor(value / digitKWh + 1e-9) * digitKWh).toFixed(decimals);
  const lines = [`Time,${FLOWS.map(([name]) => name).join(',')},SOC (%)`];
  for (let i = 0; i < count; i++) {
    lines.push(`${isoOf(startMs + i * stepMs)},${kWh.map(shown).join(',')},${Math.round(100 * soc[i]!)}`);
    FLOWS.forEach(([, quantity, sign], f) => {
      kWh[f]! += (Math.max(0, sign * columns.get(quantity)!.values[i]!) * stepMs) / 3.6e9;
    });
  }
  return `${lines.join('\n')}\n`;
}
