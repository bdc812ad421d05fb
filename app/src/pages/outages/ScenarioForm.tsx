import { scenarioOf, type Scenario } from '@long-tally/core';
import { useState } from 'react';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { NumberField } from '../../ui/NumberField.js';
import { SUN, type Sun } from './words.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { Tick } from '../../ui/Tick.js';

interface Props {
  /** Parts of the load that are logged by name. */
  readonly parts: readonly string[];
  readonly onAdd: (option: Scenario) => void;
}

type Start = 'logged' | 'reserve' | 'fixed';
const STARTS: readonly (readonly [Start, string])[] = [
  ['logged', 'as logged'],
  ['reserve', 'as logged, but at least'],
  ['fixed', 'always of'],
];

/** What stays on, sun or none, and with which charge it begins: one more option to compare. */
export function OptionForm({ parts, onAdd }: Props) {
  const [share, setShare] = useState('100');
  const [cap, setCap] = useState('');
  const [without, setWithout] = useState<readonly string[]>([]);
  const [sun, setSun] = useState<Sun>('with');
  const [start, setStart] = useState<Start>('logged');
  const [charge, setCharge] = useState('50');
  const [problem, setProblem] = useState<string | null>(null);
  const add = () => {
    const [kept, most, soc] = [
      typedNumber(share) / 100,
      cap.trim() === '' ? Infinity : typedNumber(cap),
      typedNumber(charge) / 100,
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
      scenarioOf({
        share: kept,
        capW: most,
        without,
        hasSun: sun === 'with',
        startSoc: start === 'fixed' ? soc : null,
        leastSoc: start === 'reserve' ? soc : 0,
      }),
    );
  };
  return (
    <form
      className="no-print mt-2 grid grid-cols-2 items-end gap-x-3 gap-y-1 sm:grid-cols-[110px_130px_130px_1fr_100px_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <NumberField text="Stays on, %" value={share} onChange={setShare} />
      <NumberField text="At most, W" value={cap} onChange={setCap} placeholder="no cap" />
      <ChoiceField text="Sun" value={sun} choices={SUN} onChange={setSun} />
      <ChoiceField text="Begins with a charge" value={start} choices={STARTS} onChange={setStart} />
      <NumberField text="Charge, %" value={charge} onChange={setCharge} disabled={start === 'logged'} />
      <button type="submit" className="action">
        Compare
      </button>
      {parts.length > 0 && (
        <fieldset className="col-span-full flex flex-wrap gap-x-4">
          <legend className="float-left mr-3 text-faint">Switched off:</legend>
          {parts.map((part) => (
            <Tick
              key={part}
              checked={without.includes(part)}
              onChange={(isOff) =>
                setWithout(isOff ? [...without, part] : without.filter((one) => one !== part))
              }
            >
              {part}
            </Tick>
          ))}
        </fieldset>
      )}
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </form>
  );
}
