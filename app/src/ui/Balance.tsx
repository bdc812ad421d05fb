import { figureEntry, type Figure } from '@long-tally/core';
import { decimal } from './format.js';
import { StatusMark } from './StatusMark.js';

interface Props {
  readonly figures: Readonly<Record<string, Figure>>;
  readonly onOpen: (key: string) => void;
}

interface Line {
  readonly key: string | null;
  readonly letter: string;
  readonly colour: string;
  readonly label: string;
  readonly kWh: number | null;
  /** Half of the figure's interval. */
  readonly half: number | null;
}

/** The double-entry account of the selection: what came in on the left, where it went on the right, equal at the foot. */
export function Balance({ figures, onOpen }: Props) {
  const value = (key: string) => figures[`account.${key}`]?.value ?? null;
  const change = value('storeChange');
  const losses = value('losses');
  const line = (
    key: string,
    letter: string,
    colour: string,
    label = figureEntry(`account.${key}`).label,
    kWh = value(key),
  ): Line => ({
    key: `account.${key}`,
    letter,
    colour,
    label,
    kWh,
    half: halfOf(figures[`account.${key}`]),
  });
  const left = [line('solar', 'S', 'text-solar-text'), line('import', 'G', 'text-grid')];
  const right = [line('load', 'H', 'text-home'), line('export', 'G', 'text-grid')];
  if (change !== null && change < 0)
    left.push(line('storeChange', 'B', 'text-battery', 'Taken from store', -change));
  else right.push(line('storeChange', 'B', 'text-battery', 'Put into store'));
  right.push(line('losses', '', 'text-red'));
  const sum = (lines: readonly Line[]) => lines.reduce((total, { kWh }) => total + (kWh ?? 0), 0);
  const rest = sum(left) - sum(right);
  // Losses are known only where every flow and the store are; what was measured beside that closes the page.
  if (losses !== null && Math.abs(rest) >= 0.05) {
    right.push({
      key: null,
      letter: '',
      colour: 'text-faint',
      label: 'At times with a gap',
      kWh: rest,
      half: null,
    });
  }
  const rows = Math.max(left.length, right.length);
  return (
    <div
      role="group"
      aria-label="Account of the selection"
      className="grid grid-cols-2 gap-x-6 border-y border-ink py-1"
    >
      <Side lines={left} rows={rows} onOpen={onOpen} total={sum(left)} />
      <Side lines={right} rows={rows} onOpen={onOpen} total={losses === null ? null : sum(right)} />
    </div>
  );
}

function halfOf(figure: Figure | undefined): number | null {
  return figure?.low == null || figure.high === null ? null : (figure.high - figure.low) / 2;
}

function Side({
  lines,
  rows,
  total,
  onOpen,
}: {
  readonly lines: readonly Line[];
  readonly rows: number;
  readonly total: number | null;
  readonly onOpen: (key: string) => void;
}) {
  return (
    <div className="flex flex-col">
      {lines.map(({ key, letter, colour, label, kWh, half }) => {
        const content = (
          <>
            <span className={label === 'Losses' ? 'text-red' : ''}>
              {letter && <b className={`mr-1 text-[12.5px] ${colour}`}>{letter}</b>}
              {label}
            </span>
            <span className={label === 'Losses' ? 'text-red' : ''}>
              {kWh === null ? <StatusMark status="not-measured" /> : decimal(kWh, 1)}
              <span className="inline-block w-9 text-right text-[11.5px] text-faint">
                {half === null ? '' : `±${decimal(half, half < 9.95 ? 1 : 0)}`}
              </span>
            </span>
          </>
        );
        return key ? (
          <button
            key={label}
            type="button"
            data-figure={key}
            onClick={() => onOpen(key)}
            className="flex justify-between hover:bg-selected"
          >
            {content}
          </button>
        ) : (
          <div key={label} className="flex justify-between text-faint">
            {content}
          </div>
        );
      })}
      {Array.from({ length: rows - lines.length }, (_, i) => (
        <div key={i} aria-hidden>
          &nbsp;
        </div>
      ))}
      <div className="mt-0.5 flex justify-between border-t border-rule-2 pt-0.5 font-semibold">
        <span>kWh</span>
        <span className="pr-9">{total === null ? '–' : decimal(total, 1)}</span>
      </div>
    </div>
  );
}
