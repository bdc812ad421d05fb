import { configurationsOf, type Appliance } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { db } from '../../db/database.js';
import { appliancesRow, checkedRows } from '../../db/rows.js';
import { useCombinationsQuery } from '../../store/api.js';
import { LastsTable, usualLevels, usualOf } from '../outages/LastsTable.js';
import { Failing } from '../trials/Failing.js';
import type { WrittenProps } from './writtenProps.js';

/** How long the battery lasts, as on the outage sheet. */
export function Lasts({ statement: { runsOn, now } }: WrittenProps) {
  if (!runsOn)
    return <p className="text-faint">It needs the battery’s capacity, described in the System view.</p>;
  return (
    <>
      <LastsTable levels={usualLevels(usualOf(now))} runsOn={runsOn} />
      <p className="text-faint">
        Without sun; times to expect, not to rely on. What to do when the grid is gone stands on the outage
        sheet.
      </p>
    </>
  );
}

const NO_APPLIANCES: readonly Appliance[] = [];

/** The smallest combinations of the home's appliances that are too much without the grid. */
export function NeverTogether({ home: { id, system } }: WrittenProps) {
  const row = useLiveQuery(() => db.appliances.get(id), [id]);
  const list = row ? (checkedRows(appliancesRow, [row]).good[0]?.appliances ?? NO_APPLIANCES) : NO_APPLIANCES;
  const { data } = useCombinationsQuery({ system, appliances: list }, { skip: list.length === 0 });
  if (list.length === 0)
    return (
      <p className="text-faint">
        No appliance is listed. The Trials view has a list for them: “What must not run together”.
      </p>
    );
  const installed = configurationsOf(system).at(-1)!.described?.inverter?.units ?? 1;
  return data?.map((one) => <Failing key={one.units} result={one} installed={installed} />);
}
