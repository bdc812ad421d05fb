/** `2 h 05`, or days for long stretches. */
export function hoursText(hours: number): string {
  if (hours >= 48) return `${(hours / 24).toFixed(1)} days`;
  const minutes = Math.round(hours * 60);
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}

/** The step of a log, `1 s`, `15 min` or `1 h`. */
export function stepText(ms: number): string {
  const seconds = ms / 1000;
  if (seconds < 60 || (seconds < 600 && seconds % 60 !== 0)) return `${Number(seconds.toPrecision(3))} s`;
  const minutes = seconds / 60;
  return minutes < 60
    ? `${Number(minutes.toPrecision(3))} min`
    : `${Number((minutes / 60).toPrecision(3))} h`;
}
