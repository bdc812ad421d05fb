import type { IdleStretch } from '../../passes/idleFit.js';
import type { RangeData } from '../../passes/rangeData.js';

/** Stretches whose windows tell idle draw and conversion apart. */
export function toldApart({
  stretches,
}: Pick<RangeData, 'stretches'>): (IdleStretch & { fit: NonNullable<IdleStretch['fit']> })[] {
  return stretches.flatMap((stretch) => (stretch.fit ? [{ ...stretch, fit: stretch.fit }] : []));
}
