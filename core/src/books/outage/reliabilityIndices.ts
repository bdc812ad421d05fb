/** An interruption as a utility counts it. */
export interface Interrupted {
  readonly minutes: number;
  readonly customers: number;
}

/** Reliability of supply over the time that was counted. */
export interface Indices {
  /** Sustained interruptions a customer. */
  readonly saifi: number;
  /** Minutes of sustained interruption a customer. */
  readonly saidi: number;
  /** Minutes that a sustained interruption lasts, on average; NaN where there was none. */
  readonly caidi: number;
  /** Momentary interruptions a customer. */
  readonly maifi: number;
}

/** Interruptions longer than this are sustained (IEEE 1366); EN 50160 draws the line at three minutes. */
export const SUSTAINED_MINUTES = 5;

/**
 * Indices of reliability.
 * @param customers of the system; 1 for a home
 * @param sustained minutes above which an interruption is sustained
 * @source IEEE Std 1366, definitions and Annex B example (from memory)
 */
export function indicesOf(
  events: readonly Interrupted[],
  customers: number,
  sustained = SUSTAINED_MINUTES,
): Indices {
  const long = events.filter(({ minutes }) => minutes > sustained);
  const sum = (list: readonly Interrupted[], of: (event: Interrupted) => number) =>
    list.reduce((total, event) => total + of(event), 0);
  const hit = sum(long, (event) => event.customers);
  const minutes = sum(long, (event) => event.minutes * event.customers);
  const brief = events.filter((event) => event.minutes <= sustained);
  return {
    saifi: hit / customers,
    saidi: minutes / customers,
    caidi: minutes / hit,
    maifi: sum(brief, (event) => event.customers) / customers,
  };
}
