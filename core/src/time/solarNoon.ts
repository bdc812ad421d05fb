/**
 * Hour of the day, UTC, at which the sun stands highest, within a minute.
 * @param ms an instant of the day
 * @param longitude degrees, east positive
 * @source equation of time after J. W. Spencer, "Fourier series representation of the position of the sun", Search 2
 *   (1971), from memory
 */
export function solarNoonUtc(ms: number, longitude: number): number {
  const year = new Date(ms).getUTCFullYear();
  const angle = (2 * Math.PI * (ms - Date.UTC(year, 0, 1))) / (365.25 * 86_400_000);
  const equationMinutes =
    229.18 *
    (0.000075 +
      0.001868 * Math.cos(angle) -
      0.032077 * Math.sin(angle) -
      0.014615 * Math.cos(2 * angle) -
      0.040849 * Math.sin(2 * angle));
  return 12 - longitude / 15 - equationMinutes / 60;
}
