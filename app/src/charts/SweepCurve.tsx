import { line, scaleLinear } from 'd3';
import { decimal } from '../ui/format.js';
import { Caption } from './Caption.js';
import { ValueAxis } from './ValueAxis.js';

const [LEFT, TOP, HEIGHT, FOOT, RIGHT] = [38, 36, 170, 34, 16];
/** What the name of the knee takes below its point. */
const BELOW = 36;
/** Half of what the longest name of a point takes. */
const HALF = 52;

/** A value that was swept, and what it gives as a share. */
export interface SweptPoint {
  readonly at: number;
  readonly share: number;
  readonly low: number;
  readonly high: number;
}

interface Props {
  /** In order. */
  readonly points: readonly SweptPoint[];
  readonly what: string;
  readonly unit: string;
  /** The value that is installed, and the one after which a step adds too little; null where there is none. */
  readonly installed: number;
  readonly knee: number | null;
  readonly width: number;
}

/** A share over a quantity that is swept, with its interval as a band, and its knee. */
export function SweepCurve({ points, what, unit, installed, knee, width }: Props) {
  const x = scaleLinear([points[0]!.at, points.at(-1)!.at], [LEFT + 14, width - RIGHT]);
  const y = scaleLinear([0, 100], [TOP + HEIGHT, TOP]);
  const curve = line<(typeof points)[number]>()
    .x(({ at }) => x(at))
    .y(({ share }) => y(100 * share));
  const band = `${line<(typeof points)[number]>()
    .x(({ at }) => x(at))
    .y(({ high }) => y(Math.min(100, 100 * high)))(points)}L${[...points]
    .reverse()
    .map(({ at, low }) => `${x(at)},${y(Math.max(0, 100 * low))}`)
    .join('L')}Z`;
  const anchorOf = (left: number) =>
    left < LEFT + HALF ? 'start' : left > width - RIGHT - HALF ? 'end' : 'middle';
  // Near the foot the numbers of the axis stand there.
  const isBelow = (k: number) => points[k]!.at === knee && y(100 * points[k]!.share) + BELOW < TOP + HEIGHT;
  const every = Math.ceil(points.length / Math.max(2, Math.floor((width - LEFT) / 34)));
  return (
    <svg
      width={width}
      height={TOP + HEIGHT + FOOT}
      role="img"
      fontSize="12"
      aria-label={`${what} by ${unit}: ${points.map(({ at, share }) => `${at}: ${decimal(100 * share, 0)} %`).join(', ')}`}
    >
      <Caption lines={[`${what}, %`]} x={LEFT} />
      <ValueAxis scale={y} count={5} from={LEFT} to={width - RIGHT} />
      <path d={band} fill="var(--battery)" opacity="0.14" />
      <path d={curve(points) ?? ''} fill="none" stroke="var(--battery)" strokeWidth="1.8" />
      {points.map(({ at, share }, k) => (
        <g key={at} transform={`translate(${x(at)},${y(100 * share)})`}>
          <circle
            r={at === installed ? 5 : 3}
            fill={at === installed ? 'var(--paper)' : 'var(--battery)'}
            stroke="var(--battery)"
            strokeWidth="2"
          />
          {isBelow(k) && <path d="M0 8V22" stroke="var(--ink)" />}
          {(at === knee || at === installed) && (
            <text
              y={isBelow(k) ? BELOW : -11}
              textAnchor={anchorOf(x(at))}
              fill="var(--ink)"
              stroke="var(--paper)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {[at === installed ? 'as it is' : null, at === knee ? 'the knee' : null]
                .filter(Boolean)
                .join(', ')}
            </text>
          )}
          {k % every === 0 && (
            <text y={TOP + HEIGHT + 16 - y(100 * share)} textAnchor="middle" fill="var(--faint)">
              {at}
            </text>
          )}
        </g>
      ))}
      <text x={width - RIGHT} y={TOP + HEIGHT + FOOT - 3} textAnchor="end" fill="var(--faint)">
        {unit}
      </text>
    </svg>
  );
}
