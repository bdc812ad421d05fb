import { ENERGY_ONLY, type Coverage, type Quantity } from '@long-tally/core';
import { useMemo } from 'react';
import { decimal, columnText } from '../ui/format.js';
import { useWidth } from '../ui/useSize.js';

/** Room that a year takes. */
const YEAR_WIDTH = 30;
const LINE = 15;
const LABEL = 176;

/** Days across, quantities down: inked where they are known, hatched where not, dotted where only the energy is. */
export function CoverageMap({
  coverage: { source, firstDate, days, rows },
}: {
  readonly coverage: Coverage;
}) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const height = rows.length * LINE + 16;
  const map = useMemo(() => {
    const x = (day: number) => LABEL + (day / Math.max(1, days)) * Math.max(0, width - LABEL);
    const stretch = (shares: Uint8Array, is: (share: number) => boolean, y: number) => {
      const parts: string[] = [];
      for (let from = 0; from < days;) {
        let to = from;
        while (to < days && is(shares[to]!)) to++;
        if (to > from)
          parts.push(`M${x(from).toFixed(1)} ${y}H${x(to).toFixed(1)}v${LINE - 4}H${x(from).toFixed(1)}z`);
        from = Math.max(to, from + 1);
      }
      return parts.join('');
    };
    const years: { x: number; year: string }[] = [];
    const first = Date.parse(firstDate);
    for (let day = 0; day < days; day++) {
      const date = new Date(first + day * 86_400_000).toISOString();
      if (day === 0 || date.slice(5, 10) === '01-01') years.push({ x: x(day), year: date.slice(0, 4) });
    }
    return { stretch, years };
  }, [days, firstDate, width]);
  const share = (shares: Uint8Array) =>
    shares.reduce((sum, one) => sum + (one === ENERGY_ONLY ? 100 : one), 0) / Math.max(1, days);
  return (
    <figure className="mt-2">
      <figcaption className="text-[13px] font-semibold">{source}</figcaption>
      <div ref={ref} style={{ height }}>
        {width > LABEL && (
          <svg
            width={width}
            height={height}
            role="img"
            aria-label={`Coverage of ${source} from ${firstDate} over ${days} days: ${rows.map(({ quantity, shares }) => `${quantity} ${decimal(share(shares), 0)} %`).join(', ')}`}
          >
            {map.years.map(({ x, year }) => (
              <g key={year} transform={`translate(${x},0)`}>
                <path d={`M.5 0V${height}`} stroke="var(--rule-2)" />
                {x + YEAR_WIDTH <= width && (
                  <text x="3" y={height - 3} fontSize="11" fill="var(--faint)">
                    {year}
                  </text>
                )}
              </g>
            ))}
            {rows.map(({ quantity, shares }, r) => {
              const y = r * LINE + 2;
              return (
                <g key={quantity}>
                  <text x={LABEL - 52} y={y + 9} fontSize="12" textAnchor="end" fill="var(--ink)">
                    {columnText(quantity as Quantity)}
                  </text>
                  <text x={LABEL - 8} y={y + 9} fontSize="12" textAnchor="end" fill="var(--faint)">
                    {decimal(share(shares), 0)} %
                  </text>
                  <path d={map.stretch(shares, (one) => one < 2, y)} fill="url(#hatch-missing)" />
                  <path
                    d={map.stretch(shares, (one) => one >= 2 && one < 95, y)}
                    fill="var(--home)"
                    fillOpacity="0.3"
                  />
                  <path
                    d={map.stretch(shares, (one) => one >= 95 && one !== ENERGY_ONLY, y)}
                    fill="var(--home)"
                    fillOpacity="0.75"
                  />
                  <path
                    d={map.stretch(shares, (one) => one === ENERGY_ONLY, y)}
                    fill="var(--solar)"
                    fillOpacity="0.6"
                  />
                </g>
              );
            })}
          </svg>
        )}
      </div>
    </figure>
  );
}
