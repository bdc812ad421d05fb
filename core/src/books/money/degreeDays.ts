import { insufficient, measured, notMeasured, type Figure, type Method } from '../../model/figure.js';
import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { RangeData } from '../../passes/rangeData.js';
import { daysBetween } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';

const COVERED = 0.8;
const SENSOR_K = 0.5;

export const HEATING: Method = {
  id: 'weather.heating-degree-days',
  formula: 'Σ over days of max(0, heating base − mean outdoor temperature)',
  source: 'Mean daily temperature method; bases are common practice, no published source.',
};
export const COOLING: Method = {
  id: 'weather.cooling-degree-days',
  formula: 'Σ over days of max(0, mean outdoor temperature − cooling base)',
  source: HEATING.source,
};

/** Mean outdoor temperature by date of the days that know it, °C; none where it is not logged. */
export function dailyTemperatures(log: Log, range: Range): ReadonlyMap<string, number> {
  const channel = log.channels.get('outdoorTemp');
  const means = new Map<string, number>();
  if (!channel) return means;
  const { values } = channel;
  for (const { date, fromMs, toMs } of daysBetween(zoneOf(log.zone), range.fromMs, range.toMs)) {
    let [sum, known] = [0, 0];
    const [from, to] = [cellAt(log, Math.max(range.fromMs, fromMs)), cellAt(log, Math.min(range.toMs, toMs))];
    for (let i = from; i < to; i++)
      if (values[i] === values[i]) {
        sum += values[i]!;
        known++;
      }
    // A mean of the day, as a weather service gives it, stands in one hour of it.
    if (known > 0 && (channel.isNoted || known >= COVERED * (to - from))) means.set(date, sum / known);
  }
  return means;
}

/** Heating and cooling degree days of a range, from the logged outdoor temperature. */
export function degreeDays(data: RangeData): Record<string, Figure> {
  const { log, range, bases } = data;
  if (!log.channels.has('outdoorTemp')) {
    const reason = 'The log has no outdoor temperature; a column outdoor_temp_c would supply it.';
    return {
      'weather.heatingDegreeDays': notMeasured('K·d', HEATING, reason),
      'weather.coolingDegreeDays': notMeasured('K·d', COOLING, reason),
    };
  }
  let [heating, cooling, days, heated, cooled] = [0, 0, 0, 0, 0];
  for (const mean of dailyTemperatures(log, range).values()) {
    days++;
    if (mean < bases.heating) heated++;
    if (mean > bases.cooling) cooled++;
    heating += Math.max(0, bases.heating - mean);
    cooling += Math.max(0, mean - bases.cooling);
  }
  const tell = (method: Method, value: number, count: number, base: number): Figure =>
    days === 0
      ? insufficient('K·d', method, `No day has its temperature for ${100 * COVERED} % of the time.`)
      : measured(
          { value, low: Math.max(0, value - SENSOR_K * count), high: value + SENSOR_K * count },
          {
            unit: 'K·d',
            method,
            basis: { days },
            working: [
              { label: 'base', value: base, unit: '°C', role: 'input' },
              { label: 'days with their temperature', value: days, unit: 'days', role: 'input' },
              { label: 'degree days', value, unit: 'K·d', role: 'result' },
              {
                label: `a sensor that is off by ${SENSOR_K} K`,
                value: SENSOR_K * count,
                unit: 'K·d',
                role: 'uncertainty',
              },
            ],
          },
        );
  return {
    'weather.heatingDegreeDays': tell(HEATING, heating, heated, bases.heating),
    'weather.coolingDegreeDays': tell(COOLING, cooling, cooled, bases.cooling),
  };
}
