import { useMemo, useState } from 'react';
import type { RollDay, DayRange } from '@long-tally/core';
import { scaleLinear } from 'd3';
import { counted, dateText } from '../ui/format.js';
import { useWidth } from '../ui/useSize.js';
import type { Roll } from '../protocol.js';

const HEIGHT = 52;
const BASE = 31;
/** Room that a year takes, and a letter of a name. */
const [YEAR_WIDTH, LETTER_WIDTH] = [30, 6.4];

interface Props {
  readonly roll: Roll;
  readonly range: DayRange;
  readonly onSelect: (range: DayRange) => void;
}

/** The whole history in a band: own supply upwards, import downwards, flags, and the selection as a bracket to drag. */
export function RangeRibbon({ roll, range, onSelect }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { days } = roll;
  const x = useMemo(() => scaleLinear([0, days.length], [0, width]), [days.length, width]);
  return (
    <section aria-label="History" className="no-print border-b border-rule-2 bg-paper-2 px-5 pt-1">
      <div ref={ref} className="relative" style={{ height: HEIGHT }}>
        {width > 0 && (
          <>
            <History roll={roll} width={width} />
            <Bracket days={days} range={range} onSelect={onSelect} x={x} width={width} />
          </>
        )}
      </div>
    </section>
  );
}

function History({ roll, width }: { readonly roll: Roll; readonly width: number }) {
  const { days, configurations } = roll;
  return useMemo(() => {
    const x = scaleLinear([0, days.length], [0, width]);
    const most = Math.max(1, ...days.map(({ load, import: bought }) => Math.max(load ?? 0, bought ?? 0)));
    const up = scaleLinear([0, most], [0, BASE - 12]);
    // Of many days the highest of each pixel is drawn: the others would lie under it.
    const columns = Math.min(days.length, Math.ceil(width));
    const ownOf = new Float64Array(columns).fill(-1);
    const boughtOf = new Float64Array(columns);
    const missing: string[] = [];
    const outages: string[] = [];
    const noted: string[] = [];
    days.forEach((day, i) => {
      const column = Math.floor((i * columns) / days.length);
      if (day.load === null && day.import === null) missing.push(`M${x(i + 0.5).toFixed(1)} ${BASE - 9}v12`);
      else {
        const own = Math.max(0, (day.load ?? 0) - (day.import ?? 0));
        ownOf[column] = Math.max(ownOf[column]!, own);
        boughtOf[column] = Math.max(boughtOf[column]!, day.import ?? 0);
      }
      if (day.notes.some(({ kind }) => kind === 'outage'))
        outages.push(`M${(x(i) - 3).toFixed(1)} ${HEIGHT - 1}l3 -6l3 6z`);
      // A note over many days has one flag, where it begins.
      if (isNoted(day) && (i === 0 || !isNoted(days[i - 1]!)))
        noted.push(`M${x(i).toFixed(1)} 12v7h5l-2 -3.5l2 -3.5z`);
    });
    const atColumn = (column: number) => (((column + 0.5) / columns) * width).toFixed(1);
    const own = Array.from(ownOf, (kWh, k) =>
      kWh < 0 ? '' : `M${atColumn(k)} ${BASE}v${(-up(kWh)).toFixed(1)}`,
    );
    const bought = Array.from(boughtOf, (kWh, k) =>
      kWh > 0.5 ? `M${atColumn(k)} ${BASE + 1}v${Math.min(16, up(kWh)).toFixed(1)}` : '',
    );
    const stroke = Math.max(0.7, Math.min(4, (width / columns) * 0.8));
    const indexAt = (ms: number) => days.findIndex(({ toMs }) => toMs > ms);
    const years = days.flatMap(({ date }, i) =>
      i === 0 || date.endsWith('-01-01') ? [{ i, year: date.slice(0, 4) }] : [],
    );
    // Where there is no room for both, a configuration's name says more than a year's.
    const isUnderFlag = (at: number) =>
      configurations.some(({ name, fromMs }) => {
        const from = x(indexAt(fromMs));
        return at + YEAR_WIDTH > from && at < from + LETTER_WIDTH * name.length;
      });
    return (
      <svg width={width} height={HEIGHT} aria-hidden className="absolute inset-0">
        {years.map(({ i, year }) => (
          <g key={i} transform={`translate(${x(i)},0)`}>
            <path d={`M.5 0V${HEIGHT}`} stroke="var(--rule-2)" />
            {x(i) + YEAR_WIDTH <= width && !isUnderFlag(x(i)) && (
              <text x="4" y="9" fontSize="11" fill="var(--faint)">
                {year}
              </text>
            )}
          </g>
        ))}
        <path d={own.join('')} stroke="var(--home)" strokeOpacity="0.45" strokeWidth={stroke} />
        <path d={bought.join('')} stroke="var(--grid)" strokeWidth={stroke} />
        <path d={missing.join('')} stroke="var(--faint)" strokeWidth={stroke} strokeDasharray="2 2" />
        <path d={`M0 ${BASE + 0.5}H${width}`} stroke="var(--rule-2)" />
        <path d={outages.join('')} fill="var(--red)" />
        <path d={noted.join('')} fill="var(--ink)" />
        {configurations.map(({ name, fromMs }) => (
          <g key={fromMs} transform={`translate(${x(indexAt(fromMs))},0)`}>
            <path d={`M0 0V${HEIGHT}`} stroke="var(--battery)" strokeWidth="1.2" />
            <text x="4" y="9" fontSize="11" fill="var(--battery)">
              {name}
            </text>
          </g>
        ))}
      </svg>
    );
  }, [days, configurations, width]);
}

function isNoted({ notes }: RollDay): boolean {
  return notes.some(({ kind }) => kind === 'journal');
}

type Grip = 'from' | 'to' | 'both';

interface BracketProps {
  readonly days: readonly RollDay[];
  readonly range: DayRange;
  readonly onSelect: (range: DayRange) => void;
  readonly x: (day: number) => number;
  readonly width: number;
}

function Bracket({ days, range, onSelect, x, width }: BracketProps) {
  const [drag, setDrag] = useState<{ grip: Grip; startX: number; start: DayRange } | null>(null);
  const last = days.length - 1;
  const held = (day: number) => Math.max(0, Math.min(last, day));

  const moved = ({ grip, start }: { grip: Grip; start: DayRange }, by: number): DayRange => {
    if (grip === 'from') return { from: Math.min(held(start.from + by), start.to), to: start.to };
    if (grip === 'to') return { from: start.from, to: Math.max(held(start.to + by), start.from) };
    const bound = Math.max(-start.from, Math.min(last - start.to, by));
    return { from: start.from + bound, to: start.to + bound };
  };
  const take = (grip: Grip) => (event: React.PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    setDrag({ grip, startX: event.clientX, start: range });
  };
  const pull = (event: React.PointerEvent) => {
    if (!drag || !event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const next = moved(drag, Math.round(((event.clientX - drag.startX) / width) * days.length));
    if (next.from !== range.from || next.to !== range.to) onSelect(next);
  };
  const keys = (grip: Grip) => (event: React.KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -30, PageUp: 30 }[
      event.key
    ];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    onSelect(moved({ grip, start: range }, step));
  };
  const left = x(range.from);
  const right = Math.max(x(range.to + 1), left + 3);
  const edge = (grip: 'from' | 'to', at: number, label: string) => (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={last}
      aria-valuenow={range[grip]}
      aria-valuetext={dateText(days[range[grip]]!.date, 'long')}
      className="absolute top-0 w-2.5 cursor-ew-resize touch-none"
      style={{ left: at - 5, height: HEIGHT }}
      onPointerDown={take(grip)}
      onPointerMove={pull}
      onKeyDown={keys(grip)}
    />
  );
  return (
    <>
      <div
        className="absolute top-0 cursor-grab touch-none border-[1.5px] border-ink bg-selected-2/30"
        style={{ left, width: right - left, height: HEIGHT - 1 }}
        title={`${dateText(days[range.from]!.date, 'plain')} to ${dateText(days[range.to]!.date, 'plain')}, ${counted(range.to - range.from + 1, 'day')}`}
        onPointerDown={take('both')}
        onPointerMove={pull}
      />
      {edge('from', left, 'First day of the selection')}
      {edge('to', right, 'Last day of the selection')}
    </>
  );
}
