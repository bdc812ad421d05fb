import type { RangeReport } from '@long-tally/core';
import { FigureCell } from './FigureCell.js';

interface Props {
  readonly keys: readonly string[];
  readonly report: RangeReport;
  readonly workingKey: string | null;
  readonly onOpen: (key: string) => void;
}

/** Figures side by side, each leading to its working. */
export function Figures({ keys, report, workingKey, onOpen }: Props) {
  return (
    <div className="mt-2 grid grid-cols-3 gap-x-2 border-b border-rule-2">
      {keys.flatMap((key) => {
        const figure = report.figures[key];
        return figure
          ? [
              <FigureCell
                key={key}
                figureKey={key}
                figure={figure}
                active={key === workingKey}
                onOpen={onOpen}
              />,
            ]
          : [];
      })}
    </div>
  );
}
