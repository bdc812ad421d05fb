import { isRouteErrorResponse, useRouteError } from 'react-router';

/** What is shown when a view breaks: what happened, that nothing is lost, and a way on. */
export function Failure() {
  const error = useRouteError();
  const message = isRouteErrorResponse(error)
    ? error.statusText
    : error instanceof Error
      ? error.message
      : String(error);
  return (
    <main className="mx-auto max-w-xl p-10">
      <h1 className="text-xl">This view could not be shown</h1>
      <p className="mt-2">{message}</p>
      <p className="mt-2">What is stored in this browser has not changed.</p>
      <a className="quiet mt-4 inline-block" href="/">
        Back to the start
      </a>
    </main>
  );
}
