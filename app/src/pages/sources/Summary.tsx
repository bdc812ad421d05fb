import { counted, decimal, localDateText, quantityText } from '../../ui/format.js';
import type { ReadSummary } from '../../workers/importWorker.js';

interface Props {
  readonly summaries: readonly ReadSummary[];
  readonly timeZone: string;
  readonly onImport: () => void;
  readonly onDiscard: () => void;
}

/** What would be imported: rows, days, quantities with what is missing of them, overlaps and what was met. */
export function Summary({ summaries, timeZone, onImport, onDiscard }: Props) {
  if (summaries.length === 0) return null;
  return (
    <section aria-label="What will be imported" className="mt-4 border-l-4 border-ink pl-3">
      <h2 className="text-[16px]">What will be imported</h2>
      {summaries.map((summary) => (
        <div key={summary.id} className="mt-1">
          <p>
            <b className="font-semibold">{summary.name}</b>: {counted(summary.rows, 'row')} over{' '}
            {decimal((summary.endMs - summary.startMs) / 86_400_000, 1)} days,{' '}
            {localDateText(summary.startMs, timeZone)} to {localDateText(summary.endMs - 1, timeZone)};{' '}
            {summary.quantities
              .map(
                ({ quantity, share }) =>
                  quantityText(quantity) +
                  (share < 0.995 ? ` (${decimal(100 * share, 0)} % of the time)` : ''),
              )
              .join(', ')}
            {summary.lumps > 0 &&
              `${summary.quantities.length > 0 ? ', ' : ''}${counted(summary.lumps, 'energy', 'energies')} whose course is not known`}
            .
          </p>
          {summary.overlaps.length > 0 && (
            <p className="text-faint">
              It gives again what {summary.overlaps.join(', ')} gives: the finer of them leads, the other
              fills its gaps.
            </p>
          )}
          {summary.findings.map(({ code, message }) => (
            <p key={code + message} className="text-faint">
              {message}
            </p>
          ))}
        </div>
      ))}
      <p className="mt-2 flex gap-4">
        <button type="button" className="action" onClick={onImport}>
          Import {counted(summaries.length, 'log')}
        </button>
        <button type="button" className="quiet text-faint" onClick={onDiscard}>
          Do not import
        </button>
      </p>
    </section>
  );
}
