import { Link, useLocation } from 'react-router';
import { useImport } from '../workers/imports.js';
import { decimal } from './format.js';

/** An import that goes on, waits for an answer or has ended while its reader looks at another view. */
export function ImportLine({ homeId }: { readonly homeId: string }) {
  const { progress, stage, said } = useImport(homeId);
  const { pathname } = useLocation();
  if (pathname.endsWith('/sources')) return null;
  const words = progress
    ? `Import: ${progress.name}, ${decimal(progress.share * 100, 0)} %.`
    : stage
      ? stage.summaries
        ? 'Logs are read and wait to be imported.'
        : 'Logs wait for an answer before they are read.'
      : said.join(' ');
  if (words === '') return null;
  return (
    <p role="status" className="no-print border-b border-rule-2 px-5 py-1">
      {words}{' '}
      <Link className="quiet" to={`/h/${homeId}/sources`}>
        See it
      </Link>
    </p>
  );
}
