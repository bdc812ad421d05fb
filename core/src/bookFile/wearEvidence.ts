import type { Figure } from '../model/figure.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import { report } from '../report/report.js';
import type { Range } from '../model/range.js';
import { isoOf } from '../time/instant.js';
import { socCycles } from '../books/wear/cycles.js';
import { csvLine, type Cell } from '../model/csvTable.js';

/** Figures whose working goes along. */
const HEADLINES = /^(?:wear|capacity|warranty)\./;

/** The evidence of the wear of a range as files by name: cycles, capacity estimates, and the figures with their working. */
export function wearEvidence(prepared: Prepared, range: Range): Readonly<Record<string, string>> {
  const data = rangeDataOf(prepared, range);
  const { figures } = report(prepared, range, 'days');
  return {
    'cycles.csv': table(
      ['from', 'to', 'depth_share', 'mean_share', 'count'],
      socCycles(data.turningPoints).map(({ fromMs, toMs, depth, mean, count }) => [
        isoOf(fromMs),
        isoOf(toMs),
        depth,
        mean,
        count,
      ]),
    ),
    'capacity.csv': table(
      [
        'at',
        'kWh',
        'low',
        'high',
        'depth_share',
        'side',
        'kind',
        'direction',
        'configuration',
        'temperature_c',
      ],
      data.estimates
        .filter(({ atMs }) => atMs >= range.fromMs)
        .map(({ atMs, wh, half, depth, kind, direction, configuration, temperature }) => [
          isoOf(atMs),
          wh / 1000,
          (wh - half) / 1000,
          (wh + half) / 1000,
          depth,
          data.batterySide,
          kind,
          direction,
          configuration.name,
          Number.isNaN(temperature) ? '' : temperature,
        ]),
    ),
    'working.csv': table(
      ['figure', 'line', 'value', 'unit', 'role'],
      Object.entries(figures)
        .filter(([key]) => HEADLINES.test(key))
        .flatMap(([key, figure]) => linesOf(key, figure)),
    ),
  };
}

function linesOf(key: string, figure: Figure): Cell[][] {
  return [
    [key, `${figure.status}: ${figure.formula}`, figure.value ?? '', figure.unit, 'figure'],
    ...(figure.value === null
      ? [[key, figure.reason ?? '', '', '', 'reason']]
      : [
          [key, 'low', figure.low!, figure.unit, 'interval'],
          [key, 'high', figure.high!, figure.unit, 'interval'],
        ]),
    ...figure.working.map(({ label, value, unit, role }) => [key, label, value, unit, role]),
    ...figure.assumptions.map((assumption) => [key, assumption, '', '', 'assumption']),
    [key, figure.source, '', '', 'source'],
  ];
}

function table(header: readonly string[], rows: readonly (readonly Cell[])[]): string {
  return [header, ...rows].map(csvLine).join('');
}
