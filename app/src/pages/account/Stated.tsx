import { useId, useState } from 'react';
import { useReconciliationQuery } from '../../store/api.js';
import { decimal } from '../../ui/format.js';
import type { At } from '../../protocol.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { localized } from '../../ui/localized.js';

interface Props {
  readonly at: At;
  readonly from: string;
  readonly to: string;
}

/** A figure that somebody else states: which definition, range or omission gives it from these data. */
export function Stated({ at, from, to }: Props) {
  const id = useId();
  const [text, setText] = useState('');
  const percent = typedNumber(text);
  const isShare = percent >= -100 && percent <= 100;
  const { currentData: reckonings } = useReconciliationQuery(
    { at, from, to, stated: percent / 100 },
    { skip: !isShare },
  );
  const found = reckonings?.filter(({ isIt }) => isIt) ?? [];
  const inverse = reckonings?.find(({ isInverse }) => isInverse);
  const nearest = reckonings?.filter(({ isInverse }) => !isInverse).slice(0, 3) ?? [];
  return (
    <section aria-label="What somebody else states" className="mt-3 no-print">
      <h2 className="text-[15px]">Somebody else says otherwise?</h2>
      <label htmlFor={id} className="mt-1 flex items-baseline gap-2">
        <span>A portal, a bill or a neighbour says</span>
        <input
          id={id}
          inputMode="decimal"
          value={text}
          onChange={(event) => setText(event.target.value)}
          aria-invalid={text.trim() !== '' && !isShare}
          aria-describedby={`${id}-help`}
          className="field !w-16 text-right"
        />
        <span>% self-sufficient</span>
      </label>
      <div id={`${id}-help`} aria-live="polite" className="mt-1 text-[13px]">
        {text.trim() !== '' && !isShare && (
          <p className="text-red">“{text}” is not a percentage: write a number up to 100, for example 98.</p>
        )}
        {reckonings && (
          <>
            <p>
              {found.length > 0
                ? 'These definitions give that number from your data:'
                : nearest.length > 0
                  ? 'No usual definition gives that number from your data. The nearest:'
                  : 'These data give no self-sufficiency to hold it against.'}
            </p>
            <ul>
              {(found.length > 0 ? found : nearest).map(({ says, value }) => (
                <li key={says} className="grid grid-cols-[58px_1fr] gap-x-2 border-b border-rule py-0.5">
                  <b className="text-right font-semibold">{decimal(100 * value, 1)} %</b>
                  <span>{localized(says)}</span>
                </li>
              ))}
            </ul>
            {inverse && <p className="mt-1">{localized(inverse.says)}.</p>}
          </>
        )}
      </div>
    </section>
  );
}
