import { OUTLINED, TextBeside } from './TextBeside.js';

/** A moment that is written on the axis of time, or a stretch in which it may lie. */
export interface CourseMark {
  readonly text: string;
  readonly atMs: number;
  readonly fromMs?: number;
  readonly toMs?: number;
}

interface Props {
  readonly marks: readonly CourseMark[];
  readonly range: { readonly fromMs: number; readonly toMs: number };
  readonly x: (ms: number) => number;
  /** Between these a mark is drawn, px; the text of the first one stands on a line of its own, each other below it. */
  readonly top: number;
  readonly bottom: number;
  readonly first: number;
  /** The last that a text may reach. */
  readonly right: number;
}

/** Moments and stretches of a course, each with its text on a line of its own. */
export function CourseMarks({ marks, range, x, top, bottom, first, right }: Props) {
  const held = (ms: number) => x(Math.min(range.toMs, Math.max(range.fromMs, ms)));
  return marks.map(({ text, atMs, fromMs = atMs, toMs = atMs }, i) => {
    const at = held(atMs);
    const y = first + 20 * i;
    return (
      <g key={text} fontSize="12">
        <path
          d={`M${held(fromMs)} ${y}H${held(toMs)}`}
          stroke="var(--ink)"
          strokeWidth="5"
          strokeOpacity="0.25"
        />
        {atMs <= range.toMs && (
          <path d={`M${at} ${top}V${bottom}`} stroke="var(--ink)" strokeDasharray="2 3" />
        )}
        <TextBeside at={at} gap={5} right={right} y={y - 5} fill="var(--ink)" {...OUTLINED}>
          {text}
        </TextBeside>
      </g>
    );
  });
}
