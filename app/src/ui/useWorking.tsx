import type { RangeReport } from '@long-tally/core';
import { useEffect, useRef } from 'react';
import { workingOpened } from '../store/selection.js';
import { useAppDispatch, useAppSelector } from '../store/store.js';
import { useKeys } from './useKeys.js';
import { WorkingPanel } from './WorkingPanel.js';

/**
 * The figure whose working is open: `w` opens that of the focused figure, Escape closes it.
 * @param first figure that `w` opens when none is focused
 */
export function useWorking(report: RangeReport, first: string) {
  const dispatch = useAppDispatch();
  const workingKey = useAppSelector(({ selection }) => selection.workingKey);
  const working = workingKey === null ? undefined : report.figures[workingKey];
  const panel = useRef<HTMLDivElement>(null);
  const opened = useRef(workingKey);
  useEffect(() => {
    if (opened.current !== workingKey && workingKey !== null)
      panel.current?.scrollIntoView({ block: 'nearest' });
    opened.current = workingKey;
  }, [workingKey]);
  useKeys({
    w: () => {
      const focused = document.activeElement?.closest<HTMLElement>('[data-figure]')?.dataset['figure'];
      dispatch(workingOpened(focused ?? workingKey ?? first));
    },
    Escape: () => dispatch(workingOpened(null)),
  });
  return {
    workingKey,
    open: (key: string) => dispatch(workingOpened(key)),
    panel: (
      <div ref={panel}>
        {working && workingKey !== null && (
          <WorkingPanel
            figureKey={workingKey}
            figure={working}
            onClose={() => dispatch(workingOpened(null))}
          />
        )}
      </div>
    ),
  };
}
