import { YEAR_MS, type Clock, type WearView } from '@long-tally/core';
import { scaleUtc } from 'd3';
import { decimal, monthText } from '../ui/format.js';
import { LABEL_WIDTH, timeTicks } from './timeTicks.js';

const ROW = 36;
const [LEFT, RIGHT, TOP, BOTTOM] = [104, 12, 8, 22];
/** What the limits of a warranty are called. */
export const CLOCK_NAMES: Readonly<Record<Clock['limit'], string>> = {
  years: 'years',
  throughput: 'throughput',
  cycles: 'cycles',
  capacity: 'capacity left',
};
/** Further ahead than this a run-out is told, not drawn. */
const MOST_YEARS = 30;

interface Props {
  readonly warranty: NonNullable<WearView['warranty']>;
  readonly nowMs: number;
  readonly width: number;
}

/** The warranty's limits on one time axis: what is used, and when each runs out with its range. */
export function WarrantyClocks({ warranty: { clocks, beginsMs }, nowMs, width }: Props) {
  const ends = clocks.flatMap(({ runsOutMs }) => (runsOutMs ? [runsOutMs.value] : []));
  const last = Math.min(
    beginsMs + MOST_YEARS * YEAR_MS,
    Math.max(nowMs + 2 * YEAR_MS, ...ends.map((ms) => ms + YEAR_MS)),
  );
  const x = scaleUtc([beginsMs, last], [LEFT, width - RIGHT]);
  const height = TOP + BOTTOM + ROW * clocks.length;
  const held = (ms: number) => x(Math.min(last, Math.max(beginsMs, ms)));
  return (
    <svg
      width={width}
      height={height}
      role="img"
      fontSize="12"
      aria-label={`Warranty: ${clocks.map((clock) => `${CLOCK_NAMES[clock.limit]} ${decimal(100 * clock.used.value, 0)} % used${clock.runsOutMs ? `, runs out ${monthText(clock.runsOutMs.value)}` : ''}`).join('; ')}`}
    >
      {timeTicks(beginsMs, last, 'UTC', Math.min(8, width / LABEL_WIDTH)).map(({ ms, text }) => (
        <g key={ms}>
          <path d={`M${x(ms)} ${TOP}V${height - BOTTOM}`} stroke="var(--rule)" />
          <text x={x(ms)} y={height - 6} textAnchor="middle" fill="var(--faint)">
            {text}
          </text>
        </g>
      ))}
      {clocks.map(({ limit, used, runsOutMs }, i) => {
        const y = TOP + i * ROW + ROW - 9;
        const end = runsOutMs ? held(runsOutMs.value) : width - RIGHT;
        const text = `${decimal(100 * used.value, 1)} % used${runsOutMs ? ` · ${monthText(runsOutMs.value)}` : ' · no end in sight'}`;
        return (
          <g key={limit}>
            <text x={LEFT - 8} y={y - 2} textAnchor="end" fill="var(--ink)">
              {CLOCK_NAMES[limit]}
            </text>
            <path d={`M${LEFT} ${y}H${end}`} stroke="var(--rule-2)" strokeWidth="9" />
            <path d={`M${LEFT} ${y}H${held(nowMs)}`} stroke="var(--battery)" strokeWidth="9" />
            {runsOutMs && (
              <>
                <path
                  d={`M${held(runsOutMs.low)} ${y}H${held(runsOutMs.high)}`}
                  stroke="var(--red)"
                  strokeOpacity="0.35"
                  strokeWidth="5"
                />
                {runsOutMs.value <= last && (
                  <path d={`M${end} ${y - 8}V${y + 8}`} stroke="var(--red)" strokeWidth="2" />
                )}
              </>
            )}
            <text
              x={LEFT}
              y={y - 8}
              fill="var(--ink)"
              stroke="var(--paper)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {text}
            </text>
          </g>
        );
      })}
      <path d={`M${held(nowMs)} ${TOP}V${height - BOTTOM}`} stroke="var(--ink)" />
    </svg>
  );
}
