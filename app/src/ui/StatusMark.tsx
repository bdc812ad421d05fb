import type { Status } from '@long-tally/core';

const WORDS: Readonly<Record<Status, string>> = {
  measured: 'measured',
  estimated: 'estimated: it rests on a derived channel or an assumption of weight',
  insufficient: 'insufficient evidence',
  'not-measured': 'not measured',
};

/** The mark of a figure's status: full for measured, half for estimated, open where there is no value. */
export function StatusMark({ status }: { readonly status: Status }) {
  return (
    <svg
      width="9"
      height="9"
      viewBox="0 0 9 9"
      role="img"
      aria-label={WORDS[status]}
      className="inline-block"
    >
      <title>{WORDS[status]}</title>
      <circle
        cx="4.5"
        cy="4.5"
        r="3.4"
        fill={status === 'measured' ? 'currentColor' : 'none'}
        stroke="currentColor"
        strokeDasharray={status === 'not-measured' ? '2 1.6' : undefined}
      />
      {status === 'estimated' && <path d="M4.5 1.1a3.4 3.4 0 0 1 0 6.8z" fill="currentColor" />}
    </svg>
  );
}
