import { useLiveQuery } from 'dexie-react-hooks';
import { db } from '../../db/database.js';
import { clockOf, dateText } from '../../ui/format.js';
import { useMore } from '../../ui/useMore.js';

const SHOWN = 10;

/** What was imported, corrected, removed and described anew in this browser, the latest first. */
export function Changes({ homeId, timeZone }: { readonly homeId: string; readonly timeZone: string }) {
  const home = useLiveQuery(() => db.homes.get(homeId), [homeId]);
  const { items, more } = useMore([...(home?.changes ?? [])].reverse(), SHOWN, 'change', homeId);
  return (
    <section aria-label="Changes" className="mt-6">
      <h2 className="text-[16px]">What was changed</h2>
      {items.length === 0 && <p className="text-faint">Nothing yet in this browser.</p>}
      <ul>
        {items.map(({ atMs, says }) => {
          const [date, clock] = clockOf(atMs, timeZone).split('T') as [string, string];
          return (
            <li
              key={`${atMs} ${says}`}
              className="grid gap-x-4 border-t border-rule py-1 sm:grid-cols-[220px_1fr]"
            >
              <span className="text-faint">
                {dateText(date, 'plain')}, {clock}
              </span>
              <span>{says}</span>
            </li>
          );
        })}
      </ul>
      {more}
    </section>
  );
}
