import { useState } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { dateText } from '../../ui/format.js';
import { useWidth } from '../../ui/useSize.js';
import type { SystemForm } from './form.js';
import { heldBetween, timeLineOf, wallText, type Mark } from './configurationMarks.js';

const DAY_MS = 86_400_000;
const STEPS: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowRight: 1,
  PageDown: -30,
  PageUp: 30,
};
const HEIGHT = 30;

/** The configurations on a line of time: a mark is dragged, or moved by arrow keys, to the day from which it holds. */
export function TimeLine() {
  const { control, setValue } = useFormContext<SystemForm>();
  const configurations = useWatch({ control, name: 'configurations' });
  const [ref, width] = useWidth<HTMLDivElement>();
  const [today] = useState(() => Date.now());
  const line = timeLineOf(configurations, today);
  if (!line) return <div ref={ref} />;
  const x = (ms: number) => ((ms - line.fromMs) / (line.toMs - line.fromMs)) * (width - 12) + 6;
  const moveTo = (mark: Mark, ms: number) =>
    setValue(`configurations.${mark.index}.from`, wallText(heldBetween(line.marks, mark, ms)), {
      shouldDirty: true,
      shouldValidate: true,
    });
  const dragTo = (mark: Mark) => (event: React.PointerEvent<HTMLElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const { left } = ref.current!.getBoundingClientRect();
    const at = line.fromMs + ((event.clientX - left - 6) / (width - 12)) * (line.toMs - line.fromMs);
    // By whole days: the time of day stays.
    moveTo(mark, mark.ms + Math.round((at - mark.ms) / DAY_MS) * DAY_MS);
  };
  return (
    <div
      ref={ref}
      role="group"
      aria-label="Configurations on a line of time"
      className="relative mt-2"
      style={{ height: HEIGHT }}
    >
      <div className="absolute inset-x-0 top-2 border-t border-rule-2" />
      {width > 0 &&
        line.marks.map((mark, k) => (
          <div key={mark.index}>
            <button
              type="button"
              role="slider"
              aria-label={`Configuration ${mark.index + 1} holds from`}
              aria-valuemin={line.fromMs}
              aria-valuemax={line.toMs}
              aria-valuenow={mark.ms}
              aria-valuetext={dateText(wallText(mark.ms).slice(0, 10), 'plain')}
              title="Drag it, or move it with the arrow keys"
              className="absolute top-0 h-4 w-3 -translate-x-1/2 cursor-ew-resize touch-none border border-ink bg-selected-2"
              style={{ left: x(mark.ms) }}
              onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
              onPointerMove={dragTo(mark)}
              onKeyDown={(event) => {
                const days = STEPS[event.key];
                if (days === undefined) return;
                event.preventDefault();
                moveTo(mark, mark.ms + days * DAY_MS);
              }}
            />
            <a
              href={`#configuration-${mark.index + 1}`}
              className="absolute top-4 truncate text-[12px] text-faint underline underline-offset-2"
              style={{
                left: x(mark.ms) - 6,
                maxWidth: x(line.marks[k + 1]?.ms ?? line.toMs) - x(mark.ms) - 4,
              }}
              onClick={(event) => {
                event.preventDefault();
                document.getElementById(`configuration-${mark.index + 1}`)?.scrollIntoView();
              }}
            >
              {mark.name || `configuration ${mark.index + 1}`},{' '}
              {dateText(wallText(mark.ms).slice(0, 10), 'plain')}
            </a>
          </div>
        ))}
    </div>
  );
}
