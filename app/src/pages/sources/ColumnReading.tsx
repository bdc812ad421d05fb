import type { Conclusion, MappedColumn, Mapping } from '@long-tally/core';
import {
  directionsOf,
  QUANTITIES,
  readingOf,
  readingsOf,
  withAlternative,
  withColumn,
} from './mappingEdit.js';
import { Choice } from '../../ui/Choice.js';
import { Evidence } from './Evidence.js';

interface Props {
  readonly name: string;
  readonly cells: readonly string[];
  readonly mapping: Mapping;
  readonly conclusion: Conclusion | undefined;
  readonly isOpen: boolean;
  readonly onChange: (mapping: Mapping) => void;
}

/** One column of a file: its first cells, what it is taken for, and why. */
export function ColumnReading({ name, cells, mapping, conclusion, isOpen, onChange }: Props) {
  const column = mapping.columns.find((one) => one.column === name);
  const set = (change: Partial<MappedColumn> | null) => onChange(withColumn(mapping, name, change));
  const isPart = column !== undefined && /^(?:load|solar):/.test(column.quantity);
  return (
    <tr className={`border-b border-rule align-top ${column ? '' : 'text-faint'}`}>
      <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
        {name}
      </th>
      <td className="max-w-40 py-1.5 pr-3">
        {cells.map((cell, i) => (
          <span key={i} className="mr-2 inline-block">
            {cell === '' ? '–' : cell.slice(0, 24)}
          </span>
        ))}
      </td>
      <td className="py-1 pr-3">
        <Choice
          label={`${name} is taken for`}
          className="!w-auto"
          value={column?.quantity ?? 'none'}
          choices={[
            ['none', 'nothing: it stays in the file'],
            ...(isPart
              ? [[column.quantity, column.quantity.replace(/^(load|solar):/, 'part of the $1: ')] as const]
              : []),
            ...QUANTITIES,
          ]}
          onChange={(quantity) => set(quantity === 'none' ? null : { quantity, sign: 1 })}
        />
      </td>
      <td className="py-1 pr-3">
        {column && (
          <Choice
            label={`${name} is written as`}
            className="!w-auto"
            value={readingOf(column).text}
            choices={readingsOf(column.quantity).map(({ text }) => [text, text])}
            onChange={(text) => {
              const chosen = readingsOf(column.quantity).find((one) => one.text === text)!;
              set({ kind: chosen.kind, unit: chosen.unit, sample: chosen.sample });
            }}
          />
        )}
      </td>
      <td className="py-1 pr-3">
        {column && (
          <Choice
            label={`Sign of ${name}`}
            className="!w-auto"
            value={column.sign}
            choices={directionsOf(column.quantity).map((text, i) => [i === 0 ? 1 : -1, text])}
            onChange={(sign) => set({ sign: sign === 1 ? 1 : -1 })}
          />
        )}
      </td>
      <td className="py-1.5">
        {conclusion ? (
          <Evidence
            conclusion={conclusion}
            isOpen={isOpen}
            onAnswer={(alternative) =>
              onChange(alternative ? withAlternative(mapping, conclusion.about, alternative) : mapping)
            }
          />
        ) : (
          <p className="text-[12.5px]">
            {column ? 'You say so.' : 'Its name and its values say nothing that is known.'}
          </p>
        )}
      </td>
    </tr>
  );
}
