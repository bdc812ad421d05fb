import { correctionText, type PricePreview } from '@long-tally/core';
import { useState } from 'react';
import type { Reasoned } from '../../db/sources.js';
import { counted, decimal, localDateText, columnText } from '../../ui/format.js';
import type { ReadSummary } from '../../protocol.js';
import { Tick } from '../../ui/Tick.js';
import { localized } from '../../ui/localized.js';

interface Props {
  readonly summaries: readonly ReadSummary[];
  readonly timeZone: string;
  readonly onImport: (corrections: readonly Reasoned[]) => void;
  readonly onDiscard: () => void;
}

/** What would be imported: rows, days, quantities with what is missing of them, overlaps and what was met. */
export function Summary({ summaries, timeZone, onImport, onDiscard }: Props) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  if (summaries.length === 0) return null;
  const checks = summaries.flatMap((summary) => summary.checks.map((check) => ({ summary, check })));
  const keyOf = (id: number, message: string) => `${id} ${message}`;
  const corrections = checks.flatMap(({ summary, check }): Reasoned[] =>
    check.proposal && chosen.has(keyOf(summary.id, check.message))
      ? [{ correction: check.proposal, reason: check.message }]
      : [],
  );
  return (
    <section aria-label="What will be imported" className="mt-4 border-l-4 border-ink pl-3">
      <h2 className="text-[16px]">What will be imported</h2>
      {summaries.map((summary) => (
        <div key={summary.id} className="mt-1">
          <p>
            <b className="font-semibold">{summary.name}</b>: {counted(summary.rows, 'row')} over{' '}
            {decimal((summary.endMs - summary.startMs) / 86_400_000, 1)} days,{' '}
            {localDateText(summary.startMs, timeZone)} to {localDateText(summary.endMs - 1, timeZone)};{' '}
            {summary.quantities
              .map(
                ({ quantity, share }) =>
                  columnText(quantity) + (share < 0.995 ? ` (${decimal(100 * share, 0)} % of the time)` : ''),
              )
              .join(', ')}
            {summary.lumps > 0 &&
              `${summary.quantities.length > 0 ? ', ' : ''}${counted(summary.lumps, 'energy', 'energies')} whose course is not known`}
            .
          </p>
          {summary.prices.map((prices) => (
            <Prices key={prices.quantity} prices={prices} />
          ))}
          {summary.overlaps.length > 0 && (
            <p className="text-faint">
              It repeats what {summary.overlaps.join(', ')} gives: the finer of them leads, the other fills
              its gaps.
            </p>
          )}
          {summary.checks.map(({ message, proposal, kWh }) => (
            <div key={message} className="mt-1 border-l-4 border-red pl-3">
              <p>
                {kWh !== null && <b className="font-semibold text-red">{decimal(kWh, 1)} kWh. </b>}
                {localized(message)}
              </p>
              {proposal && (
                <Tick
                  checked={chosen.has(keyOf(summary.id, message))}
                  onChange={(isMended) => {
                    const next = new Set(chosen);
                    if (isMended) next.add(keyOf(summary.id, message));
                    else next.delete(keyOf(summary.id, message));
                    setChosen(next);
                  }}
                >
                  Mend it: {correctionText(proposal)} The file stays as it came; this can be taken away again.
                </Tick>
              )}
            </div>
          ))}
          {summary.findings.map(({ code, message }) => (
            <p key={code + message} className="text-faint">
              {localized(message)}
            </p>
          ))}
        </div>
      ))}
      <p className="sticky bottom-0 mt-2 flex gap-4 border-t border-rule-2 bg-paper py-2">
        <button type="button" className="action" onClick={() => onImport(corrections)}>
          Import {counted(summaries.length, 'log')}
          {checks.length > 0 &&
            corrections.length === 0 &&
            (summaries.length === 1 ? ' as it is' : ' as they are')}
        </button>
        <button type="button" className="quiet text-faint" onClick={onDiscard}>
          Do not import
        </button>
      </p>
    </section>
  );
}

const BAR_HEIGHT = 40;

/** The prices that a file brings: their span, what is odd about them, and their mean by hour of the day. */
function Prices({ prices }: { readonly prices: PricePreview }) {
  const { quantity, low, mean, high, negativeHours, missingHours, byHour } = prices;
  const known = byHour.filter((price) => price !== null);
  const [least, most] = [Math.min(0, ...known), Math.max(1e-9, ...known)];
  const y = (price: number) => (BAR_HEIGHT * (most - price)) / (most - least);
  return (
    <div className="mt-1">
      <p>
        {columnText(quantity)} from {decimal(low, 4)} to {decimal(high, 4)}, {decimal(mean, 4)} on average
        {negativeHours > 0 && `, ${decimal(negativeHours, 1)} h below zero`}
        {missingHours > 0 && `; ${decimal(missingHours, 1)} h have no price and keep that of the tariff`}.
        They lead over the tariff where they are given.
      </p>
      <svg
        width={24 * 14}
        height={BAR_HEIGHT + 16}
        role="img"
        fontSize="10"
        aria-label={`${columnText(quantity)} by hour of the day: ${byHour.map((price, hour) => `${hour} h ${price === null ? 'none' : decimal(price, 3)}`).join(', ')}`}
      >
        {byHour.map((price, hour) =>
          price === null ? null : (
            <rect
              key={hour}
              x={hour * 14 + 1}
              width="12"
              y={Math.min(y(0), y(price))}
              height={Math.max(1, Math.abs(y(0) - y(price)))}
              fill={price < 0 ? 'var(--red)' : 'var(--ink)'}
              fillOpacity="0.55"
            />
          ),
        )}
        <path d={`M0 ${y(0)}H${24 * 14}`} stroke="var(--faint)" />
        {[0, 6, 12, 18].map((hour) => (
          <text key={hour} x={hour * 14 + 7} y={BAR_HEIGHT + 13} textAnchor="middle" fill="var(--faint)">
            {hour}
          </text>
        ))}
      </svg>
    </div>
  );
}
