import { counterText, FLOWS, type Flow } from '@long-tally/core';
import type { StoredReading } from '../../db/database.js';
import { decimal, degreesOf, degreeUnit, momentText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly readings: readonly StoredReading[];
  readonly timeZone: string;
  readonly onEdit: (reading: StoredReading) => void;
  readonly onRemove: (reading: StoredReading) => Promise<unknown>;
}

/** The readings, oldest first: what was typed, and the mean power since the reading before. */
export function ReadingTable({ readings, timeZone, onEdit, onRemove }: Props) {
  const used = FLOWS.filter((flow) => readings.some(({ counters }) => counters[flow] !== undefined));
  const hasCharge = readings.some(({ socPct }) => socPct !== undefined);
  const hasUse = readings.some(({ use }) => use !== undefined);
  const hasWarmth = readings.some(({ batteryC }) => batteryC !== undefined);
  const time = (ms: number) => momentText(ms, timeZone);
  return (
    <div className="relative overflow-x-auto" role="region" aria-label="Readings" tabIndex={0}>
      <Table className="mt-4 w-full border-collapse">
        <thead>
          <tr className="border-b border-rule-2 text-left text-faint">
            <th className="py-1 pr-3 font-normal">read at</th>
            {used.map((flow) => (
              <th key={flow} className="py-1 pr-3 text-right font-normal">
                {flow}, kWh
              </th>
            ))}
            {hasCharge && <th className="py-1 pr-3 text-right font-normal">charge, %</th>}
            {hasWarmth && <th className="py-1 pr-3 text-right font-normal">battery, {degreeUnit()}</th>}
            {hasUse && <th className="py-1 pr-3 text-right font-normal">other counter</th>}
            <th className="py-1 pr-3 font-normal">note</th>
            <th>
              <span className="sr-only">correct or strike out</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {readings.map((reading, i) => (
            <tr key={reading.id} className="border-b border-rule align-top">
              <th scope="row" className="py-1 pr-3 text-left font-normal whitespace-nowrap">
                {time(reading.atMs)}
              </th>
              {used.map((flow) => (
                <td key={flow} className="py-1 pr-3 text-right">
                  {counter(reading, flow)}
                  <Since readings={readings} at={i} flow={flow} />
                </td>
              ))}
              {hasCharge && <td className="py-1 pr-3 text-right">{typed(reading.socPct)}</td>}
              {hasWarmth && (
                <td className="py-1 pr-3 text-right">
                  {typed(reading.batteryC === undefined ? undefined : degreesOf(reading.batteryC))}
                </td>
              )}
              {hasUse && (
                <td className="py-1 pr-3 text-right">
                  {reading.use
                    ? `${reading.use.part} ${decimal(reading.use.shown, reading.use.decimals)} ${reading.use.unit}`
                    : '–'}
                </td>
              )}
              <td className="py-1 pr-3">{reading.note}</td>
              <td className="py-1 text-right whitespace-nowrap">
                <button
                  type="button"
                  className="quiet mr-3"
                  aria-label={`Correct the reading of ${time(reading.atMs)}`}
                  onClick={() => onEdit(reading)}
                >
                  correct
                </button>
                <button
                  type="button"
                  className="quiet text-faint"
                  aria-label={`Strike out the reading of ${time(reading.atMs)}`}
                  onClick={() => void onRemove(reading)}
                >
                  strike out
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}

/** A counter with the decimals it was typed with. */
function counter(reading: StoredReading, flow: Flow): string {
  const text = counterText(reading, flow);
  return text === null ? '–' : decimal(Number(text), text.split('.')[1]?.length ?? 0);
}

/** A display's value to a hundredth, with no more decimals than it has. */
function typed(value: number | undefined): string {
  if (value === undefined) return '–';
  const digits = String(Math.round(value * 100) / 100).split('.')[1]?.length ?? 0;
  return decimal(value, digits);
}

interface SinceProps {
  readonly readings: readonly StoredReading[];
  readonly at: number;
  readonly flow: Flow;
}

/** What a counter rose by since it was last read, and the mean power that is. */
function Since({ readings, at, flow }: SinceProps) {
  const [now, before] = [
    readings[at]!,
    readings.slice(0, at).findLast(({ counters }) => counters[flow] !== undefined),
  ];
  const [a, b] = [before?.counters[flow], now.counters[flow]];
  const hours = before ? (now.atMs - before.atMs) / 3_600_000 : 0;
  if (a === undefined || b === undefined || b < a || hours <= 0) return null;
  return (
    <span className="block text-[12px] text-faint">
      +{decimal(b - a, 1)} kWh, {decimal((1000 * (b - a)) / hours, 0)} W
    </span>
  );
}
