import type { Figure, WorkingLine } from '../model/figure.js';
import type { Report } from './reportFormat.js';

/** A figure as it is written: dates as ISO 8601 text. */
export interface WrittenFigure extends Omit<Figure, 'value' | 'low' | 'high' | 'working'> {
  readonly value: number | string | null;
  readonly low: number | string | null;
  readonly high: number | string | null;
  readonly working: readonly (Omit<WorkingLine, 'value'> & { readonly value: number | string })[];
}

/** The report as it is written to files and printed. */
export type WrittenReport = Omit<Report, 'figures'> & {
  readonly figures: Readonly<Record<string, WrittenFigure>>;
};

/** A report with its dates as text, `2031-04-09`, value and bounds alike; inside they are epoch ms. */
export function writtenReport(report: Report): WrittenReport {
  return {
    ...report,
    figures: Object.fromEntries(
      Object.entries(report.figures).map(([key, figure]) => [key, written(figure)]),
    ),
  };
}

function written(figure: Figure): WrittenFigure {
  const dated = figure.working.some(({ unit }) => unit === 'date');
  if (figure.unit !== 'date' && !dated) return figure;
  const text = (ms: number | null) => (ms === null ? null : dateText(ms));
  const working = figure.working.map((line) =>
    line.unit === 'date' ? { ...line, value: dateText(line.value) } : line,
  );
  return figure.unit === 'date'
    ? { ...figure, value: text(figure.value), low: text(figure.low), high: text(figure.high), working }
    : { ...figure, working };
}

/** A date of four digits of the year; beyond them it is never reached by anything that is measured. */
function dateText(ms: number): string {
  const latest = Date.UTC(9999, 11, 31);
  return new Date(Math.min(latest, Math.max(0, ms))).toISOString().slice(0, 10);
}
