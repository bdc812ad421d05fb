import { runtimeHours, type Figure, type RunsOn } from '@long-tally/core';
import { decimal, hoursText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

/** Doubt of a load that nobody measures in an outage. */
const LOAD_OFF = 0.1;
const CHARGES = [1, 0.75, 0.5, 0.25] as const;

/** A load to be carried; `watts` is NaN where no number is typed. */
interface Level {
  readonly name: string;
  readonly watts: number;
}

/** Mean load of a home in W, of the weeks before now; null where it is not logged. */
export function usualOf(figures: Readonly<Record<string, Figure>>): number | null {
  const usual = figures['outage.runtime.now']?.basis['loadW'];
  return typeof usual === 'number' ? usual : null;
}

/** Loads to plan an outage by, around what a home usually takes. */
export function usualLevels(measuredW: number | null): Level[] {
  const usualW = measuredW === null ? 400 : Math.max(50, Math.round(measuredW / 10) * 10);
  return [
    { name: 'Only the essentials', watts: Math.round(usualW / 20) * 10 },
    { name: 'As usual', watts: usualW },
    { name: 'Cooking and heating too', watts: usualW * 3 },
  ];
}

interface Props {
  readonly levels: readonly Level[];
  readonly runsOn: RunsOn;
}

/** How long the battery lasts without sun, for each load from each charge. */
export function LastsTable({ levels, runsOn }: Props) {
  return (
    <Table className="w-full text-[14px]">
      <caption className="sr-only">How long the battery lasts, by load and charge</caption>
      <thead>
        <tr className="border-b border-ink text-right">
          <td />
          {CHARGES.map((soc) => (
            <th key={soc} scope="col" className="font-semibold">
              at {soc * 100} %
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {levels.map(({ name, watts }) => (
          <LevelRow key={name} name={name} watts={watts} runsOn={runsOn} />
        ))}
      </tbody>
    </Table>
  );
}

function LevelRow({
  name,
  watts,
  runsOn,
}: {
  readonly name: string;
  readonly watts: number;
  readonly runsOn: RunsOn;
}) {
  const isRight = watts > 0 && watts <= 100_000;
  return (
    <tr className="border-b border-rule text-right">
      <th scope="row" className="text-left font-normal">
        {name}
        {isRight && `, ${decimal(watts, 0)} W`}
      </th>
      {CHARGES.map((soc) => {
        const lasts = isRight ? runtimeHours(runsOn, soc, watts, LOAD_OFF) : null;
        return (
          <td key={soc}>
            {lasts ? (
              <>
                <b>{hoursText(lasts.value)}</b>
                <span className="block text-[12px] text-faint">
                  {hoursText(lasts.low)} – {hoursText(lasts.high)}
                </span>
              </>
            ) : (
              '–'
            )}
          </td>
        );
      })}
    </tr>
  );
}
