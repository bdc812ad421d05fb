import type { SVGProps } from 'react';
import { pathsOf } from './symbols.js';

interface Props<T> {
  readonly points: readonly T[];
  readonly mark: (point: T) => string;
  readonly look: SVGProps<SVGPathElement>;
}

/** Points of a chart that look alike. */
export function Marks<T>({ points, mark, look }: Props<T>) {
  return pathsOf(points, mark).map((d, i) => <path key={i} d={d} {...look} />);
}
