/** `2 h 05`, or days for long stretches. */
export function hoursText(hours: number): string {
  if (hours >= 48) return `${(hours / 24).toFixed(1)} days`;
  const minutes = Math.round(hours * 60);
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}
