import {
  appliancesSchema,
  configurationsOf,
  parseAppliances,
  USUAL_STARTS,
  type Appliance,
} from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { Link } from 'react-router';
import { saveAppliances } from '../../db/appliances.js';
import { db } from '../../db/database.js';
import { appliancesRow, checkedRows } from '../../db/rows.js';
import { useCombinationsQuery } from '../../store/api.js';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { FileButton } from '../../ui/FileButton.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { Labelled } from '../../ui/Labelled.js';
import { NumberField } from '../../ui/NumberField.js';
import { download, stemOf } from '../../ui/download.js';
import { decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { useEntry } from '../../ui/useEntry.js';
import { useWrite } from '../../ui/useWrite.js';
import { Failing } from './Failing.js';
import { Tick } from '../../ui/Tick.js';
import { Table } from '../../ui/Table.js';

const LEGS = [
  ['', 'not known'],
  ['1', 'leg 1'],
  ['2', 'leg 2'],
  ['3', 'leg 3'],
  ['both', 'all legs'],
] as const;
const NO_APPLIANCES: readonly Appliance[] = [];

/** What must not run together: the appliances of a home, and the smallest combinations of them over each limit. */
export default function AppliancesPage() {
  const { home } = useOverview();
  const { write, failure } = useWrite();
  const row = useLiveQuery(() => db.appliances.get(home.id).then((found) => found ?? null), [home.id]);
  const list = row ? (checkedRows(appliancesRow, [row]).good[0]?.appliances ?? NO_APPLIANCES) : NO_APPLIANCES;
  const { limits, described } = configurationsOf(home.system).at(-1)!;
  const units = described?.inverter?.units ?? 1;
  const { data } = useCombinationsQuery(
    { system: home.system, appliances: list },
    { skip: list.length === 0 },
  );
  const keep = (appliances: readonly Appliance[]) =>
    write(() => saveAppliances(home.id, appliances), {
      says: 'The list of appliances is changed.',
      undo: () => saveAppliances(home.id, list),
    });
  const isDescribed = limits.continuousW !== null || limits.islandW !== null || limits.perLegW !== null;
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4" tabIndex={0}>
      <div className="max-w-5xl">
        <Link className="quiet print:hidden" to={`/h/${home.id}/trials`}>
          All trials
        </Link>
        <h1 className="mt-1 text-xl">What must not run together in {home.system.name}</h1>
        <p className="max-w-3xl">
          Running power and start of each appliance against what{' '}
          {units === 1 ? 'the inverter' : `${units} inverters`} and each leg carry without the grid.
        </p>
        {!isDescribed && (
          <p role="alert">
            No limit of the inverter is described, so nothing can be too much.{' '}
            <Link className="quiet" to={`/h/${home.id}/system`}>
              Describe the inverter
            </Link>
          </p>
        )}
        {failure}
        <ApplianceTable list={list} onChange={(next) => void keep(next)} />
        <ApplianceForm names={list.map(({ name }) => name)} onAdd={(one) => keep([...list, one])} />
        <div className="mt-3 flex flex-wrap items-baseline gap-x-5 print:hidden">
          <FileButton
            label="Take a list from a file (.json):"
            accept=".json,application/json"
            onFile={async (file) => {
              await saveAppliances(home.id, parseAppliances(await file.text(), file.name));
            }}
          />
          {list.length > 0 && (
            <>
              <button
                type="button"
                className="quiet"
                onClick={() =>
                  download(`${stemOf(home)}-appliances.json`, {
                    schema: 'long-tally/appliances@1',
                    appliances: list,
                  })
                }
              >
                Save the list as a file
              </button>
              <button type="button" className="quiet" onClick={() => window.print()}>
                Print
              </button>
            </>
          )}
        </div>
        {list.length > 0 && data?.map((one) => <Failing key={one.units} result={one} installed={units} />)}
        <p className="mt-4 max-w-3xl text-[13px] text-faint">
          Starts are as usual for the kind (common practice); the appliance’s plate or manual says better.
          Local codes and the equipment’s manual come first; circuits are moved between legs by licensed
          people.
        </p>
      </div>
    </main>
  );
}

interface TableProps {
  readonly list: readonly Appliance[];
  readonly onChange: (list: readonly Appliance[]) => void;
}

function ApplianceTable({ list, onChange }: TableProps) {
  if (list.length === 0) return <p className="mt-3 text-faint">No appliance is listed yet.</p>;
  const words = ({ essential, canWait }: Appliance) =>
    [...(essential ? ['essential'] : []), ...(canWait ? ['can wait'] : [])].join(', ');
  return (
    <Table className="mt-3 text-[13.5px]" aria-label="Appliances">
      <thead>
        <tr className="border-b border-rule-2 text-left text-faint">
          {['appliance', 'W', 'start', 'leg', ''].map((name, k) => (
            <th key={k} scope="col" className="pr-5 font-normal">
              {name || <span className="sr-only">remarks</span>}
            </th>
          ))}
          <td />
        </tr>
      </thead>
      <tbody>
        {list.map((one, place) => (
          <tr key={place} className="border-b border-rule">
            <th scope="row" className="pr-5 text-left font-normal">
              {one.name}
            </th>
            <td className="pr-5 text-right">{decimal(one.watts, 0)}</td>
            <td className="pr-5">{one.startFactor > 1 ? `× ${decimal(one.startFactor, 1)}` : '–'}</td>
            <td className="pr-5">{LEGS.find(([leg]) => leg === String(one.leg ?? ''))![1]}</td>
            <td className="pr-5">{words(one)}</td>
            <td>
              <button
                type="button"
                className="quiet text-faint print:hidden"
                aria-label={`Remove ${one.name}`}
                onClick={() => onChange(list.filter((_, k) => k !== place))}
              >
                Remove
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

interface FormProps {
  readonly names: readonly string[];
  /** True when it was written. */
  readonly onAdd: (one: Appliance) => Promise<boolean>;
}

const EMPTY = { name: '', watts: '', leg: '', essential: false, canWait: false };

function ApplianceForm({ names, onAdd }: FormProps) {
  const { typed, change, send } = useEntry(
    () => EMPTY,
    () => EMPTY,
  );
  const [start, setStart] = useState<number>(0);
  const [problem, setProblem] = useState<string | null>(null);
  const add = async () => {
    const watts = typedNumber(typed.watts);
    const name = typed.name.trim();
    if (name === '') setProblem('Write what the appliance is called.');
    else if (names.includes(name)) setProblem(`“${name}” is listed already; give this one another name.`);
    else if (!(watts > 0 && watts <= 1e6)) setProblem('Write its running power in W, for example 2200.');
    else if (watts < 20 && !Number.isInteger(watts))
      setProblem(`${typed.watts} W is very little: is it kW? Write ${Math.round(1000 * watts)}.`);
    else {
      const leg = typed.leg === '' ? {} : { leg: typed.leg === 'both' ? 'both' : Number(typed.leg) };
      const [one] = appliancesSchema.shape.appliances.parse([
        {
          name,
          watts,
          startFactor: USUAL_STARTS[start]![1],
          essential: typed.essential,
          canWait: typed.canWait,
          ...leg,
        },
      ]);
      setProblem(null);
      await send(() => onAdd(one!));
    }
  };
  return (
    <form
      aria-label="Another appliance"
      className="mt-3 grid max-w-4xl grid-cols-1 gap-x-4 gap-y-2 sm:grid-cols-2 lg:grid-cols-4 print:hidden"
      onSubmit={(submitted) => {
        submitted.preventDefault();
        void add();
      }}
    >
      <Labelled id="appliance-name" text="Appliance">
        <input
          id="appliance-name"
          className="field"
          maxLength={200}
          value={typed.name}
          onChange={(event) => change({ name: event.target.value })}
        />
      </Labelled>
      <NumberField text="Running power, W" value={typed.watts} onChange={(watts) => change({ watts })} />
      <ChoiceField
        text="Starts like"
        value={start}
        choices={USUAL_STARTS.map(([name, factor], k) => [k, `${name} (× ${factor})`] as const)}
        onChange={setStart}
      />
      <ChoiceField text="Leg" value={typed.leg} choices={LEGS} onChange={(leg) => change({ leg })} />
      {(['essential', 'canWait'] as const).map((key) => (
        <Tick key={key} checked={typed[key]} onChange={(ticked) => change({ [key]: ticked })}>
          {key === 'essential' ? 'essential in an outage' : 'can wait'}
        </Tick>
      ))}
      <FormFoot write="Add the appliance" onCancel={null} problem={problem} />
    </form>
  );
}
