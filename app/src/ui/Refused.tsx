/** What is shown where the browser gives no place to keep data. */
export function Refused({ why }: { readonly why: string }) {
  return (
    <main className="mx-auto max-w-xl p-10">
      <h1 className="text-xl">This browser keeps nothing for Long Tally</h1>
      <p role="alert" className="mt-2">
        Long Tally keeps your logs in the browser’s own database on this machine, and the browser refuses it:{' '}
        {why}
      </p>
      <p className="mt-2">
        A private window, a setting that blocks cookies and site data, or a full disk are the usual reasons.
        Allow site data for this address, or open it in an ordinary window, then load the page anew. Nothing
        that was stored before has changed.
      </p>
      <button type="button" className="action mt-4" onClick={() => window.location.reload()}>
        Load the page anew
      </button>
    </main>
  );
}
