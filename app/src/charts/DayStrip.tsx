import { MARK, STRIP_SLOTS, type Strips } from '@long-tally/core';
import { memo } from 'react';
import { runs } from './runs.js';

const WIDTH = 208;
const HEIGHT = 20;

interface Props {
  readonly strips: Strips;
  /** Sunrise and sunset as shares of each day, two for each. */
  readonly sun: Float32Array;
  /** Which day. */
  readonly index: number;
}

/** Twenty-four hours in a line: state of charge, contact with the grid along the foot, outages and missing data hatched. */
export const DayStrip = memo(function DayStrip({ strips, sun, index }: Props) {
  const slots = [index * STRIP_SLOTS, (index + 1) * STRIP_SLOTS] as const;
  const soc = strips.soc.subarray(...slots);
  const marks = strips.marks.subarray(...slots);
  const [rise, set] = [sun[2 * index]!, sun[2 * index + 1]!];
  const { line, fill } = socPaths(soc);
  const missing = boxes(marks, MARK.missing, 0);
  const contact = boxes(marks, MARK.grid, HEIGHT - 4);
  const outage = boxes(marks, MARK.outage, 0);
  // Few elements for each strip: a page turned in the roll draws some thirty of them at once.
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="block h-5 w-full"
      aria-hidden
    >
      {!Number.isNaN(rise) && (
        <path
          d={`M0 0H${rise * WIDTH}V${HEIGHT}H0zM${set * WIDTH} 0H${WIDTH}V${HEIGHT}H${set * WIDTH}z`}
          fill="var(--rule)"
          fillOpacity="0.55"
        />
      )}
      <path d={fill} fill="var(--battery)" fillOpacity="0.17" />
      <path
        d={line}
        fill="none"
        stroke="var(--battery)"
        strokeWidth="1.3"
        vectorEffect="non-scaling-stroke"
      />
      {missing && <path d={missing} fill="var(--paper)" />}
      {missing && <path d={missing} fill="url(#hatch-missing)" />}
      {contact && <path d={contact} fill="var(--grid)" />}
      {outage && <path d={outage} fill="url(#hatch-red)" fillOpacity="0.85" />}
    </svg>
  );
});

const x = (slot: number) => ((slot / STRIP_SLOTS) * WIDTH).toFixed(1);

/** Boxes from `top` to the foot over every stretch of slots that bears a mark. */
function boxes(marks: Uint8Array, mark: number, top: number): string {
  return runs(marks, (bits) => (bits & mark) !== 0)
    .map(([from, to]) => `M${x(from)} ${top}H${x(to)}V${HEIGHT}H${x(from)}z`)
    .join('');
}

/** The line of SOC, broken where it is not known, and the area under it. */
function socPaths(soc: Float32Array): { line: string; fill: string } {
  const stretches = runs(soc, (value) => !Number.isNaN(value)).map(([from, to]) => {
    const points = Array.from(soc.subarray(from, to), (value, k) => {
      const y = HEIGHT - 1 - value * (HEIGHT - 3);
      return `${x(from + k + 0.5)} ${y.toFixed(1)}`;
    });
    const line = `M${points.join('L')}`;
    return { line, fill: `${line}V${HEIGHT}H${x(from + 0.5)}z` };
  });
  return {
    line: stretches.map(({ line }) => line).join(''),
    fill: stretches.map(({ fill }) => fill).join(''),
  };
}
