import { counted } from '../ui/format.js';

/** Strokes in bundles of five, the fifth across the other four. */
export function TallyStrokes({ count }: { readonly count: number }) {
  const strokes = Array.from({ length: count }, (_, i) => {
    const x = 2 + Math.floor(i / 5) * 24 + (i % 5) * 4.4;
    return i % 5 === 4 ? `M${x - 19} 12L${x} 4` : `M${x} 2l-.6 12`;
  });
  const width = Math.ceil(count / 5) * 24;
  return (
    <svg
      width={width}
      height="16"
      viewBox={`0 0 ${width} 16`}
      role="img"
      aria-label={counted(count, 'grid-free day')}
      className="inline-block shrink-0"
    >
      <path d={strokes.join('')} fill="none" stroke="currentColor" strokeWidth="1.3" />
    </svg>
  );
}
