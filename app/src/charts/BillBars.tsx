import type { MoneyView } from '@long-tally/core';
import { scaleBand, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { dateText, localDateOf } from '../ui/format.js';
import { Caption, captionLines, LINE } from './Caption.js';
import { ValueAxis } from './ValueAxis.js';

const PLOT = 146;
const [LEFT, RIGHT, TOP, BOTTOM] = [52, 8, 20, 24];
/** So many names of months find room under the bars. */
const LABEL_WIDTH = 74;

interface Props {
  readonly bills: MoneyView['bills'];
  readonly currency: string;
  readonly timeZone: string;
  readonly width: number;
}

/** Each bill beside what it would have been: without the system, without the battery, as it came. */
export function BillBars({ bills, currency, timeZone, width }: Props) {
  return useMemo(() => {
    const caption = captionLines(
      `${currency} a bill: without the system (outlined), without the battery (hatched), as it came (solid)`,
      width - LEFT,
    );
    const top = TOP + LINE * (caption.length - 1);
    const height = top + PLOT + BOTTOM;
    const amounts = bills.flatMap(({ bill, withoutBattery, withoutSystem }) => [
      bill,
      withoutBattery ?? 0,
      withoutSystem,
    ]);
    const x = scaleBand(
      bills.map((_, i) => i),
      [LEFT, width - RIGHT],
    ).paddingInner(0.25);
    const y = scaleLinear(
      [Math.min(0, ...amounts), Math.max(Math.min(...amounts) < 0 ? 0 : 1, ...amounts)],
      [top + PLOT, top],
    ).nice();
    const third = x.bandwidth() / 3;
    const every = Math.max(1, Math.ceil(LABEL_WIDTH / x.step()));
    const bar = (amount: number, place: number, i: number, paint: React.SVGProps<SVGRectElement>) => (
      <rect
        x={x(i)! + place * third}
        width={Math.max(0.5, third - 0.5)}
        y={Math.min(y(0), y(amount))}
        height={Math.abs(y(0) - y(amount))}
        {...paint}
      />
    );
    return (
      <svg
        width={width}
        height={height}
        role="img"
        fontSize="12"
        aria-label={`${bills.length} bills beside what they would have been without the system and without the battery; the table beneath has every amount`}
      >
        <ValueAxis scale={y} count={4} from={LEFT} to={width - RIGHT} />
        <Caption lines={caption} x={LEFT} />
        {bills.map(({ fromMs, bill, withoutBattery, withoutSystem }, i) => (
          <g key={fromMs}>
            {bar(withoutSystem, 0, i, { fill: 'none', stroke: 'var(--ink)' })}
            {withoutBattery !== null &&
              bar(withoutBattery, 1, i, { fill: 'url(#hatch-missing)', stroke: 'var(--faint)' })}
            {bar(bill, 2, i, { fill: 'var(--grid)' })}
            {i % every === 0 && (
              <text
                // The last name stays within the picture.
                x={Math.min(x(i)! + x.bandwidth() / 2, width - LABEL_WIDTH / 2)}
                y={height - 8}
                textAnchor="middle"
                fill="var(--faint)"
              >
                {dateText(localDateOf(fromMs, timeZone), 'monthShort')}
              </text>
            )}
          </g>
        ))}
      </svg>
    );
  }, [bills, currency, timeZone, width]);
}
