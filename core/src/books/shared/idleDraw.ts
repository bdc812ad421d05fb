import type { IdleStretch } from '../../passes/idleFit.js';
import type { RangeData } from '../../passes/rangeData.js';

/** Stretches whose windows tell idle draw and conversion apart. */
export function toldApart({
  stretches,
}: Pick<RangeData, 'stretches'>): (IdleStretch & { fit: NonNullable<IdleStretch['fit']> })[] {
  return stretches.flatMap((stretch) => (stretch.fit ? [{ ...stretch, fit: stretch.fit }] : []));
}

/** Share of the time in which a store that feeds an idle draw is drawn upon: not while it stands empty and feeds nothing. */
export function drawnShare(told: readonly IdleStretch[]): number {
  let [drawn, all] = [0, 0];
  for (const { hours, emptyHours } of told) {
    drawn += hours;
    all += hours + emptyHours;
  }
  return all > 0 ? drawn / all : 1;
}
