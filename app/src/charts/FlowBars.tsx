import type { Figure } from '@long-tally/core';
import { decimal } from '../ui/format.js';

const ROWS = [
  {
    source: 'S solar gave',
    flows: [
      ['account.flow.solarToLoad', 'load', 'var(--home)'],
      ['account.flow.solarToStore', 'store', 'var(--battery)'],
      ['account.flow.solarToExport', 'grid', 'var(--grid)'],
    ],
  },
  {
    source: 'B store gave',
    flows: [
      ['account.flow.storeToLoad', 'load', 'var(--home)'],
      ['account.flow.storeToExport', 'grid', 'var(--grid)'],
    ],
  },
  {
    source: 'G grid gave',
    flows: [
      ['account.flow.gridToLoad', 'load', 'var(--home)'],
      ['account.flow.gridToStore', 'store', 'var(--battery)'],
    ],
  },
] as const;

interface Props {
  readonly figures: Readonly<Record<string, Figure>>;
  readonly width: number;
  readonly onOpen: (key: string) => void;
}

/** A line for each source, cut by where its energy went, all lines to one scale. */
export function FlowBars({ figures, width, onOpen }: Props) {
  const value = (key: string) => figures[key]?.value ?? null;
  const missing = figures['account.flow.solarToLoad'];
  if (missing?.value == null) return <p className="text-faint">{missing?.reason}</p>;
  const sumOf = (flows: readonly (readonly [key: string, ...unknown[]])[]) =>
    flows.reduce((sum, [key]) => sum + (value(key) ?? 0), 0);
  const apart = (value('account.import') ?? 0) - sumOf(ROWS[2].flows);
  const most = Math.max(1e-9, ...ROWS.map(({ flows }) => sumOf(flows)));
  const bar = width - 190;
  return (
    <div className="space-y-1.5">
      {ROWS.map(({ source, flows }) => (
        <div key={source} className="flex items-center">
          <span className="w-[110px] font-semibold">{source}</span>
          {flows.map(([key, to, ink]) => {
            const kWh = value(key) ?? 0;
            const wide = (kWh / most) * bar;
            return (
              <button
                key={key}
                type="button"
                data-figure={key}
                aria-label={`${source} ${to}: ${decimal(kWh, 1)} kWh`}
                onClick={() => onOpen(key)}
                className="h-7 overflow-hidden border-r border-paper text-left text-[12.5px] font-semibold whitespace-nowrap text-paper"
                style={{ width: Math.max(kWh > 0 ? 3 : 0, wide), background: ink }}
              >
                {wide > 74 && (
                  <span className="px-1.5">
                    to {to} {decimal(kWh, 0)}
                  </span>
                )}
              </button>
            );
          })}
          <span className="ml-2 text-faint">{decimal(sumOf(flows), 0)} kWh</span>
        </div>
      ))}
      {apart > 0.005 * most && (
        <p className="pl-[110px] text-[12.5px] text-faint">
          {decimal(apart, 0)} kWh more were imported than a flow shows: trickle while the home carried itself,
          or time with a gap.
        </p>
      )}
    </div>
  );
}
