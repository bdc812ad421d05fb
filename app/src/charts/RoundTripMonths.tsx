import type { LossesView } from '@long-tally/core';
import { area, line, scaleLinear, scaleUtc } from 'd3';
import { useMemo } from 'react';
import { decimal } from '../ui/format.js';
import { TextBeside } from './TextBeside.js';
import { LABEL_WIDTH, named, timeTicks } from './timeTicks.js';
import { ValueAxis } from './ValueAxis.js';

const HEIGHT = 270;
const [LEFT, RIGHT, TOP, BOTTOM] = [34, 12, 18, 30];

interface Props {
  readonly course: LossesView;
  readonly width: number;
}

/** Round trip by month: the line is all windows of a month together, the band the middle half of them. */
export function RoundTripMonths({ course: { months, steps, configurations }, width }: Props) {
  return useMemo(() => {
    const at = ({ fromMs, toMs }: { readonly fromMs: number; readonly toMs: number }) => (fromMs + toMs) / 2;
    const shares = months.flatMap(({ value, quartiles }) => [value, ...(quartiles ?? [])]);
    const most = Math.max(...shares);
    const x = scaleUtc([months[0]!.fromMs, months.at(-1)!.toMs], [LEFT, width - RIGHT]);
    const y = scaleLinear(
      // Where meters disagree a month may give back more than it took; it is drawn all the same.
      [Math.max(0, Math.min(...shares) - 0.01), Math.max(Math.min(1, most + 0.01), most)],
      [HEIGHT - BOTTOM, TOP],
    ).nice();
    const banded = months.filter(({ quartiles }) => quartiles !== null);
    const band = area<(typeof banded)[number]>()
      .x((month) => x(at(month)))
      .y0(({ quartiles }) => y(quartiles![0]))
      .y1(({ quartiles }) => y(quartiles![2]));
    const course = line<(typeof months)[number]>()
      .x((month) => x(at(month)))
      .y(({ value }) => y(value));
    const flags = [
      ...configurations.map(({ name, fromMs }) => ({ name, fromMs, ink: 'var(--battery)' })),
      ...steps.map(({ atMs, afterW, beforeW }) => ({
        name: afterW > beforeW ? 'idle draw up' : 'idle draw down',
        fromMs: atMs,
        ink: 'var(--red)',
      })),
    ];
    // A single month is named, not the days or hours of it that the log has.
    const ticks =
      months.length === 1
        ? [{ ms: at(months[0]!), text: named(months[0]!.fromMs, 'monthShort') }]
        : timeTicks(months[0]!.fromMs, months.at(-1)!.toMs, 'UTC', Math.min(6, width / LABEL_WIDTH));
    return (
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Round trip by month: ${months.length} months from ${decimal(100 * Math.min(...months.map(({ value }) => value)), 1)} to ${decimal(100 * Math.max(...months.map(({ value }) => value)), 1)} %`}
        fontSize="12"
      >
        <ValueAxis scale={y} count={6} from={LEFT} to={width - RIGHT} times={100} />
        <text x={LEFT - 6} y={TOP - 7} textAnchor="end" fill="var(--faint)">
          %
        </text>
        {ticks.map(({ ms, text }) => (
          <text key={ms} x={x(ms)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
            {text}
          </text>
        ))}
        <path d={band(banded) ?? ''} fill="var(--battery)" fillOpacity="0.2" />
        <path d={course(months) ?? ''} fill="none" stroke="var(--battery)" strokeWidth="1.7" />
        {months.length === 1 && (
          <circle cx={x(at(months[0]!))} cy={y(months[0]!.value)} r="3" fill="var(--battery)" />
        )}
        {flags.map(({ name, fromMs, ink }, i) => (
          <g key={`${name}${fromMs}`}>
            <path d={`M${x(fromMs)} ${TOP}V${HEIGHT - BOTTOM}`} stroke={ink} strokeDasharray="3 3" />
            <TextBeside at={x(fromMs)} gap={4} right={width} y={TOP + 10 + 13 * (i % 3)} fill={ink}>
              {name}
            </TextBeside>
          </g>
        ))}
      </svg>
    );
  }, [months, steps, configurations, width]);
}
