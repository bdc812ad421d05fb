import type { SVGProps } from 'react';
import { LETTER } from './Caption.js';

/** Of a text that lies over lines: paper around its letters. */
export const OUTLINED = { stroke: 'var(--paper)', strokeWidth: 3, paintOrder: 'stroke' } as const;

interface Props extends Omit<SVGProps<SVGTextElement>, 'x' | 'textAnchor'> {
  /** The mark that the text belongs to, and the gap between them, px. */
  readonly at: number;
  readonly gap: number;
  /** The last that the text may reach, px. */
  readonly right: number;
  readonly children: string;
}

/**
 * A text beside its mark: to the right of it; where there is no room, to its left; where there is none either, as far
 * right as it can be read whole, and from the left edge where it is wider than the drawing.
 */
export function TextBeside({ at, gap, right, children, ...rest }: Props) {
  const long = children.length * LETTER;
  const isRight = at + gap + long <= right;
  const isLeft = !isRight && at - gap - long >= 0;
  return (
    <text
      x={isRight ? at + gap : isLeft ? at - gap : Math.max(0, right - long)}
      textAnchor={isLeft ? 'end' : 'start'}
      {...rest}
    >
      {children}
    </text>
  );
}
