import { zodResolver } from '@hookform/resolvers/zod';
import { runBudget, USUAL, type Figure, type RunBudget } from '@long-tally/core';
import { useId, useState } from 'react';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import { decimal, fieldText } from '../../ui/format.js';
import { Labelled } from '../../ui/Labelled.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

/** A number as it is typed, with a point or a comma. */
function between(low: number, high: number, unit: string) {
  return z
    .string()
    .transform(typedNumber)
    .refine((value) => value >= low && value <= high, { error: `Write ${unit} from ${low} to ${high}.` });
}

const schema = z.object({
  hours: between(0.5, 240, 'hours'),
  socStart: between(0, 100, 'per cent'),
  socEnd: between(0, 100, 'per cent'),
  inKWh: between(0, 10_000, 'kWh'),
  outKWh: between(0, 10_000, 'kWh'),
  usableKWh: between(0.1, 10_000, 'kWh'),
});
type Typed = z.input<typeof schema>;

const FIELDS: readonly (readonly [keyof Typed, string])[] = [
  ['hours', 'It lasted, h'],
  ['socStart', 'Charge at its start, %'],
  ['socEnd', 'Charge at its end, %'],
  ['inKWh', 'Into the battery, kWh'],
  ['outKWh', 'Out of the battery, kWh'],
  ['usableKWh', 'Usable capacity, kWh'],
];
interface Props {
  readonly usableKWh: number | null;
  /** The idle draw and conversion that the range gave. */
  readonly idle: Figure | undefined;
  readonly conversion: Figure | undefined;
}

/** The detective of a short run: from readings at both ends, where a day's or two days' missing energy went. */
export function ShortRunForm({ usableKWh, idle, conversion }: Props) {
  const id = useId();
  const [budget, setBudget] = useState<RunBudget | null>(null);
  const { register, handleSubmit, formState } = useForm<Typed, unknown, z.output<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: {
      hours: '',
      socStart: '',
      socEnd: '',
      inKWh: '',
      outKWh: '',
      usableKWh: fieldText(usableKWh ?? ''),
    },
  });
  const boundsOf = (figure: Figure | undefined, usual: readonly [number, number]) =>
    figure?.value == null ? usual : ([figure.low!, figure.high!] as const);
  const submit = handleSubmit((run) =>
    setBudget(
      runBudget({
        ...run,
        socStart: run.socStart / 100,
        socEnd: run.socEnd / 100,
        idleW: boundsOf(idle, USUAL.idleW),
        conversion: boundsOf(conversion, USUAL.conversion),
        socError: USUAL.socError,
        counterError: USUAL.counterError,
      }),
    ),
  );
  return (
    <section aria-label="A short run" className="mt-6 max-w-5xl no-print">
      <h2 className="text-[16px]">A day or two that do not add up</h2>
      <p className="text-faint">
        Read charge and battery counters at the start and at the end, from the displays; open no cover for it.
        Idle draw and conversion are{' '}
        {idle?.value == null ? 'those usual for a battery with its converter' : 'those of the range above'}.
      </p>
      <form onSubmit={(event) => void submit(event)} noValidate className="mt-2">
        <div className="grid grid-cols-3 gap-x-4 gap-y-2 xl:grid-cols-6">
          {FIELDS.map(([name, text]) => {
            const problem = formState.errors[name]?.message;
            return (
              <Labelled key={name} id={`${id}-${name}`} text={text}>
                <input
                  id={`${id}-${name}`}
                  inputMode="decimal"
                  className="field"
                  aria-invalid={problem !== undefined}
                  aria-describedby={problem === undefined ? undefined : `${id}-${name}-problem`}
                  {...register(name)}
                />
                {problem !== undefined && (
                  <p id={`${id}-${name}-problem`} role="alert" className="text-[12.5px] text-red">
                    {problem}
                  </p>
                )}
              </Labelled>
            );
          })}
        </div>
        <button type="submit" className="action mt-2">
          Where did it go?
        </button>
      </form>
      {budget && <Budget budget={budget} />}
    </section>
  );
}

function Budget({
  budget: { ownW, isClosed, missingKWh, explanations, restKWh, capacityKWh, verdict },
}: {
  readonly budget: RunBudget;
}) {
  return (
    <div aria-live="polite" className="mt-3">
      <p>
        <b className="text-[19px]">{decimal(ownW.value, 0)} W</b>{' '}
        <span className="text-faint">
          ({decimal(ownW.low, 0)} to {decimal(ownW.high, 0)}) of its own would close this run
          {isClosed
            ? ', which ends at the charge it began with'
            : '; recharged to where it began, it would tell it better'}
        </span>
      </p>
      <p className="mt-1 font-semibold">{localized(verdict)}</p>
      <Table className="mt-1 text-[13px]">
        <tbody>
          <tr>
            <th scope="row" className="pr-6 text-left font-normal">
              in − out − change in store by the capacity above
            </th>
            <td className="text-right">{decimal(missingKWh, 2)} kWh</td>
          </tr>
          {explanations.map(({ key, says, low, high }) => (
            <tr key={key} className="border-t border-rule">
              <th scope="row" className="pr-6 text-left font-normal">
                {localized(says)}
              </th>
              <td className="text-right">
                {decimal(low, 2)} to {decimal(high, 2)} kWh
              </td>
            </tr>
          ))}
          <tr className="border-t border-ink font-semibold">
            <th scope="row" className="pr-6 text-left">
              left when idle draw and conversion are taken off
            </th>
            <td className="text-right">
              {decimal(restKWh.value, 2)} kWh ({decimal(restKWh.low, 2)} to {decimal(restKWh.high, 2)})
            </td>
          </tr>
        </tbody>
      </Table>
      {capacityKWh !== null && capacityKWh > 0 && (
        <p className="mt-1 text-faint">
          Nothing would be left with a usable capacity of {decimal(capacityKWh, 1)} kWh; one short run is no
          measure of it.
        </p>
      )}
    </div>
  );
}
