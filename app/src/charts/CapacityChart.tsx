import type { WearView } from '@long-tally/core';
import { area, line, scaleLinear, scaleUtc } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';
import { apart } from './apart.js';
import { Marks } from './Marks.js';
import { cross, diamond, disc } from './symbols.js';
import { LABEL_WIDTH, timeTicks } from './timeTicks.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 320;
const [LEFT, RIGHT, TOP, BOTTOM] = [38, 96, 18, 30];
/** Years that are drawn ahead. */
const AHEAD = 10;

interface Props {
  readonly course: WearView;
  readonly width: number;
}

/** Capacity estimates with their intervals, the line through them with its band, and the fan of what it leads to. */
export function CapacityChart({ course: { estimates, trend, configurations, step }, width }: Props) {
  return useMemo(() => {
    const fan = trend?.fan.slice(0, AHEAD + 1) ?? [];
    const first = estimates[0]!.atMs;
    const last = fan.at(-1)?.atMs ?? trend?.toMs ?? estimates.at(-1)!.atMs;
    const sorted = estimates.flatMap(({ low, high }) => [low, high]).sort((a, b) => a - b);
    const [low, high] = [sorted[Math.floor(0.01 * sorted.length)]!, sorted.at(-1)!];
    const { referenceKWh = null, warrantyKWh = null } = trend ?? {};
    const known = [referenceKWh, warrantyKWh].filter((kWh) => kWh !== null);
    const x = scaleUtc([first, last], [LEFT, width - RIGHT]);
    const y = scaleLinear(
      [
        Math.max(0, Math.min(low * 0.97, ...known, ...fan.map((one) => one.low))),
        Math.max(high * 1.02, ...known),
      ],
      [HEIGHT - BOTTOM, TOP],
    ).nice();
    const [least, most] = y.domain() as [number, number];
    // A fan may open beyond the drawing; it ends at its edge.
    const held = (kWh: number) => y(Math.min(most, Math.max(least, kWh)));
    const isCross = ({ direction, counts }: (typeof estimates)[number]) => direction === 'charge' && !counts;
    const points = estimates.filter((one) => !isCross(one));
    const crosses = estimates.filter(isCross);
    const past = trend?.past ?? [];
    const course = line<(typeof past)[number]>()
      .x(({ atMs }) => x(atMs))
      .y(({ value }) => held(value));
    const doubt = area<(typeof past)[number]>()
      .x(({ atMs }) => x(atMs))
      .y0((one) => held(one.low))
      .y1((one) => held(one.high));
    const band = area<(typeof fan)[number]>()
      .x(({ atMs }) => x(atMs))
      .y0((one) => held(one.low))
      .y1((one) => held(one.high));
    const root = line<(typeof fan)[number]>()
      .defined((one) => one.root !== null)
      .x(({ atMs }) => x(atMs))
      .y((one) => held(one.root ?? 0));
    const straight = line<(typeof fan)[number]>()
      .x(({ atMs }) => x(atMs))
      .y((one) => held(one.value));
    const middle = Math.floor(fan.length / 2);
    const lines = fan.length === 0 || referenceKWh === null ? [] : [80, 70, 60];
    const levels = [
      ...lines
        .map((left) => ({ kWh: (referenceKWh! * left) / 100, text: `${left} %`, ink: 'var(--faint)' }))
        .filter(({ kWh }) => kWh >= least && Math.abs(kWh - (warrantyKWh ?? 0)) > 0.02 * (referenceKWh ?? 1)),
      ...(referenceKWh ? [{ kWh: referenceKWh, text: 'reference', ink: 'var(--faint)' }] : []),
      ...(warrantyKWh ? [{ kWh: warrantyKWh, text: 'warranty', ink: 'var(--red)' }] : []),
    ];
    const flags = [
      ...configurations.map(({ name, fromMs }) => ({ name, ms: fromMs, ink: 'var(--battery)' })),
      ...(step ? [{ name: 'step', ms: step.atMs, ink: 'var(--red)' }] : []),
    ];
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        fontSize="12"
        aria-label={`Capacity from ${points.length} runs${trend ? `, now ${decimal(trend.level.value, 1)} kWh` : ''}${trend?.slope ? `, ${decimal(-trend.slope.value, 2)} kWh less a year` : ''}`}
      >
        <ValueAxis scale={y} count={6} from={LEFT} to={width - RIGHT} />
        <text x={LEFT} y={TOP - 7} fill="var(--faint)">
          kWh from full to empty{trend ? `, ${trend.side.toUpperCase()} side` : ''}
        </text>
        {timeTicks(first, last, 'UTC', Math.min(8, (width - LEFT - RIGHT) / LABEL_WIDTH)).map(
          ({ ms, text }) => (
            <text key={ms} x={x(ms)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
              {text}
            </text>
          ),
        )}
        {apart(
          levels.map((level) => ({ ...level, at: y(level.kWh) })),
          HEIGHT - BOTTOM,
        ).map(({ kWh, text, ink, at }) => (
          <g key={text}>
            <path d={`M${LEFT} ${y(kWh)}H${width - RIGHT}`} stroke={ink} strokeDasharray="6 3" />
            <text x={width - RIGHT + 6} y={at + 4} fill={ink}>
              {text} {decimal(kWh, 1)}
            </text>
          </g>
        ))}
        <path d={band(fan) ?? ''} fill="var(--battery)" fillOpacity="0.16" />
        <path d={doubt(past) ?? ''} fill="var(--ink)" fillOpacity="0.2" />
        <Marks
          points={crosses}
          mark={({ atMs, kWh }) => cross(x(atMs), y(kWh), 2)}
          look={{ stroke: 'var(--faint)', strokeOpacity: 0.6, fill: 'none' }}
        />
        {[true, false].map((isCounted) => {
          const own = points.filter(({ counts }) => counts === isCounted);
          const of = (wanted: (typeof own)[number]['kind']) => own.filter(({ kind }) => kind === wanted);
          const ink = {
            stroke: 'var(--battery)',
            strokeOpacity: isCounted ? 0.55 : 0.25,
            fill: isCounted ? 'var(--battery)' : 'none',
          };
          return (
            <g key={String(isCounted)}>
              <Marks
                points={own}
                mark={({ atMs, low: from, high: to }) => `M${x(atMs)} ${held(from)}V${held(to)}`}
                look={{ stroke: 'var(--battery)', strokeOpacity: 0.14 }}
              />
              <Marks
                points={of('segment')}
                mark={({ atMs, kWh }) => disc(x(atMs), y(kWh), 1.8)}
                look={{ ...ink, fillOpacity: 0.5 }}
              />
              <Marks
                points={of('full-run')}
                mark={({ atMs, kWh }) => diamond(x(atMs), y(kWh), 3.5)}
                look={ink}
              />
              <Marks
                points={of('trial')}
                mark={({ atMs, kWh }) => disc(x(atMs), y(kWh), 5) + cross(x(atMs), y(kWh), 5)}
                look={{ stroke: 'var(--ink)', fill: 'none' }}
              />
            </g>
          );
        })}
        <path d={course(past) ?? ''} fill="none" stroke="var(--ink)" strokeWidth="1.6" />
        <path
          d={straight(fan) ?? ''}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.2"
          strokeDasharray="5 3"
        />
        <path d={root(fan) ?? ''} fill="none" stroke="var(--ink)" strokeWidth="1" strokeDasharray="1.5 3" />
        {fan.length > 0 && (
          <text
            x={x(fan[middle]!.atMs)}
            y={Math.min(held(fan[middle]!.low) + 18, HEIGHT - BOTTOM - 6)}
            textAnchor="end"
            fill="var(--ink)"
          >
            if the trend continues
          </text>
        )}
        {flags.map(({ name, ms, ink }, i) => (
          <g key={`${name}${ms}`} transform={`translate(${x(ms)},0)`}>
            <path d={`M0 ${TOP}V${HEIGHT - BOTTOM}`} stroke={ink} strokeDasharray="3 3" />
            <text x="4" y={TOP + 10 + 13 * (i % 3)} fill={ink}>
              {name}
            </text>
          </g>
        ))}
      </svg>
    );
  }, [estimates, trend, configurations, step, width]);
}
