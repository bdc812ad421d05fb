import { optionOf, type Option } from '@long-tally/core';
import { useId, useState } from 'react';
import { Labelled } from '../../ui/Labelled.js';

interface Props {
  /** Parts of the load that are logged by name. */
  readonly parts: readonly string[];
  readonly onAdd: (option: Option) => void;
}

type Start = 'logged' | 'reserve' | 'fixed';

/** What stays on, sun or none, and with which charge it begins: one more option to compare. */
export function OptionForm({ parts, onAdd }: Props) {
  const id = useId();
  const [share, setShare] = useState('100');
  const [cap, setCap] = useState('');
  const [without, setWithout] = useState<readonly string[]>([]);
  const [hasSun, setHasSun] = useState(true);
  const [start, setStart] = useState<Start>('logged');
  const [charge, setCharge] = useState('50');
  const [problem, setProblem] = useState<string | null>(null);
  const number = (text: string) => (text.trim() === '' ? NaN : Number(text.replace(',', '.')));
  const add = () => {
    const [kept, most, soc] = [
      number(share) / 100,
      cap.trim() === '' ? Infinity : number(cap),
      number(charge) / 100,
    ];
    const wrong = !(kept > 0 && kept <= 1)
      ? 'Write the share of the load from 1 to 100 %.'
      : !(most > 0)
        ? 'Write the most that is used in W, or leave it empty.'
        : start !== 'logged' && !(soc >= 0 && soc <= 1)
          ? 'Write the charge from 0 to 100 %.'
          : null;
    setProblem(wrong);
    if (wrong !== null) return;
    onAdd(
      optionOf({
        share: kept,
        capW: most,
        without,
        hasSun,
        startSoc: start === 'fixed' ? soc : null,
        leastSoc: start === 'reserve' ? soc : 0,
      }),
    );
  };
  return (
    <form
      className="mt-2 grid grid-cols-[110px_130px_130px_1fr_100px_auto] items-end gap-x-3 gap-y-1"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <Labelled id={`${id}-share`} text="Stays on, %">
        <input
          id={`${id}-share`}
          className="field"
          inputMode="decimal"
          value={share}
          onChange={(event) => setShare(event.target.value)}
        />
      </Labelled>
      <Labelled id={`${id}-cap`} text="At most, W">
        <input
          id={`${id}-cap`}
          className="field"
          inputMode="decimal"
          placeholder="no cap"
          value={cap}
          onChange={(event) => setCap(event.target.value)}
        />
      </Labelled>
      <Labelled id={`${id}-sun`} text="Sun">
        <select
          id={`${id}-sun`}
          className="field"
          value={hasSun ? 'with' : 'none'}
          onChange={(event) => setHasSun(event.target.value === 'with')}
        >
          <option value="with">as it was</option>
          <option value="none">none</option>
        </select>
      </Labelled>
      <Labelled id={`${id}-start`} text="Begins with a charge">
        <select
          id={`${id}-start`}
          className="field"
          value={start}
          onChange={(event) => setStart(event.target.value as Start)}
        >
          <option value="logged">as logged</option>
          <option value="reserve">as logged, but at least</option>
          <option value="fixed">always of</option>
        </select>
      </Labelled>
      <Labelled id={`${id}-charge`} text="Charge, %">
        <input
          id={`${id}-charge`}
          className="field"
          inputMode="decimal"
          disabled={start === 'logged'}
          value={charge}
          onChange={(event) => setCharge(event.target.value)}
        />
      </Labelled>
      <button type="submit" className="action">
        Compare
      </button>
      {parts.length > 0 && (
        <fieldset className="col-span-full flex flex-wrap gap-x-4">
          <legend className="float-left mr-3 text-faint">Switched off:</legend>
          {parts.map((part) => (
            <label key={part} className="flex items-baseline gap-1.5">
              <input
                type="checkbox"
                checked={without.includes(part)}
                onChange={(event) =>
                  setWithout(
                    event.target.checked ? [...without, part] : without.filter((one) => one !== part),
                  )
                }
              />
              {part}
            </label>
          ))}
        </fieldset>
      )}
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </form>
  );
}
