import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useEffectEvent, useImperativeHandle, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { dateText } from '../../ui/format.js';
import { useAfterPaint } from '../../ui/useAfterPaint.js';
import { type DayRange, rowsOf, type Row } from '@long-tally/core';
import { monthOf, neighbour, yearOf } from '../../ui/useRange.js';
import { usePrinting } from '../../ui/usePrinting.js';
import { useKeys } from '../../ui/useKeys.js';
import type { Roll } from '../../protocol.js';
import { RollHeadings } from './RollHeadings.js';
import { RollRow } from './RollRow.js';

const HEIGHTS: Readonly<Record<Row['kind'], number>> = { day: 27, month: 34, year: 38 };

/** More lines than are ever drawn at once: a line keeps its place in the page and is given other days as the roll turns. */
const POOL = 96;

/** The line of headings, which stays on top. */
const HEAD_HEIGHT = 37;

/** Lets another part of the page bring a day into sight. */
export interface RollHandle {
  readonly show: (day: number) => void;
}

interface Props {
  readonly roll: Roll;
  readonly timeZone: string;
  readonly range: DayRange;
  /** The range whose figures are shown: the roll turns to it and marks its lines once they are. */
  readonly drawn: DayRange;
  readonly onSelect: (range: DayRange) => void;
  readonly ref: React.Ref<RollHandle>;
}

/** The tally roll: a ruled line for each day, newest on top, months and years summed up; days are selected like lines of text. */
export function TallyRoll({ roll, timeZone, range, drawn, onSelect, ref }: Props) {
  const { days } = roll;
  const { homeId = '' } = useParams();
  const navigate = useNavigate();
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => rowsOf(days, (date) => dateText(date, 'month')), [days]);
  const { rowOfDay, tops } = useMemo(() => layOut(rows, days.length), [rows, days.length]);
  // On arrival the selection stands on top, under its month; later the roll stays where the reader has it.
  const [initialOffset] = useState(() => {
    let first = rowOfDay[range.to]!;
    while (first > 0 && rows[first - 1]!.kind !== 'day') first--;
    return tops[first]!;
  });
  // Rows are memoised themselves, so the compiler's caution about this hook costs nothing here.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (r) => HEIGHTS[rows[r]!.kind],
    overscan: 4,
    initialOffset,
    useFlushSync: false,
  });

  // The end at which the selection grows or shrinks, and the end that stays.
  const [cursor, setCursor] = useState(range.to);
  const [anchor, setAnchor] = useState(range.from);
  const [focused, setFocused] = useState(false);
  const drag = useRef<number | null>(null);
  // The ribbon and the address move the selection too; an end that has left it no longer counts.
  const inside = (day: number) => day >= range.from && day <= range.to;
  const at = inside(cursor) ? cursor : range.to;
  const from = inside(anchor) ? anchor : range.from;

  /** Brings a day into sight. Heights are known, so nothing has to be measured, which would lay out the page. */
  const show = (day: number) => {
    const row = rowOfDay[day]!;
    const top = virtual.scrollOffset ?? 0;
    const height = (virtual.scrollRect?.height ?? 0) - HEAD_HEIGHT;
    if (height <= 0) return;
    if (tops[row]! < top) scroller.current?.scrollTo(0, tops[row]!);
    else if (tops[row + 1]! > top + height) scroller.current?.scrollTo(0, tops[row + 1]! - height);
  };
  useImperativeHandle(ref, () => ({
    show: (day) => {
      setCursor(day);
      setAnchor(day);
      show(day);
    },
  }));
  const selectDays = (from: number, to: number) =>
    onSelect({ from: Math.min(from, to), to: Math.max(from, to) });
  const moveTo = (day: number, extend: boolean) => {
    const next = Math.max(0, Math.min(days.length - 1, day));
    setCursor(next);
    if (!extend) setAnchor(next);
    selectDays(extend ? from : next, next);
  };
  const selectRange = (next: DayRange) => {
    setCursor(next.to);
    setAnchor(next.from);
    onSelect(next);
  };
  useKeys({
    m: () => selectRange(monthOf(days, at)),
    y: () => selectRange(yearOf(days, at)),
    a: () => selectRange({ from: 0, to: days.length - 1 }),
    '[': () => selectRange(neighbour(days, range, -1)),
    ']': () => selectRange(neighbour(days, range, 1)),
  });
  const onKeyDown = (event: React.KeyboardEvent) => {
    const moves: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, PageUp: 30, PageDown: -30 };
    const step = moves[event.key];
    if (step !== undefined) moveTo(at + step, event.shiftKey);
    else if (event.key === 'Home') moveTo(days.length - 1, event.shiftKey);
    else if (event.key === 'End') moveTo(0, event.shiftKey);
    else if (event.key === 'Enter')
      void navigate(
        `/h/${homeId}/day/${days[at]!.date}?from=${days[range.from]!.date}&to=${days[range.to]!.date}`,
      );
    else return;
    event.preventDefault();
  };
  const onPointerDown = (row: Row) => (event: React.PointerEvent) => {
    if (event.button !== 0) return;
    if (row.kind === 'day') {
      drag.current = event.shiftKey ? from : row.index;
      setCursor(row.index);
      if (!event.shiftKey) setAnchor(row.index);
      selectDays(drag.current, row.index);
    } else {
      setCursor(row.to);
      setAnchor(row.from);
      onSelect({ from: row.from, to: row.to });
    }
  };
  const onPointerEnter = (row: Row) => (event: React.PointerEvent) => {
    if (drag.current === null || (event.buttons & 1) === 0 || row.kind !== 'day') return;
    setCursor(row.index);
    selectDays(drag.current, row.index);
  };
  // Turning the roll and marking its lines may wait; the figures of the new range may not.
  const marked = useAfterPaint(drawn);
  const bringIntoSight = useEffectEvent(() => show(at));
  useEffect(() => bringIntoSight(), [marked]);
  const isSelected = (row: Row) =>
    row.kind === 'day'
      ? row.index >= marked.from && row.index <= marked.to
      : row.from >= marked.from && row.to <= marked.to;
  // On paper stand the lines of the selection, all of them.
  const isPrinting = usePrinting();
  const lines = isPrinting
    ? rows.flatMap((row, index) => (isSelected(row) ? [{ index, start: 0, size: HEIGHTS[row.kind] }] : []))
    : virtual.getVirtualItems();
  return (
    <section
      aria-label="Roll of days"
      className="@container/roll flex min-h-0 min-w-0 flex-col border-r border-rule-2"
    >
      <div
        ref={scroller}
        role="grid"
        aria-label="Days, newest on top"
        aria-multiselectable
        aria-rowcount={rows.length + 1}
        aria-activedescendant={`day-${days[at]!.date}`}
        tabIndex={0}
        onKeyDown={onKeyDown}
        onFocus={() => setFocused(true)}
        onBlur={() => setFocused(false)}
        onPointerUp={() => (drag.current = null)}
        onPointerLeave={() => (drag.current = null)}
        className="min-h-0 flex-1 overflow-y-scroll select-none focus-visible:outline-offset-[-2px] print:overflow-visible"
      >
        <div role="rowgroup" className="sticky top-0 z-10 border-b border-rule-2 bg-paper print:static">
          <div
            role="row"
            aria-rowindex={1}
            className="roll-columns h-9 pl-1 text-[12.5px] leading-tight text-faint"
          >
            <RollHeadings />
          </div>
        </div>
        <div
          role="rowgroup"
          className="relative"
          style={{ height: isPrinting ? undefined : virtual.getTotalSize() }}
        >
          {lines.map((item) => {
            const row = rows[item.index]!;
            const isCursor = focused && row.kind === 'day' && row.index === at;
            return (
              <div
                key={isPrinting ? item.index : item.index % POOL}
                id={row.kind === 'day' ? `day-${days[row.index]!.date}` : undefined}
                role="row"
                aria-rowindex={item.index + 2}
                aria-selected={isSelected(row)}
                className={`absolute inset-x-0 contain-strict print:static print:break-inside-avoid ${isCursor ? 'outline-2 outline-offset-[-2px] outline-grid' : ''}`}
                style={{ top: item.start, height: item.size }}
                onPointerDown={onPointerDown(row)}
                onPointerEnter={onPointerEnter(row)}
                onDoubleClick={() =>
                  row.kind === 'day' && void navigate(`/h/${homeId}/day/${days[row.index]!.date}`)
                }
              >
                <RollRow row={row} roll={roll} timeZone={timeZone} selected={isSelected(row)} />
              </div>
            );
          })}
        </div>
      </div>
    </section>
  );
}

/** Where each day's row is, and where each row begins; one more for the end. */
function layOut(rows: readonly Row[], days: number): { rowOfDay: Int32Array; tops: Float64Array } {
  const rowOfDay = new Int32Array(days);
  const tops = new Float64Array(rows.length + 1);
  rows.forEach((row, r) => {
    if (row.kind === 'day') rowOfDay[row.index] = r;
    tops[r + 1] = tops[r]! + HEIGHTS[row.kind];
  });
  return { rowOfDay, tops };
}
