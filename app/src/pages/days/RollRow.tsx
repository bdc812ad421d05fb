import type { RollDay, Row, Subtotal } from '@long-tally/core';
import { memo } from 'react';
import { DayStrip } from '../../charts/DayStrip.js';
import { TallyStrokes } from '../../charts/TallyStrokes.js';
import { dateText, decimal } from '../../ui/format.js';
import type { Roll } from '../../protocol.js';
import { DayNotes, noteText } from './DayNotes.js';

/** A closing error shows in red above this share of what came in, and above half a kWh. */
const RED_CLOSING = 0.05;

const cell = 'pr-2 text-right whitespace-nowrap';

interface Props {
  readonly row: Row;
  readonly roll: Roll;
  readonly timeZone: string;
  readonly selected: boolean;
}

/** The cells of one line of the roll. */
export const RollRow = memo(function RollRow({ row, roll, timeZone, selected }: Props) {
  if (row.kind === 'day')
    return <DayCells roll={roll} index={row.index} timeZone={timeZone} selected={selected} />;
  return <SubtotalCells row={row} selected={selected} />;
});

function mark(selected: boolean): string {
  return selected ? 'pl-1 shadow-[inset_4px_0_0_var(--ink)]' : 'pl-1';
}

function DayCells({
  roll,
  index,
  timeZone,
  selected,
}: {
  readonly roll: Roll;
  readonly index: number;
  readonly timeZone: string;
  readonly selected: boolean;
}) {
  const day = roll.days[index]!;
  const words = day.notes.map((note) => noteText(note, timeZone)).join('; ');
  return (
    <div
      className={`roll-columns h-full border-b border-rule ${mark(selected)} ${selected ? 'bg-selected/60' : ''}`}
    >
      <div role="gridcell" className="pl-2 text-faint">
        {dateText(day.date, 'weekday')}
      </div>
      <div role="rowheader" className="whitespace-nowrap">
        {dateText(day.date, 'day')}
      </div>
      <div role="gridcell">
        <DayStrip strips={roll.strips} sun={roll.sun} index={index} />
      </div>
      <Energy value={day.solar} />
      <Energy value={day.load} />
      <Energy value={day.import} bold={day.gridFree === false} />
      <Energy value={day.export} />
      <Energy value={day.discharge} />
      <Closing day={day} />
      <div
        role="gridcell"
        className="h-full truncate border-l-[1.5px] border-margin/60 pl-3 text-[13px] leading-[26px]"
        title={words}
      >
        <DayNotes notes={day.notes} timeZone={timeZone} />
      </div>
    </div>
  );
}

function Energy({ value, bold = false }: { readonly value: number | null; readonly bold?: boolean }) {
  if (value === null)
    return (
      <div role="gridcell" className={`${cell} text-faint`} title="not measured">
        –
      </div>
    );
  const small = value < 0.05;
  return (
    <div
      role="gridcell"
      className={`${cell} ${small ? 'text-faint' : bold ? 'font-semibold text-grid' : ''}`}
    >
      {small ? <span aria-label="0.0">·</span> : decimal(value, 1)}
    </div>
  );
}

function Closing({ day: { closing, inflow, holdsOwnDraw } }: { readonly day: RollDay }) {
  if (closing === null)
    return (
      <div role="gridcell" className={`${cell} text-faint`}>
        –
      </div>
    );
  // On a hybrid it is what the inverter draws and converts, which Losses tells: no error of a meter.
  const isRed = !holdsOwnDraw && Math.abs(closing) > RED_CLOSING * inflow && Math.abs(closing) > 0.5;
  return (
    <div
      role="gridcell"
      className={`${cell} ${isRed ? 'text-red' : 'text-faint'}`}
      title={holdsOwnDraw ? 'with the inverter’s own draw and conversion' : undefined}
    >
      {closing > 0 ? '+' : ''}
      {decimal(closing, 2)}
    </div>
  );
}

function SubtotalCells({
  row,
  selected,
}: {
  readonly row: Exclude<Row, { kind: 'day' }>;
  readonly selected: boolean;
}) {
  const { title, sum, kind } = row;
  const year = kind === 'year';
  return (
    <div
      className={`roll-columns h-full border-b border-rule-2 font-semibold ${year ? 'border-t-2 border-t-rule-2' : 'border-t border-t-rule-2'} ${mark(selected)} ${selected ? 'bg-selected-2' : 'bg-paper-2'}`}
    >
      <div role="rowheader" className="col-span-3 flex items-center gap-3 overflow-hidden pl-2">
        <span className={`font-serif whitespace-nowrap ${year ? 'text-lg' : 'text-[15px]'}`}>{title}</span>
        {sum.gridFree !== null && (
          <span className="font-sans text-[12.5px] font-normal whitespace-nowrap text-faint">
            {sum.gridFree} grid-free
          </span>
        )}
        {!year && sum.gridFree !== null && sum.gridFree > 0 && <TallyStrokes count={sum.gridFree} />}
      </div>
      <Sums sum={sum} year={year} />
      <div role="gridcell" className="h-full border-l-[1.5px] border-margin/60" />
    </div>
  );
}

function Sums({ sum, year }: { readonly sum: Subtotal; readonly year: boolean }) {
  const values = [sum.solar, sum.load, sum.import, sum.export, sum.discharge];
  return (
    <>
      {values.map((value, i) => (
        <div key={i} role="gridcell" className={cell}>
          {value === null ? '–' : decimal(value, !year && value < 10 ? 1 : 0)}
        </div>
      ))}
      <div role="gridcell" className={cell}>
        {sum.closingShare === null ? '–' : `${decimal(sum.closingShare * 100, 1)} %`}
      </div>
    </>
  );
}
