import { figureEntry, type Figure, type RangeReport } from '@long-tally/core';
import { FigureCell } from './FigureCell.js';
import { Fold } from './Fold.js';
import { counted } from './format.js';
import { StatusMark } from './StatusMark.js';
import { labelOf, localized } from './localized.js';

interface Props {
  readonly keys: readonly string[];
  readonly report: RangeReport;
  readonly workingKey: string | null;
  readonly onOpen: (key: string) => void;
}

/** Figures side by side, each leading to its working; those that cannot be told share a line, which opens where the reasons differ. */
export function Figures({ keys, report, workingKey, onOpen }: Props) {
  const told: string[] = [];
  const absent = new Map<string, string[]>();
  for (const key of keys) {
    const figure = report.figures[key];
    if (!figure) continue;
    if (figure.value !== null) told.push(key);
    else absent.set(figure.reason ?? '', [...(absent.get(figure.reason ?? '') ?? []), key]);
  }
  const untold = [...absent.values()].flat();
  const reasons = [...absent].map(([reason, own]) => (
    <p key={reason} className="border-t border-rule px-1.5 py-1 text-[12.5px] leading-snug text-faint">
      {own.map((key) => (
        <Untold
          key={key}
          figureKey={key}
          figure={report.figures[key]!}
          active={key === workingKey}
          onOpen={onOpen}
        />
      ))}
      {localized(reason)}
    </p>
  ));
  return (
    <div className="mt-2 border-b border-rule-2">
      <div className="grid grid-cols-3 gap-x-2">
        {told.map((key) => (
          <FigureCell
            key={key}
            figureKey={key}
            figure={report.figures[key]!}
            active={key === workingKey}
            onOpen={onOpen}
          />
        ))}
      </div>
      {absent.size > 1 ? (
        <Fold
          title={`${counted(untold.length, 'figure')} not available:`}
          holds={untold.map((key) => labelOf(key)).join(', ')}
          className="border-t border-rule px-1.5 py-1 text-[12.5px] leading-snug"
        >
          {reasons}
        </Fold>
      ) : (
        reasons
      )}
    </div>
  );
}

interface UntoldProps {
  readonly figureKey: string;
  readonly figure: Figure;
  readonly active: boolean;
  readonly onOpen: (key: string) => void;
}

/** The name of a figure that cannot be told; it leads to its working as any other does. */
function Untold({ figureKey, figure, active, onOpen }: UntoldProps) {
  const { label, meaning } = figureEntry(figureKey);
  return (
    <button
      type="button"
      data-figure={figureKey}
      aria-pressed={active}
      title={localized(meaning)}
      onClick={() => onOpen(figureKey)}
      className={`mr-2 hover:bg-selected ${active ? 'bg-selected-2' : ''}`}
    >
      <StatusMark status={figure.status} />{' '}
      <span className="text-ink underline decoration-dotted underline-offset-2">{localized(label)}</span>{' '}
      {figure.status === 'insufficient' ? 'not enough evidence' : 'not measured'}
    </button>
  );
}
