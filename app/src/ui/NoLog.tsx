import { Link } from 'react-router';
import type { Home } from '../db/database.js';

/** What a view says of a home that is described but has no log yet. */
export function NoLog({ home }: { readonly home: Home }) {
  return (
    <main id="view" className="p-6">
      <h1 className="text-xl">No log yet</h1>
      <p className="mt-2">
        {home.system.name} is described, but nothing is imported.{' '}
        <Link className="quiet" to={`/h/${home.id}/sources`}>
          Bring a log
        </Link>
      </p>
    </main>
  );
}
