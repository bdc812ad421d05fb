import type { CourseHours } from '@long-tally/core';
import { extent, line, max, scaleLinear } from 'd3';
import { decimal } from '../ui/format.js';
import { ValueAxis } from './ValueAxis.js';

const [LEFT, TOP, HEIGHT, GAP, FOOT, RIGHT] = [38, 22, 110, 26, 20, 20];

/** A run that is drawn: its name and how. */
export interface DrawnRun {
  readonly name: string;
  readonly hours: CourseHours;
  readonly ink: string;
  readonly dash: string;
}

/** A moment written under the axis. */
export interface HourTick {
  readonly hour: number;
  readonly text: string;
}

interface Props {
  readonly label: string;
  readonly runs: readonly DrawnRun[];
  readonly ticks: readonly HourTick[];
  /** What the home lacks: bought, or not served. */
  readonly missing: string;
  readonly width: number;
}

/** Charge and what a home lacks, hour by hour, of several runs on one axis of time. */
export function ScenarioCourses({ label, runs, ticks, missing, width }: Props) {
  const hours = max(runs, (run) => run.hours.soc.length) ?? 0;
  const x = scaleLinear([0, hours], [LEFT, width - RIGHT]);
  const soc = scaleLinear([0, 1], [TOP + HEIGHT, TOP]);
  const highest = extent(runs.flatMap((run) => run.hours.missingW.map((watts) => watts ?? 0)))[1] ?? 0;
  const kW = scaleLinear(
    [0, Math.max(0.1, highest / 1000)],
    [TOP + 2 * HEIGHT + GAP, TOP + HEIGHT + GAP],
  ).nice();
  const path = (values: readonly (number | null)[], y: (value: number) => number) =>
    line<number | null>()
      .defined((value) => value !== null)
      .x((_, hour) => x(hour + 0.5))
      .y((value) => y(value!))(values) ?? '';
  const bottom = TOP + 2 * HEIGHT + GAP;
  return (
    <svg width={width} height={bottom + FOOT} role="img" fontSize="12" aria-label={label}>
      <text x={LEFT} y={TOP - 8} fill="var(--faint)">
        charge, %
      </text>
      <ValueAxis scale={scaleLinear([0, 100], soc.range())} count={3} from={LEFT} to={width - RIGHT} />
      <text x={LEFT} y={TOP + HEIGHT + GAP - 8} fill="var(--faint)">
        {missing}, kW
      </text>
      <ValueAxis scale={kW} count={3} from={LEFT} to={width - RIGHT} />
      {ticks.map(({ hour, text }) => (
        <text key={hour} x={x(hour)} y={bottom + 15} textAnchor="middle" fill="var(--faint)">
          {text}
        </text>
      ))}
      {runs.map(({ name, hours: own, ink, dash }) => (
        <g key={name} fill="none" stroke={ink} strokeDasharray={dash} strokeWidth="1.6">
          <path d={path(own.soc, soc)} />
          <path d={path(own.missingW, (watts) => kW(watts / 1000))} />
        </g>
      ))}
    </svg>
  );
}

/** What a chart of courses says to who does not see it: the least charge of each run and what it lacks. */
export function coursesInWords(runs: readonly DrawnRun[], missing: string): string {
  return runs
    .map(({ name, hours }) => {
      const known = hours.soc.filter((share) => share !== null);
      const lacks = hours.missingW.reduce<number>((sum, watts) => sum + (watts ?? 0), 0) / 1000;
      return `${name}: charge ${known.length > 0 ? `${decimal(100 * Math.min(...known), 0)} to ${decimal(100 * Math.max(...known), 0)} %` : 'not known'}, ${missing} ${decimal(lacks, 1)} kWh`;
    })
    .join('; ');
}
