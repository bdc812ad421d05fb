import type { Figure } from '@long-tally/core';
import { decimal } from '../ui/format.js';
import { localized } from '../ui/localized.js';
import { FLOW_ROWS } from './flowRows.js';
import { Pressable } from './Pressable.js';

const [BAR, GAP, NAME, SUM] = [28, 6, 110, 80];
/** Narrower than this a part has no room for its words. */
const WORDS = 74;

interface Props {
  readonly figures: Readonly<Record<string, Figure>>;
  readonly width: number;
  readonly onOpen: (key: string) => void;
}

/** A line for each source, cut by where its energy went, all lines to one scale. */
export function FlowBars({ figures, width, onOpen }: Props) {
  const value = (key: string) => figures[key]?.value ?? null;
  const missing = figures['account.flow.solarToLoad'];
  if (missing?.value == null) return <p className="text-faint">{localized(missing?.reason ?? '')}</p>;
  const sumOf = (flows: readonly (readonly [key: string, ...unknown[]])[]) =>
    flows.reduce((sum, [key]) => sum + (value(key) ?? 0), 0);
  const apart = (value('account.import') ?? 0) - sumOf(FLOW_ROWS[2].flows);
  const most = Math.max(1e-9, ...FLOW_ROWS.map(({ flows }) => sumOf(flows)));
  const scale = (width - NAME - SUM) / most;
  const bars = FLOW_ROWS.map(({ source, flows }, row) => {
    let end = NAME;
    const parts = flows.map(([key, to, ink]) => {
      const kWh = value(key) ?? 0;
      const wide = Math.max(kWh > 0 ? 3 : 0, kWh * scale);
      const left = end;
      end += wide;
      return { key, to, ink, kWh, left, width: wide, label: `${source} ${to}: ${decimal(kWh, 1)} kWh` };
    });
    return { source, parts, end, top: row * (BAR + GAP), sum: sumOf(flows) };
  });
  return (
    <div>
      <Pressable
        width={width}
        height={bars.length * (BAR + GAP)}
        parts={bars.flatMap(({ parts, top }) =>
          parts.filter((part) => part.width > 0).map((part) => ({ ...part, top, height: BAR })),
        )}
        onOpen={onOpen}
      >
        {bars.map(({ source, parts, top, end, sum }) => (
          <g key={source} transform={`translate(0,${top})`}>
            <text y="19" fontSize="13" fontWeight="600" fill="var(--ink)">
              {source}
            </text>
            {parts.map(({ key, to, ink, kWh, left, width: wide }) => (
              <g key={key}>
                <rect x={left} width={Math.max(0, wide - 1)} height={BAR} fill={ink} />
                {wide > WORDS && (
                  <text x={left + 6} y="19" fontWeight="600" fill="var(--paper)">
                    to {to} {decimal(kWh, 0)}
                  </text>
                )}
              </g>
            ))}
            <text x={end + 8} y="19" fill="var(--faint)">
              {decimal(sum, 0)} kWh
            </text>
          </g>
        ))}
      </Pressable>
      {apart > 0.005 * most && (
        <p className="text-[12.5px] text-faint" style={{ paddingLeft: NAME }}>
          {decimal(apart, 0)} kWh more were imported than a flow shows: trickle while the home carried itself,
          or time with a gap.
        </p>
      )}
    </div>
  );
}
