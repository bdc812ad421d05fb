import { LEVEL_ENERGIES, reportLayoutSchema, type ReportLayout } from '@long-tally/core';
import { useState } from 'react';
import { NumberField } from '../../ui/NumberField.js';
import { fieldText } from '../../ui/format.js';
import { typedNumber } from '../../ui/typedNumber.js';

type DayLevels = NonNullable<ReportLayout['levels']>;
type LevelEnergy = (typeof LEVEL_ENERGIES)[number];
const levelsSchema = reportLayoutSchema.shape.levels;

interface Props {
  readonly levels: DayLevels;
  readonly onChange: (levels: DayLevels) => void;
}

/** Levels of a day's energy, above which a statement counts the days. */
export function Levels({ levels, onChange }: Props) {
  const [typed, setTyped] = useState(() =>
    Object.fromEntries(LEVEL_ENERGIES.map((energy) => [energy, fieldText(levels[energy] ?? '')])),
  );
  const isLevel = (text: string) => levelsSchema.safeParse({ load: typedNumber(text) }).success;
  const change = (energy: LevelEnergy, text: string) => {
    setTyped({ ...typed, [energy]: text });
    onChange({ ...levels, [energy]: isLevel(text) ? typedNumber(text) : undefined });
  };
  const wrong = LEVEL_ENERGIES.find((energy) => typed[energy]!.trim() !== '' && !isLevel(typed[energy]!));
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
      {wrong && (
        <p role="alert" className="text-[12.5px]">
          “{typed[wrong]}” is no level of {wrong}: write kWh a day, for example 20.
        </p>
      )}
    </fieldset>
  );
}
