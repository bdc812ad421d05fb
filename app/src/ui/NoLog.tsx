import { Link } from 'react-router';
import type { Home } from '../db/database.js';

/** What a view says of a home that is described but has no log yet, and what it can do without one. */
export function NoLog({ home, children }: { readonly home: Home; readonly children?: React.ReactNode }) {
  return (
    <main id="view" className="p-6">
      <h1 className="text-xl">No log yet</h1>
      <p className="mt-2">
        {home.system.name} is described, but nothing is imported.{' '}
        <Link className="quiet" to={`/h/${home.id}/sources`}>
          Bring a log
        </Link>
      </p>
      {children}
    </main>
  );
}
