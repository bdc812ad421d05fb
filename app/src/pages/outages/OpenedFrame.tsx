import { Link, useNavigate } from 'react-router';
import { useKeys } from '../../ui/useKeys.js';

interface Props {
  readonly title: string;
  /** What it is called among its neighbours: "outage", "stop". */
  readonly what: string;
  readonly list: string;
  readonly before: string | null;
  readonly after: string | null;
  readonly timeZone: string;
  /** False while it is being opened. */
  readonly children: React.ReactNode;
}

/** The head of something opened from a list: its neighbours and the way back, by link and by key. */
export function OpenedFrame({ title, what, list, before, after, timeZone, children }: Props) {
  const navigate = useNavigate();
  useKeys({
    '[': () => before && void navigate(before),
    ']': () => after && void navigate(after),
    Escape: () => void navigate(list),
  });
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-3">
      <div className="flex flex-wrap items-baseline gap-4">
        <h1 className="text-[20px]">{title}</h1>
        {before && (
          <Link className="quiet" to={before}>
            previous {what}
          </Link>
        )}
        {after && (
          <Link className="quiet" to={after}>
            next {what}
          </Link>
        )}
        <Link className="quiet" to={list}>
          back to Outages
        </Link>
        <span className="text-faint">times in {timeZone}</span>
      </div>
      {children || (
        <p role="status" className="text-faint">
          Opening the {what} …
        </p>
      )}
    </main>
  );
}

/** Where nothing begins at the instant of the address. */
export function NotFound({
  what,
  at,
  list,
}: {
  readonly what: string;
  readonly at: string;
  readonly list: string;
}) {
  return (
    <main id="view" className="p-6">
      <h1 className="text-xl">No such {what}</h1>
      <p className="mt-2">
        No {what} of this log begins at “{at}”.{' '}
        <Link className="quiet" to={list}>
          Back to Outages
        </Link>
      </p>
    </main>
  );
}

/** One line of what is told beside the chart. */
export function Line({ name, value }: { readonly name: string; readonly value: string }) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="text-left font-normal">
        {name}
      </th>
      <td className="text-right">{value}</td>
    </tr>
  );
}

export function shareText(soc: number): string {
  return Number.isNaN(soc) ? 'not known' : `${Math.round(100 * soc)} %`;
}
