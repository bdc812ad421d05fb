import { ChoiceField } from '../../ui/ChoiceField.js';
import { parseMapping, type Conclusion, type Mapping } from '@long-tally/core';
import { useState } from 'react';
import { FileButton } from '../../ui/FileButton.js';
import { counted, columnText } from '../../ui/format.js';
import type { Found } from '../../protocol.js';
import { ColumnReading } from './ColumnReading.js';
import { Evidence } from './Evidence.js';
import { withAlternative, withDecimal, withTime } from './mappingEdit.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly found: readonly Found[];
  /** True once the files are read as shown. */
  readonly isRead: boolean;
  readonly onChange: () => void;
  readonly onRead: (found: readonly Found[]) => void;
}

/** A mapping from a file answers whatever was asked. */
const ALL = 'all';

/** Files that are read alike, with the reading they share. */
interface Group {
  readonly shape: string;
  readonly files: readonly Found[];
  readonly mapping: Mapping | null;
  /** What is asked and not answered yet. */
  readonly open: readonly string[];
}

/** How the dropped files would be read: every conclusion with its evidence, changeable; what is open is asked. */
export function Review({ found, isRead, onChange, onRead }: Props) {
  const [groups, setGroups] = useState(() => groupsOf(found));
  const change = (shape: string, mapping: Mapping, answered: string | null) => {
    setGroups(
      groups.map((group) =>
        group.shape === shape
          ? {
              ...group,
              mapping,
              open:
                answered === ALL
                  ? []
                  : group.open.filter(
                      (about) => about !== answered && !(about === 'columns' && mapping.columns.length > 0),
                    ),
            }
          : group,
      ),
    );
    onChange();
  };
  const open = groups.reduce((sum, group) => sum + group.open.length, 0);
  return (
    <section aria-label="How the files are read" className="mt-4">
      <h2 className="text-[16px]">How the files are read</h2>
      {groups.map((group) => (
        <GroupReading
          key={group.shape}
          group={group}
          onChange={(mapping, answered) => change(group.shape, mapping, answered)}
        />
      ))}
      {!isRead && (
        <p className="sticky bottom-0 mt-3 border-t border-rule-2 bg-paper py-2">
          <button
            type="button"
            className="action"
            disabled={open > 0}
            onClick={() =>
              onRead(
                groups.flatMap(({ files, mapping }) =>
                  files.map((file) => ({ ...file, mapping: file.mapping && mapping })),
                ),
              )
            }
          >
            Read {counted(found.length, 'log')} this way
          </button>
          {open > 0 && <span className="ml-3 text-red">{counted(open, 'question')} to answer first.</span>}
        </p>
      )}
    </section>
  );
}

function groupsOf(found: readonly Found[]): Group[] {
  const shapes = [...new Set(found.map(({ shape }) => shape))];
  return shapes.map((shape) => {
    const files = found.filter((file) => file.shape === shape);
    // Files of one shape share their answers: the one that leaves the least open speaks for all.
    const asks = (file: Found) => file.recognition.conclusions.filter((conclusion) => conclusion.asks).length;
    const [surest] = [...files].sort((a, b) => asks(a) - asks(b)) as [Found];
    const open = surest.isRemembered
      ? []
      : surest.recognition.conclusions.filter(({ asks: asked }) => asked).map(({ about }) => about);
    return {
      shape,
      files: [surest, ...files.filter((file) => file !== surest)],
      mapping: surest.mapping,
      open,
    };
  });
}

interface GroupProps {
  readonly group: Group;
  readonly onChange: (mapping: Mapping, answered: string | null) => void;
}

function GroupReading({ group: { files, mapping, open }, onChange }: GroupProps) {
  const { recognition, isRemembered } = files[0]!;
  const names = files.map(({ name }) => name);
  const title =
    names.length > 3 ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more` : names.join(', ');
  if (!mapping) {
    const quantities = recognition.mapping.columns.map(({ quantity }) => columnText(quantity)).join(', ');
    return (
      <p className="mt-1">
        <b className="font-semibold">{title}</b>: a canonical log with {quantities}. Nothing of it has to be
        found out.
      </p>
    );
  }
  const about = (what: string) => recognition.conclusions.find((conclusion) => conclusion.about === what);
  const { names: header, rows } = recognition.preview;
  return (
    <div className="mt-2 border-t border-rule-2 pt-2">
      <p>
        <b className="font-semibold">{title}</b>: {about('table')?.says}.
        {isRemembered && ' Read as the last file of this shape was.'}
      </p>
      {open.includes('columns') && (
        <p role="alert" className="border-l-4 border-red pl-2">
          None of its columns is understood. Say below what at least one of them stands for; the rows beside
          it show what it holds.
        </p>
      )}
      <FileButton
        label="Read it through a mapping file (.json):"
        accept=".json,application/json"
        onFile={async (file) => onChange(parseMapping(await file.text(), file.name), ALL)}
      />
      <TimeReading
        mapping={mapping}
        names={header}
        conclusions={recognition.conclusions}
        open={open}
        onChange={onChange}
      />
      <div className="mt-2 overflow-x-auto" tabIndex={0} role="region" aria-label={`Columns of ${title}`}>
        <Table className="w-full border-collapse text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-left text-faint">
              <th className="py-1 pr-3 font-normal">column</th>
              <th className="py-1 pr-3 font-normal">some rows</th>
              <th className="py-1 pr-3 font-normal">is taken for</th>
              <th className="py-1 pr-3 font-normal">as</th>
              <th className="py-1 pr-3 font-normal">sign</th>
              <th className="py-1 font-normal">because</th>
            </tr>
          </thead>
          <tbody>
            {header.map((name, field) => {
              if (name === '' || mapping.time.columns.includes(name)) return null;
              const conclusion = about(`column:${name}`);
              return (
                <ColumnReading
                  key={`${name}${field}`}
                  name={name}
                  cells={rows.map((row) => row[field] ?? '')}
                  mapping={mapping}
                  conclusion={conclusion}
                  isOpen={open.includes(`column:${name}`)}
                  onChange={(next) => onChange(next, `column:${name}`)}
                />
              );
            })}
          </tbody>
        </Table>
      </div>
    </div>
  );
}

const FORMATS = [
  ['ymd', 'year, month, day'],
  ['dmy', 'day, month, year'],
  ['mdy', 'month, day, year'],
  ['unix-s', 'seconds since 1970'],
  ['unix-ms', 'milliseconds since 1970'],
  ['serial', 'days of a spreadsheet'],
  ['period-ymd', 'months, years or ranges of dates, year first'],
  ['period-dmy', 'months, years or ranges of dates, day first'],
  ['period-mdy', 'months, years or ranges of dates, month first'],
] as const;

interface TimeProps {
  readonly mapping: Mapping;
  readonly names: readonly string[];
  readonly conclusions: readonly Conclusion[];
  readonly open: readonly string[];
  readonly onChange: (mapping: Mapping, answered: string | null) => void;
}

function TimeReading({ mapping, names, conclusions, open, onChange }: TimeProps) {
  const { time } = mapping;
  const zones = [
    ...new Set([
      time.zone,
      ...conclusions.flatMap(({ alternatives }) =>
        alternatives.flatMap(({ set }) => (typeof set['time.zone'] === 'string' ? [set['time.zone']] : [])),
      ),
      'UTC',
    ]),
  ];
  return (
    <>
      <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
        <ChoiceField
          text="Time is in"
          value={time.columns.join(' with ')}
          choices={[...new Set([time.columns.join(' with '), ...names.filter((name) => name !== '')])].map(
            (name) => [name, name] as const,
          )}
          onChange={(name) => onChange(withTime(mapping, { columns: [name] }), 'time.columns')}
        />
        <ChoiceField
          text="written as"
          value={time.format}
          choices={FORMATS}
          onChange={(format) => onChange(withTime(mapping, { format }), 'time.format')}
        />
        <ChoiceField
          text="Clock"
          value={time.zone}
          choices={zones.map(
            (zone) => [zone, zone === 'offset' ? 'each time has its offset' : zone] as const,
          )}
          onChange={(zone) => onChange(withTime(mapping, { zone }), 'time.zone')}
        />
        {time.format.startsWith('period') ? null : (
          <ChoiceField
            text="Each time is"
            value={time.marks}
            choices={[
              ['start', 'the start of its interval'],
              ['end', 'the end of its interval'],
            ]}
            onChange={(marks) => onChange(withTime(mapping, { marks }), 'time.marks')}
          />
        )}
        <ChoiceField
          text="Decimal sign"
          value={mapping.table.decimal}
          choices={[
            ['.', 'a point: 1.5'],
            [',', 'a comma: 1,5'],
          ]}
          onChange={(decimal) => onChange(withDecimal(mapping, decimal), 'table')}
        />
      </div>
      {conclusions
        .filter(({ about, asks }) => about.startsWith('time.') || (about === 'table' && asks))
        .map((conclusion) => (
          <Evidence
            key={conclusion.about}
            conclusion={conclusion}
            isOpen={open.includes(conclusion.about)}
            onAnswer={(alternative) =>
              onChange(
                alternative ? withAlternative(mapping, conclusion.about, alternative) : mapping,
                conclusion.about,
              )
            }
          />
        ))}
    </>
  );
}
