import { LEVEL_ENERGIES, type ReportLayout } from '@long-tally/core';
import { useState } from 'react';
import { NumberField } from '../../ui/NumberField.js';
import { typedNumber } from '../../ui/typedNumber.js';

type DayLevels = NonNullable<ReportLayout['levels']>;
const MOST_KWH = 1e6;

interface Props {
  readonly levels: DayLevels;
  readonly onChange: (levels: DayLevels) => void;
}

/** Levels of a day's energy, above which a statement counts the days. */
export function Levels({ levels, onChange }: Props) {
  const [typed, setTyped] = useState(() =>
    Object.fromEntries(LEVEL_ENERGIES.map((energy) => [energy, String(levels[energy] ?? '')])),
  );
  const change = (energy: keyof DayLevels, text: string) => {
    setTyped({ ...typed, [energy]: text });
    const kWh = typedNumber(text);
    onChange({ ...levels, [energy]: kWh > 0 && kWh <= MOST_KWH ? kWh : undefined });
  };
  return (
    <fieldset className="mt-3">
      <legend className="text-[12.5px] text-faint">Count the days over so many kWh</legend>
      <div className="grid grid-cols-4 gap-2">
        {LEVEL_ENERGIES.map((energy) => (
          <NumberField
            key={energy}
            text={energy}
            value={typed[energy]!}
            onChange={(text) => change(energy, text)}
          />
        ))}
      </div>
    </fieldset>
  );
}
