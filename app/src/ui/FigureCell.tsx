import { figureEntry, type Figure } from '@long-tally/core';
import { intervalText, unitText, valueText } from './format.js';
import { StatusMark } from './StatusMark.js';
import { localized } from './localized.js';

interface Props {
  readonly figureKey: string;
  readonly figure: Figure;
  readonly active: boolean;
  readonly onOpen: (key: string) => void;
}

/** A figure that is told, as it looks everywhere: value with unit, interval beneath, mark of its status. Activating it opens the working. */
export function FigureCell({ figureKey, figure, active, onOpen }: Props) {
  const { label, meaning } = figureEntry(figureKey);
  return (
    <button
      type="button"
      data-figure={figureKey}
      aria-pressed={active}
      title={localized(meaning)}
      onClick={() => onOpen(figureKey)}
      className={`flex w-full flex-col border-t border-rule px-1.5 py-1 text-left hover:bg-selected ${active ? 'bg-selected-2' : ''}`}
    >
      <span className="block text-[12.5px] leading-tight text-faint">
        <span className="underline decoration-dotted underline-offset-2">{localized(label)}</span>
      </span>
      <span className="block text-[19px] leading-tight font-semibold">
        {valueText(figure.value!, figure.unit)}{' '}
        <span className="text-[12.5px] font-normal">{unitText(figure.unit)}</span>
      </span>
      <span className="block text-[12px] leading-tight text-faint">
        <StatusMark status={figure.status} /> {intervalText(figure)}
      </span>
    </button>
  );
}
