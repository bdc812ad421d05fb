import type { SourceLog } from '../model/log.js';
import { offsetAt, zoneOf } from '../time/zone.js';

/** What a list of prices holds, told before it is imported. */
export interface PricePreview {
  readonly quantity: 'importRate' | 'exportRate';
  readonly low: number;
  readonly mean: number;
  readonly high: number;
  /** Hours below zero, and hours within it that have no price. */
  readonly negativeHours: number;
  readonly missingHours: number;
  /** Mean by hour of the site's day; null where none is known. */
  readonly byHour: readonly (number | null)[];
}

/** The prices that a log carries, of each direction. */
export function pricePreview(
  log: Pick<SourceLog, 'startMs' | 'stepMs' | 'columns'>,
  timeZone: string,
): PricePreview[] {
  const zone = zoneOf(timeZone);
  const stepH = log.stepMs / 3_600_000;
  return (['importRate', 'exportRate'] as const).flatMap((quantity) => {
    const values = log.columns.get(quantity)?.values;
    if (!values) return [];
    let [sum, known, low, high, negative] = [0, 0, Infinity, -Infinity, 0];
    const hours = Array.from({ length: 24 }, () => ({ sum: 0, known: 0 }));
    for (let i = 0; i < values.length; i++) {
      const price = values[i]!;
      if (Number.isNaN(price)) continue;
      const ms = log.startMs + i * log.stepMs;
      const hour = hours[Math.floor((ms + offsetAt(zone, ms)) / 3_600_000) % 24]!;
      hour.sum += price;
      hour.known++;
      sum += price;
      known++;
      low = Math.min(low, price);
      high = Math.max(high, price);
      if (price < 0) negative++;
    }
    if (known === 0) return [];
    return [
      {
        quantity,
        low,
        mean: sum / known,
        high,
        negativeHours: negative * stepH,
        missingHours: (values.length - known) * stepH,
        byHour: hours.map((hour) => (hour.known > 0 ? hour.sum / hour.known : null)),
      },
    ];
  });
}
