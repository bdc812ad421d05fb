import { Link, useLocation } from 'react-router';
import { useOverview } from '../ui/HomeLayout.js';

/** An address within a home that no view has. */
export default function UnknownView() {
  const { home } = useOverview();
  const { pathname } = useLocation();
  return (
    <main id="view" className="p-5">
      <h1 className="text-xl">No such view</h1>
      <p className="mt-1">
        {home.system.name} has no view at “{pathname}”. It may be mistyped, or from another version.{' '}
        <Link className="quiet" to={`/h/${home.id}/days`}>
          Go to its days
        </Link>
      </p>
    </main>
  );
}
