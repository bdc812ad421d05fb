import { isRouteErrorResponse, useNavigate, useRouteError, useLocation } from 'react-router';

/** A view whose code could not be fetched: the server is stopped, or hands out a newer build. */
function isUnloaded(error: unknown): boolean {
  return error instanceof TypeError && /import|module|fetch/i.test(error.message);
}

/** What is shown in the place of a view that breaks or cannot be loaded: what happened, that nothing is lost, and a way on. */
export function Failure() {
  const error = useRouteError();
  const navigate = useNavigate();
  const { pathname, search } = useLocation();
  const unloaded = isUnloaded(error);
  const message = unloaded
    ? 'This view was not loaded before, and the server that has it does not answer, or has a newer version. Views that you have opened go on working.'
    : isRouteErrorResponse(error)
      ? error.statusText
      : error instanceof Error
        ? error.message
        : String(error);
  return (
    <main id="view" className="mx-auto max-w-xl p-10">
      <h1 className="text-xl">
        {unloaded ? 'This view could not be loaded' : 'This view could not be shown'}
      </h1>
      <p role="alert" className="mt-2">
        {message}
      </p>
      {unloaded && (
        <p className="mt-2">
          Start the server again, with “npm start” or “npm run demo”, where it was stopped.
        </p>
      )}
      <p className="mt-2">What is stored in this browser has not changed.</p>
      <p className="mt-4 flex items-baseline gap-4">
        <button
          type="button"
          className="action"
          onClick={() => void navigate(`${pathname}${search}`, { replace: true })}
        >
          Try again
        </button>
        <button type="button" className="quiet" onClick={() => window.location.reload()}>
          Load the page anew
        </button>
        <a className="quiet" href="/?choose">
          Back to the start
        </a>
      </p>
    </main>
  );
}
