import type { Figure } from '@long-tally/core';
import { betweenText, decimal } from '../ui/format.js';
import { localized } from '../ui/localized.js';
import { Pressable, type Part } from './Pressable.js';

const [NAME, BAR, FUNNEL, PART, WORDS] = [18, 30, 26, 26, 36];
const WENT = NAME + BAR + 4;
const PARTS_TOP = WENT + NAME + BAR + FUNNEL;
const HEIGHT = PARTS_TOP + PART + WORDS;
/** Narrower than this a portion has no room for its words. */
const NARROW = 96;
/** Every part of the losses keeps room for its name. */
const LEAST = 118;

/** The parts of the losses. */
export const LOSS_PARTS = [
  ['losses.part.idle', 'idle, battery side'],
  ['losses.part.conversion', 'conversion'],
  ['losses.part.inverter', 'idle, inverter'],
  ['losses.unexplained', 'unexplained'],
] as const;

/** One portion of a bar, kWh. */
interface Portion {
  readonly key: string;
  readonly text: string;
  readonly kWh: number;
  readonly fill: string;
}

interface Props {
  readonly figures: Readonly<Record<string, Figure>>;
  readonly width: number;
  readonly onOpen: (key: string) => void;
}

/** What came in, what went out, and the difference drawn larger by its parts, all to one scale each. */
export function LossBudget({ figures, width, onOpen }: Props) {
  const value = (key: string) => figures[key]?.value ?? 0;
  const store = value('account.storeChange');
  const losses = Math.max(0, value('account.losses'));
  const came: Portion[] = [
    { key: 'account.solar', text: 'S solar', kWh: value('account.solar'), fill: 'var(--solar-text)' },
    { key: 'account.import', text: 'G import', kWh: value('account.import'), fill: 'var(--grid)' },
    ...(store < 0
      ? [{ key: 'account.storeChange', text: 'B from store', kWh: -store, fill: 'var(--battery)' }]
      : []),
  ];
  const went: Portion[] = [
    { key: 'account.load', text: 'H load', kWh: value('account.load'), fill: 'var(--home)' },
    { key: 'account.export', text: 'G export', kWh: value('account.export'), fill: 'var(--grid)' },
    ...(store > 0
      ? [{ key: 'account.storeChange', text: 'B into store', kWh: store, fill: 'var(--battery)' }]
      : []),
    { key: 'account.losses', text: 'losses', kWh: losses, fill: 'url(#hatch-red)' },
  ];
  const total = Math.max(sum(came), sum(went), 1e-9);
  const x = (kWh: number) => (kWh / total) * width;
  const placed = (portions: readonly Portion[], top: number) =>
    portions.map((portion, i) => ({
      ...portion,
      top,
      left: x(sum(portions.slice(0, i))),
      width: Math.max(0, x(portion.kWh) - 1),
      height: BAR,
      label: `${portion.text} ${decimal(portion.kWh, 0)} kWh`,
    }));
  const bars = [...placed(came, NAME), ...placed(went, WENT + NAME)];
  const parts = lossParts(figures, width);
  const lossFrom = x(sum(went) - losses);
  const funnel = PARTS_TOP - FUNNEL;
  return (
    <>
      <Pressable width={width} height={HEIGHT} parts={[...bars, ...parts]} onOpen={onOpen}>
        <text y="13" fill="var(--faint)">
          came in, kWh
        </text>
        <text y={WENT + 13} fill="var(--faint)">
          went out, kWh
        </text>
        {bars.map((bar) => (
          <Bar key={bar.key} bar={bar} />
        ))}
        <path
          d={`M${lossFrom} ${funnel}L0 ${PARTS_TOP}M${x(sum(went))} ${funnel}L${width} ${PARTS_TOP}`}
          stroke="var(--rule-2)"
          fill="none"
        />
        {parts.map((part) => (
          <LossPart key={part.key} part={part} />
        ))}
      </Pressable>
      {parts.length === 0 && (
        <p className="text-red">{localized(figures['losses.unexplained']?.reason ?? '')}</p>
      )}
    </>
  );
}

function sum(portions: readonly { readonly kWh: number }[]): number {
  return portions.reduce((total, { kWh }) => total + kWh, 0);
}

function Bar({ bar: { text, kWh, fill, left, top, width, height } }: { readonly bar: Portion & Part }) {
  const isHatched = fill.startsWith('url');
  return (
    <g transform={`translate(${left},${top})`}>
      <rect
        width={width}
        height={height}
        fill={fill}
        fillOpacity={isHatched ? 0.45 : undefined}
        stroke={isHatched ? 'var(--red)' : undefined}
      />
      {width > NARROW && (
        <text
          x="10"
          y="20"
          fontSize="13"
          fontWeight="600"
          fill={isHatched ? 'var(--red)' : 'var(--paper)'}
          stroke={isHatched ? 'var(--paper)' : undefined}
          strokeWidth="4"
          paintOrder="stroke"
        >
          {text} {decimal(kWh, 0)}
        </text>
      )}
    </g>
  );
}

interface PlacedLoss extends Part {
  readonly text: string;
  readonly figure: Figure;
}

/** The losses by their parts. A part below zero has no width; it is told all the same. */
function lossParts(figures: Readonly<Record<string, Figure>>, width: number): PlacedLoss[] {
  const parts = LOSS_PARTS.flatMap(([key, text]) => {
    const figure = figures[key];
    return figure?.value == null ? [] : [{ key, text, figure, kWh: Math.max(0, figure.value) }];
  });
  const total = Math.max(sum(parts), 1e-9);
  const least = Math.min(LEAST, width / Math.max(1, parts.length));
  const spare = width - least * parts.length;
  let end = 0;
  return parts.map(({ key, text, figure, kWh }) => {
    const left = end;
    const wide = least + (spare * kWh) / total;
    end += wide;
    const label = `${text} ${decimal(figure.value!, 0)} kWh, ${rangeText(figure)}`;
    return { key, text, figure, left, top: PARTS_TOP, width: wide, height: PART + WORDS, label };
  });
}

function LossPart({ part: { key, text, figure, left, top, width } }: { readonly part: PlacedLoss }) {
  const isUnexplained = key === 'losses.unexplained';
  return (
    <g transform={`translate(${left},${top})`}>
      <rect
        x="0.5"
        y="0.5"
        width={Math.max(0, width - 2)}
        height={PART - 1}
        fill={isUnexplained ? 'none' : 'url(#hatch-red)'}
        fillOpacity="0.6"
        stroke="var(--red)"
        strokeDasharray={isUnexplained ? '4 3' : undefined}
      />
      <text y={PART + 14} fontWeight="600" fill="var(--ink)">
        {text}
      </text>
      <text y={PART + 30} fill="var(--faint)">
        <tspan fontWeight="600" fill="var(--red)">
          {decimal(figure.value!, 0)}
        </tspan>{' '}
        {rangeText(figure)}
      </text>
    </g>
  );
}

function rangeText({ low, high }: Figure): string {
  return betweenText(low!, high!, 0);
}
