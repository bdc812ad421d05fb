import type { RangeReport } from '@long-tally/core';
import { useEffect, useRef } from 'react';
import { workingOpened } from '../store/selection.js';
import { useAppDispatch, useAppSelector } from '../store/store.js';
import { useKeys } from './useKeys.js';
import { WorkingPanel } from './WorkingPanel.js';

/**
 * The figure whose working is open: `w` opens that of the focused figure, Escape closes it.
 * @param first figure that `w` opens when none is focused, and that stands for one that another view left open
 * @param area keys of the figures that belong to the view begin with one of these; all do when it is left out
 */
export function useWorking(report: RangeReport, first: string, area: readonly string[] = ['']) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector(({ selection }) => selection.workingKey);
  const workingKey = chosen === null || area.some((prefix) => chosen.startsWith(prefix)) ? chosen : first;
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
