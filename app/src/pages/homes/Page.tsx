import { figureEntry, type Figure } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import { allHomes } from '../../db/homes.js';
import type { Headlines } from '../../protocol.js';
import { atOf, useHeadlinesQuery } from '../../store/api.js';
import { Hatches } from '../../ui/Hatches.js';
import { counted, intervalText, localDateText, unitText, valueText } from '../../ui/format.js';
import { StatusMark } from '../../ui/StatusMark.js';
import { sortedBy } from './sorted.js';
import { Table } from '../../ui/Table.js';

const COLUMNS = [
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'losses.roundTrip.fullToFull',
  'losses.idle.battery',
  'wear.efc.nameplate',
  'capacity.stateOfHealth',
  'capacity.fadePerYear',
  'outage.survive.12h',
  'money.savingPerYear',
] as const;

type Told = Readonly<Record<string, Headlines | null>>;

/** All homes of this browser side by side, for whoever looks after several. */
export default function HomesPage() {
  const homes = useLiveQuery(allHomes)?.homes;
  const [told, setTold] = useState<Told>({});
  const [order, setOrder] = useState<{ column: string | null; isDescending: boolean }>({
    column: null,
    isDescending: false,
  });
  if (!homes) return null;
  const rows = sortedBy(
    homes.map((home) => ({
      home,
      name: home.system.name,
      values: Object.fromEntries(COLUMNS.map((key) => [key, told[home.id]?.figures[key]?.value])),
    })),
    order.column,
    order.isDescending,
  );
  const open = homes.find(({ id }) => !(id in told));
  const by = (column: string | null) =>
    setOrder({ column, isDescending: order.column === column && !order.isDescending });
  const sortOf = (column: string | null) =>
    order.column !== column ? 'none' : order.isDescending ? 'descending' : 'ascending';
  const head = (column: string | null, text: string, unit: string) => (
    <th
      key={text}
      scope="col"
      aria-sort={sortOf(column)}
      className={`pb-1 align-bottom font-normal ${column === null ? 'pr-4 text-left' : 'pl-4 text-right'}`}
    >
      <button type="button" className="quiet" onClick={() => by(column)}>
        {text}
      </button>
      <span className="block text-[12px]">{unit}</span>
    </th>
  );
  return (
    <main id="view" className="h-full overflow-y-auto px-6 py-5">
      <Hatches />
      <p className="mb-2">
        <Link className="quiet" to="/?choose">
          back to the start
        </Link>
      </p>
      <h1 className="text-xl">Homes side by side</h1>
      <p className="max-w-3xl text-faint">
        Each over all of its log. Homes differ in sun, load and size: what stands out is worth a look, not a
        verdict. For many homes the command line has <code>tally fleet</code>.
      </p>
      {open && (
        <Ask key={open.id} home={open} onTold={(headlines) => setTold({ ...told, [open.id]: headlines })} />
      )}
      <div className="relative mt-3 overflow-x-auto" role="region" aria-label="Homes" tabIndex={0}>
        <Table className="text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-faint">
              {head(null, 'home', '')}
              {COLUMNS.map((key) => {
                const { label, unit } = figureEntry(key);
                return head(key, label, unit === 'currency' ? 'own currency' : unitText(unit));
              })}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ home }) => (
              <tr key={home.id} className="border-b border-rule align-top">
                <th scope="row" className="pr-4 text-left font-normal whitespace-nowrap">
                  <Link className="quiet font-semibold" to={`/h/${home.id}/days`}>
                    {home.system.name}
                  </Link>
                  <span className="block text-[12px] text-faint">
                    <Range home={home} headlines={told[home.id]} />
                  </span>
                </th>
                {COLUMNS.map((key) => (
                  <Cell key={key} figure={told[home.id]?.figures[key]} />
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </main>
  );
}

/** Asks for one home at a time: each is read from the store as a whole. */
function Ask({
  home,
  onTold,
}: {
  readonly home: Home;
  readonly onTold: (headlines: Headlines | null) => void;
}) {
  const { data, error } = useHeadlinesQuery(atOf(home));
  const [isDone, setDone] = useState(false);
  if ((data !== undefined || error) && !isDone) {
    setDone(true);
    // After this drawing: a parent is not changed while its child is drawn.
    queueMicrotask(() => onTold(data ?? null));
  }
  return (
    <p role="status" className="mt-2 text-faint">
      Adding up {home.system.name} …
    </p>
  );
}

function Range({
  home,
  headlines,
}: {
  readonly home: Home;
  readonly headlines: Headlines | null | undefined;
}) {
  if (headlines === undefined) return '…';
  if (headlines === null) return 'no log, or it could not be read';
  const { fromMs, toMs } = headlines;
  const days = Math.round((toMs - fromMs) / 86_400_000);
  return `${counted(days, 'day')} to ${localDateText(toMs - 1, home.system.timeZone)}`;
}

function Cell({ figure }: { readonly figure: Figure | undefined }) {
  return (
    <td className="pl-4 text-right whitespace-nowrap" title={figure?.reason ?? undefined}>
      {figure?.value == null ? (
        <span className="text-faint">–</span>
      ) : (
        <>
          <span className="font-semibold">{valueText(figure.value, figure.unit)}</span>
          <span className="block text-[12px] text-faint">
            <StatusMark status={figure.status} /> {intervalText(figure)}
          </span>
        </>
      )}
    </td>
  );
}
