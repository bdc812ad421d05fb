import { periodsOf, type DayRange, type RollDay } from '@long-tally/core';
import { scaleBand, scaleLinear } from 'd3';
import { useMemo } from 'react';
import { dateText, decimal } from '../ui/format.js';
import { Caption, captionLines, LINE } from './Caption.js';
import { ValueAxis } from './ValueAxis.js';

const PLOT = 128;
const [LEFT, RIGHT, TOP, BOTTOM] = [44, 4, 20, 22];
const LABEL_WIDTH = 56;
/** Up to so many days each has bars of its own, and up to so many each month. */
const [MOST_DAYS, MOST_BY_MONTH] = [31, 1200];
/** The axis goes no further down: what is less is the dust of sums. */
const LEAST_KWH = 0.1;
const SERIES = [
  ['solar', 'solar (outlined)', { fill: 'none', stroke: 'var(--ink)' }],
  ['load', 'load (hatched)', { fill: 'url(#hatch-missing)', stroke: 'var(--faint)' }],
  ['import', 'bought (solid)', { fill: 'var(--grid)' }],
] as const;

interface Props {
  readonly days: readonly RollDay[];
  readonly range: DayRange;
  readonly width: number;
}

/** Solar, load and what was bought of each day, month or year of a range; told apart without colour, for paper. */
export function EnergyBars({ days, range, width }: Props) {
  return useMemo(() => {
    const count = range.to - range.from + 1;
    const grain = count <= MOST_DAYS ? 'day' : count <= MOST_BY_MONTH ? 'month' : 'year';
    const periods = periodsOf(days, range, grain);
    const series = SERIES.filter(([key]) => periods.some(({ sum }) => sum[key] !== null));
    const most = Math.max(...periods.flatMap(({ sum }) => series.map(([key]) => sum[key] ?? 0)));
    if (series.length === 0 || !(most > 0)) return null;
    const caption = captionLines(
      `kWh a ${grain}: ${series.map(([, words]) => words).join(', ')}`,
      width - LEFT,
    );
    const top = TOP + LINE * (caption.length - 1);
    const height = top + PLOT + BOTTOM;
    const x = scaleBand(
      periods.map(({ key }) => key),
      [LEFT, width - RIGHT],
    ).paddingInner(0.25);
    const y = scaleLinear([0, Math.max(LEAST_KWH, most)], [top + PLOT, top]).nice();
    const bar = x.bandwidth() / series.length;
    const every = Math.max(1, Math.ceil(LABEL_WIDTH / x.step()));
    const label = (key: string) =>
      grain === 'year'
        ? key
        : grain === 'month'
          ? dateText(`${key}-01`, 'monthShort')
          : String(Number(key.slice(8)));
    return (
      <svg
        width={width}
        height={height}
        role="img"
        fontSize="12"
        aria-label={`${series.map(([key]) => key).join(', ')} by ${grain}, at most ${decimal(most, 0)} kWh`}
      >
        <ValueAxis scale={y} count={4} from={LEFT} to={width - RIGHT} />
        <Caption lines={caption} x={LEFT} />
        {periods.map(({ key, sum }, i) => (
          <g key={key}>
            {series.map(([energy, , paint], place) => {
              const kWh = sum[energy];
              return kWh === null ? null : (
                <rect
                  key={energy}
                  x={x(key)! + place * bar}
                  width={Math.max(0.5, bar - 0.5)}
                  y={y(Math.max(0, kWh))}
                  height={y(0) - y(Math.max(0, kWh))}
                  {...paint}
                />
              );
            })}
            {i % every === 0 && (
              <text x={x(key)! + x.bandwidth() / 2} y={height - 7} textAnchor="middle" fill="var(--faint)">
                {label(key)}
              </text>
            )}
          </g>
        ))}
      </svg>
    );
  }, [days, range, width]);
}
