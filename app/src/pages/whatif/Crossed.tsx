import { WANTED_DAYS, type SweepPoint } from '@long-tally/core';
import { greatest } from 'd3-array';
import { counted, decimal, intervalText, valueText } from '../../ui/format.js';
import type { Crossing } from './crossings.js';
import { Table } from '../../ui/Table.js';

const SUPPLY = 'account.selfSufficiency.supply';

interface Props {
  readonly grid: readonly SweepPoint<readonly number[]>[];
  readonly crossing: Crossing;
  /** Whether there is a grid to be free of, and every point has come. */
  readonly tellsReach: boolean;
}

/** Self-sufficiency by modules and by what they are set against. */
export function Crossed({ grid, crossing, tellsReach }: Props) {
  const [modules, values] = [0, 1].map((k) => [...new Set(grid.map(({ at }) => at[k]!))]) as [
    number[],
    number[],
  ];
  const share = (count: number, value: number) =>
    grid.find(({ at }) => at[0] === count && at[1] === value)?.figures[SUPPLY];
  return (
    <section aria-label={crossing.title} className="mt-5">
      <h2 className="text-[16px]">{crossing.title}</h2>
      <p className="text-faint">Self-sufficiency by supply, %: {crossing.tells}.</p>
      {tellsReach && <p>{reachOfGrid(grid, crossing)}</p>}
      <div className="overflow-x-auto" role="region" aria-label={`${crossing.title}, table`} tabIndex={0}>
        <Table className="mt-1 text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th scope="col" className="pr-4 text-left font-normal">
                modules
              </th>
              {values.map((value) => (
                <th key={value} scope="col" className="pl-4 font-normal">
                  {crossing.says(value)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {modules.map((count) => (
              <tr key={count} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  {count}
                </th>
                {values.map((value) => {
                  const found = share(count, value);
                  return (
                    <td
                      key={value}
                      className="pl-4"
                      style={{
                        background: `color-mix(in srgb, var(--battery) ${Math.round(25 * (found?.value ?? 0))}%, var(--paper))`,
                      }}
                    >
                      {found?.value == null ? (
                        '–'
                      ) : (
                        <>
                          {valueText(found.value, found.unit)}
                          <span className="block text-[11px] text-ink">{intervalText(found)}</span>
                        </>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </section>
  );
}

/** With which of the crossed values nearly all days would need no grid. */
function reachOfGrid(grid: readonly SweepPoint<readonly number[]>[], { says }: Crossing): string | null {
  const least = grid.find(({ gridFree }) => (gridFree ?? 0) >= WANTED_DAYS);
  const wanted = `${decimal(100 * WANTED_DAYS, 0)} % of days without the grid`;
  const named = ({ at }: SweepPoint<readonly number[]>) => `${counted(at[0]!, 'module')}, ${says(at[1]!)}`;
  if (least) return `${wanted} are reached with ${named(least)}.`;
  const most = greatest(grid, ({ gridFree }) => gridFree ?? 0);
  return most
    ? `${wanted} are not reached: at most ${decimal(100 * (most.gridFree ?? 0), 0)} %, with ${named(most)}.`
    : null;
}
