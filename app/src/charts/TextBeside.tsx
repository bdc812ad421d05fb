import type { SVGProps } from 'react';
import { LETTER } from './Caption.js';

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
 * right as the drawing goes.
 */
export function TextBeside({ at, gap, right, children, ...rest }: Props) {
  const long = children.length * LETTER;
  if (at + gap + long <= right)
    return (
      <text x={at + gap} {...rest}>
        {children}
      </text>
    );
  return (
    <text x={at - gap - long >= 0 ? at - gap : right} textAnchor="end" {...rest}>
      {children}
    </text>
  );
}
