import { X } from 'lucide-react';
import { Link } from 'react-router';
import { looksClosed } from '../store/preferences.js';
import { useAppDispatch, useAppSelector } from '../store/store.js';

/** What is worth a look in a demo home, each leading to its place; closed once, it does not come again. */
export function Looks({ homeId }: { readonly homeId: string }) {
  const dispatch = useAppDispatch();
  const looks = useAppSelector(({ preferences }) => preferences.looks[homeId]);
  if (!looks) return null;
  return (
    <aside
      aria-label="What to look at here"
      className="no-print flex items-baseline gap-x-5 border-b border-rule-2 bg-paper-2 px-5 py-1.5 text-[13.5px]"
    >
      <p className="flex flex-1 flex-wrap gap-x-5">
        <b className="font-semibold">What to look at here:</b>
        {looks.map(({ says, path }) => (
          <Link key={says} className="quiet" to={`/h/${homeId}/${path}`}>
            {says}
          </Link>
        ))}
      </p>
      <button
        type="button"
        aria-label="Close what to look at"
        className="self-center text-faint"
        onClick={() => dispatch(looksClosed(homeId))}
      >
        <X size={14} aria-hidden />
      </button>
    </aside>
  );
}
