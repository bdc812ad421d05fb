import { zodResolver } from '@hookform/resolvers/zod';
import type { WearView } from '@long-tally/core';
import { useFieldArray, useForm } from 'react-hook-form';
import { z } from 'zod';
import { saveSystem } from '../../db/homes.js';
import type { Home } from '../../db/database.js';
import { useWrite } from '../../ui/useWrite.js';
import { fieldText } from '../../ui/format.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { Table } from '../../ui/Table.js';

const typed = (low: number, high: number, what: string) =>
  z
    .string()
    .transform(typedNumber)
    .refine((value) => value >= low && value <= high, { error: `Write ${what} from ${low} to ${high}.` });

const schema = z.object({
  points: z
    .array(z.object({ depth: typed(1, 100, 'per cent'), cycles: typed(1, 1_000_000, 'cycles') }))
    .min(1)
    .refine((points) => new Set(points.map(({ depth }) => depth)).size === points.length, {
      error: 'Write each depth once.',
    }),
});
type Typed = z.input<typeof schema>;

interface Props {
  readonly home: Home;
  readonly life: WearView['life'];
}

/** The battery's cycle-life curve: shown, and changed for the configuration that is the latest. */
export function LifeCurve({ home, life: { points, isAssumed } }: Props) {
  const { write, failure } = useWrite();
  const { register, control, handleSubmit, formState } = useForm<Typed, unknown, z.output<typeof schema>>({
    resolver: zodResolver(schema),
    values: {
      points: points.map(({ depth, cycles }) => ({
        depth: fieldText(Number((100 * depth).toFixed(2))),
        cycles: fieldText(cycles),
      })),
    },
  });
  const rows = useFieldArray({ control, name: 'points' });
  const configurations = home.system.configurations ?? [];
  const store = async (cycleLife: readonly { depth: number; cycles: number }[] | undefined) => {
    const latest = configurations.at(-1)!;
    const battery = { ...latest.battery };
    if (cycleLife) battery.cycleLife = [...cycleLife];
    else delete battery.cycleLife;
    const system = {
      ...home.system,
      configurations: [...configurations.slice(0, -1), { ...latest, battery }],
    };
    await write(() => saveSystem(home.id, home.system, system));
  };
  const submit = handleSubmit(({ points: own }) =>
    store(own.map(({ depth, cycles }) => ({ depth: depth / 100, cycles })).sort((a, b) => a.depth - b.depth)),
  );
  if (configurations.length === 0) return null;
  const problems = formState.errors.points;
  return (
    <form onSubmit={(event) => void submit(event)} noValidate>
      {failure}
      <p className="text-faint">
        {isAssumed
          ? 'An assumption, not from a data sheet. Enter what your battery’s data sheet says.'
          : 'As described for the latest configuration.'}
      </p>
      <Table className="mt-1 text-[13px]">
        <thead>
          <tr className="text-left text-faint">
            <th scope="col" className="font-normal">
              depth, %
            </th>
            <th scope="col" className="pl-3 font-normal">
              cycles to the end of life
            </th>
            <td />
          </tr>
        </thead>
        <tbody>
          {rows.fields.map(({ id }, i) => (
            <tr key={id}>
              {(['depth', 'cycles'] as const).map((name) => (
                <td key={name} className={name === 'cycles' ? 'pl-3' : ''}>
                  <input
                    aria-label={`${name === 'depth' ? 'Depth in %' : 'Cycles'}, point ${i + 1}`}
                    inputMode="decimal"
                    className="field !w-24 !py-0"
                    aria-invalid={problems?.[i]?.[name] !== undefined}
                    {...register(`points.${i}.${name}`)}
                  />
                  {problems?.[i]?.[name] && (
                    <p role="alert" className="text-[12px] text-red">
                      {problems[i][name].message}
                    </p>
                  )}
                </td>
              ))}
              <td>
                {rows.fields.length > 1 && (
                  <button
                    type="button"
                    className="quiet ml-2"
                    aria-label={`Remove point ${i + 1}`}
                    onClick={() => rows.remove(i)}
                  >
                    remove
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {problems?.root && (
        <p role="alert" className="text-[12.5px] text-red">
          {problems.root.message}
        </p>
      )}
      <div className="mt-1 flex gap-4">
        <button type="submit" className="action">
          Use this curve
        </button>
        <button type="button" className="quiet" onClick={() => rows.append({ depth: '', cycles: '' })}>
          Add a point
        </button>
        {!isAssumed && (
          <button type="button" className="quiet" onClick={() => void store(undefined)}>
            Back to the assumption
          </button>
        )}
      </div>
    </form>
  );
}
