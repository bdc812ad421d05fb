import type { Figure } from '@long-tally/core';
import { decimal } from '../ui/format.js';

const BAR = 30;

/** One portion of a bar, kWh. */
interface Portion {
  readonly key: string;
  readonly text: string;
  readonly kWh: number;
  readonly fill: string;
  readonly ink: string;
}

interface Props {
  readonly figures: Readonly<Record<string, Figure>>;
  readonly width: number;
  readonly onOpen: (key: string) => void;
}

const PARTS = [
  ['losses.part.idle', 'idle, battery side'],
  ['losses.part.conversion', 'conversion'],
  ['losses.part.inverter', 'idle, inverter'],
  ['losses.unexplained', 'unexplained'],
] as const;

/** What came in, what went out, and the difference drawn larger by its parts, all to one scale each. */
export function LossBudget({ figures, width, onOpen }: Props) {
  const value = (key: string) => figures[key]?.value ?? 0;
  const store = value('account.storeChange');
  const losses = value('account.losses');
  const came: Portion[] = [
    portion('account.solar', 'S solar', value('account.solar'), 'var(--solar-text)', 'var(--paper)'),
    portion('account.import', 'G import', value('account.import'), 'var(--grid)', 'var(--paper)'),
    ...(store < 0
      ? [portion('account.storeChange', 'B from store', -store, 'var(--battery)', 'var(--paper)')]
      : []),
  ];
  const went: Portion[] = [
    portion('account.load', 'H load', value('account.load'), 'var(--home)', 'var(--paper)'),
    portion('account.export', 'G export', value('account.export'), 'var(--grid)', 'var(--paper)'),
    ...(store > 0
      ? [portion('account.storeChange', 'B into store', store, 'var(--battery)', 'var(--paper)')]
      : []),
    portion('account.losses', 'losses', Math.max(0, losses), 'url(#hatch-red)', 'var(--ink)'),
  ];
  const total = Math.max(sum(came), sum(went), 1e-9);
  const x = (kWh: number) => (kWh / total) * width;
  const lossFrom = x(sum(went) - Math.max(0, losses));
  return (
    <div>
      <p className="text-[12.5px] text-faint">came in, kWh</p>
      <Bar portions={came} x={x} width={width} onOpen={onOpen} />
      <p className="mt-1 text-[12.5px] text-faint">went out, kWh</p>
      <Bar portions={went} x={x} width={width} onOpen={onOpen} />
      <svg width={width} height={26} aria-hidden className="block">
        <path d={`M${lossFrom} 0L0 26M${x(sum(went))} 0L${width} 26`} stroke="var(--rule-2)" fill="none" />
      </svg>
      <Parts figures={figures} width={width} onOpen={onOpen} />
    </div>
  );
}

function portion(key: string, text: string, kWh: number, fill: string, ink: string): Portion {
  return { key, text, kWh, fill, ink };
}

function sum(portions: readonly { readonly kWh: number }[]): number {
  return portions.reduce((total, { kWh }) => total + kWh, 0);
}

interface BarProps {
  readonly portions: readonly Portion[];
  readonly x: (kWh: number) => number;
  readonly width: number;
  readonly onOpen: (key: string) => void;
}

function Bar({ portions, x, width, onOpen }: BarProps) {
  return (
    <div className="relative" style={{ height: BAR, width }}>
      {portions.map(({ key, text, kWh, fill, ink }, i) => {
        const left = x(sum(portions.slice(0, i)));
        const wide = Math.max(0, x(kWh) - 1);
        const hatched = fill.startsWith('url');
        return (
          <button
            key={key}
            type="button"
            data-figure={key}
            aria-label={`${text} ${decimal(kWh, 0)} kWh`}
            onClick={() => onOpen(key)}
            className={`absolute inset-y-0 overflow-hidden text-left text-[13px] font-semibold whitespace-nowrap ${hatched ? 'border border-red' : ''}`}
            style={{ left, width: wide, background: hatched ? 'var(--paper)' : fill, color: ink }}
          >
            {hatched && (
              <svg className="absolute inset-0 h-full w-full" aria-hidden>
                <rect width="100%" height="100%" fill={fill} fillOpacity="0.45" />
              </svg>
            )}
            {wide > 96 && (
              <span className={`relative ml-1.5 px-1 ${hatched ? 'bg-paper text-red' : ''}`}>
                {text} {decimal(kWh, 0)}
              </span>
            )}
          </button>
        );
      })}
    </div>
  );
}

/** The losses by their parts. A part below zero has no width; it is told all the same. */
function Parts({ figures, width, onOpen }: Omit<BarProps, 'portions' | 'x'> & Props) {
  const parts = PARTS.flatMap(([key, text]) => {
    const figure = figures[key];
    return figure?.value == null ? [] : [{ key, text, figure, kWh: Math.max(0, figure.value) }];
  });
  if (parts.length === 0) return <p className="text-red">{figures['losses.unexplained']?.reason}</p>;
  const total = Math.max(sum(parts), 1e-9);
  // Every part keeps room for its name.
  const least = 118;
  const spare = Math.max(0, width - least * parts.length);
  return (
    <div className="flex" style={{ width }}>
      {parts.map(({ key, text, figure, kWh }) => (
        <button
          key={key}
          type="button"
          data-figure={key}
          onClick={() => onOpen(key)}
          className="block text-left"
          style={{ width: least + (spare * kWh) / total }}
        >
          <svg width="100%" height={26} aria-hidden className="block">
            <rect
              x="0.5"
              y="0.5"
              width="99%"
              height="25"
              fill={key === 'losses.unexplained' ? 'none' : 'url(#hatch-red)'}
              fillOpacity="0.6"
              stroke="var(--red)"
              strokeDasharray={key === 'losses.unexplained' ? '4 3' : undefined}
            />
          </svg>
          <span className="block text-[12.5px] leading-tight font-semibold">{text}</span>
          <span className="block text-[12.5px] leading-tight">
            <b className="font-semibold text-red">{decimal(figure.value!, 0)}</b>{' '}
            <span className="text-faint">
              {decimal(figure.low!, 0)} – {decimal(figure.high!, 0)}
            </span>
          </span>
        </button>
      ))}
    </div>
  );
}
