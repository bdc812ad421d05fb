import { kneeOf, LEAST_GAIN, reachOf, type SweepPoint } from '@long-tally/core';
import { useState } from 'react';
import { sweepRows } from '../../charts/chartRows.js';
import { SweepCurve } from '../../charts/SweepCurve.js';
import { fieldText, intervalText, valueText } from '../../ui/format.js';
import { NumberField } from '../../ui/NumberField.js';
import { Saveable } from '../../ui/Saveable.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { useWidth } from '../../ui/useSize.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

const KEY = 'battery.modules';
const SUPPLY = 'account.selfSufficiency.supply';

interface SweepProps {
  readonly points: readonly SweepPoint<number>[];
  readonly modules: number;
  readonly hasGrid: boolean;
  /** False while points are still to come. */
  readonly isDone: boolean;
}

/** How each number of modules would have done, and after which another adds too little. */
export function Sweep({ points, modules, hasGrid, isDone }: SweepProps) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [typed, setTyped] = useState(fieldText(100 * LEAST_GAIN));
  const gain = typedNumber(typed) / 100;
  const isSound = gain > 0 && gain < 1;
  const knee = isDone ? kneeOf(KEY, points, isSound ? gain : LEAST_GAIN) : null;
  const reach = isDone && hasGrid ? reachOf(KEY, points) : null;
  const told = points.flatMap(({ at, figures }) => {
    const { value, low, high } = figures[SUPPLY]!;
    return value === null ? [] : [{ at, share: value, low: low!, high: high! }];
  });
  return (
    <section aria-label="How many modules" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">How many modules</h2>
      {reach && <p>{localized(reach.says)}</p>}
      {knee && <p>{localized(knee.reason)}</p>}
      <div className="mt-1">
        <NumberField
          text="A module is worth taking from so many points on"
          className="w-20 text-right"
          value={typed}
          onChange={setTyped}
        />
        {!isSound && <p className="text-red">Write a number between 0 and 100, for example 1.</p>}
      </div>
      <div ref={ref} className="mt-2">
        {width > 0 && told.length > 1 && (
          <Saveable
            title="Self-sufficiency by modules"
            rows={() => sweepRows(told, 'modules', 'self-sufficiency, by supply')}
          >
            <SweepCurve
              points={told}
              what="self-sufficiency, by supply"
              unit="modules"
              installed={modules}
              knee={knee?.at ?? null}
              width={Math.min(width, 760)}
            />
          </Saveable>
        )}
      </div>
      <div className="overflow-x-auto" role="region" aria-label="How many modules, table" tabIndex={0}>
        <Table className="mt-1 text-[13px]">
          <tbody>
            <Row
              label="modules"
              points={points}
              of={({ at }) => `${at}${at === modules ? ' (as it is)' : ''}`}
              isHead
            />
            <Row label="self-sufficiency, by supply, %" points={points} of={heldOf(SUPPLY)} />
            {hasGrid && <Row label="import, kWh" points={points} of={heldOf('account.import')} />}
            {hasGrid && (
              <Row label="days without the grid, %" points={points} of={heldOf('account.gridFreeShare')} />
            )}
          </tbody>
        </Table>
      </div>
    </section>
  );
}

/** A figure of each point, with its interval under it. */
function heldOf(key: string) {
  return function Held({ figures }: SweepPoint<unknown>) {
    const figure = figures[key];
    return figure?.value == null ? (
      '–'
    ) : (
      <>
        {valueText(figure.value, figure.unit)}
        <span className="block text-[12px] text-faint">{intervalText(figure)}</span>
      </>
    );
  };
}

interface RowProps {
  readonly label: string;
  readonly points: readonly SweepPoint<number>[];
  readonly of: (point: SweepPoint<number>) => React.ReactNode;
  readonly isHead?: boolean;
}

function Row({ label, points, of, isHead = false }: RowProps) {
  return (
    <tr className={`border-b text-right align-top ${isHead ? 'border-rule-2 text-faint' : 'border-rule'}`}>
      <th scope="row" className="pr-3 text-left font-normal">
        {label}
      </th>
      {points.map((point) =>
        isHead ? (
          <th key={point.at} scope="col" className="pl-4 font-normal">
            {of(point)}
          </th>
        ) : (
          <td key={point.at} className="pl-4">
            {of(point)}
          </td>
        ),
      )}
    </tr>
  );
}
