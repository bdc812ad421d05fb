import type { Figure, WorkingLine } from '@long-tally/core';
import { Link, useParams } from 'react-router';
import { X } from 'lucide-react';
import { decimal, intervalText, unitText, valueText } from './format.js';
import { nameOf } from './figureNames.js';

const BASIS_NAMES: Readonly<Record<string, string>> = {
  coverage: 'coverage of the range',
  intervals: 'intervals used',
  stepSeconds: 'step of the log, s',
  windows: 'windows',
  windowHours: 'hours in windows',
  quartile1: 'lower quartile of windows',
  median: 'median of windows',
  quartile3: 'upper quartile of windows',
  daysJudged: 'days covered to 90 %',
  nights: 'nights',
  side: 'measured',
  origin: 'channel',
  sources: 'from',
  configurations: 'configurations',
  bridgedHours: 'hours bridged across short gaps',
  shapelessKWh: 'kWh known without their course',
  shapelessHours: 'hours of them',
  at: 'at',
  estimates: 'discharges used',
  months: 'months with estimates',
  fullRuns: 'runs from full to the cut-off',
  charges: 'charges used',
  stops: 'stops near empty',
  scale: 'scale of the charge',
  season: 'season taken off by',
  reference: 'measured against',
  hysteresis: 'smallest swing counted',
  turningPoints: 'turning points',
  rankLow: 'rank interval, low',
  rankHigh: 'rank interval, high',
  aYear: 'a year, at this rate',
  mannKendallP: 'chance of such a course without a trend (Mann–Kendall)',
  began: 'began',
  terms: 'terms',
  limit: 'limit reached first',
  runsOut: 'runs out',
  shareAYear: 'used a year',
  staysInsideKWhADay: 'kWh a day that stay inside',
  workingHours: 'hours at work',
};
const SHARES = new Set([
  'coverage',
  'quartile1',
  'median',
  'quartile3',
  'storeShare',
  'rankLow',
  'rankHigh',
  'shareAYear',
]);

interface Props {
  readonly figureKey: string;
  readonly figure: Figure;
  readonly onClose: () => void;
}

/** The working of a figure, like a page of arithmetic: the sum, what it rests on, and where the method comes from. */
export function WorkingPanel({ figureKey, figure, onClose }: Props) {
  const { homeId = '' } = useParams();
  const { name, means } = nameOf(figureKey);
  return (
    <section aria-label={`Working: ${name}`} className="mt-3">
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="text-[14px]">Working: {name}</h2>
        <button
          type="button"
          onClick={onClose}
          aria-label="Close the working"
          className="self-center text-faint"
        >
          <X size={14} aria-hidden />
        </button>
      </div>
      <div className="border border-rule-2 bg-paper-2 px-2.5 py-2 text-[13px]">
        {figure.value === null ? (
          <p className="text-red">{figure.reason}</p>
        ) : (
          <table className="w-full">
            <tbody>
              {figure.working.map((line, i) => (
                <Line key={i} line={line} />
              ))}
              <tr className="text-faint">
                <th scope="row" className="text-left font-normal">
                  about 95 %, all parts together
                </th>
                <td className="text-right whitespace-nowrap">{intervalText(figure)}</td>
              </tr>
            </tbody>
          </table>
        )}
        <dl className="mt-1.5 grid grid-cols-[auto_1fr] gap-x-3 border-t border-rule-2 pt-1 text-faint">
          {Object.entries(figure.basis)
            .filter(([key]) => key in BASIS_NAMES)
            .map(([key, value]) => (
              <BasisLine key={key} name={BASIS_NAMES[key]!} value={basisText(key, value)} />
            ))}
        </dl>
        {figure.assumptions.length > 0 && (
          <ul className="mt-1 list-disc pl-4">
            {figure.assumptions.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        )}
        <p className="mt-1">
          {means} {figure.formula}.
        </p>
        <p className="mt-1 text-faint">
          {figure.source}{' '}
          <Link className="quiet" to={`/h/${homeId}/system#accuracy`}>
            Change capacities and meter accuracies
          </Link>
        </p>
      </div>
    </section>
  );
}

function Line({ line }: { readonly line: WorkingLine }) {
  const { label, value, unit, role } = line;
  const closing =
    role === 'result' ? 'border-t border-ink font-semibold' : role === 'uncertainty' ? 'text-faint' : '';
  const number =
    unit === 'share' && role === 'uncertainty' ? decimal(value * 100, 2) : valueText(value, unit);
  return (
    <tr className={closing}>
      <th scope="row" className={`text-left ${role === 'result' ? 'font-semibold' : 'font-normal'}`}>
        {label}
      </th>
      <td className="pl-2 text-right whitespace-nowrap">
        {role === 'uncertainty' ? '±' : ''}
        {number} <span className="inline-block w-9 text-left text-faint">{unitText(unit)}</span>
      </td>
    </tr>
  );
}

function BasisLine({ name, value }: { readonly name: string; readonly value: string }) {
  return (
    <>
      <dt>{name}</dt>
      <dd className="text-right break-words">{value}</dd>
    </>
  );
}

function basisText(key: string, value: number | string | readonly string[]): string {
  if (typeof value === 'number') {
    if (SHARES.has(key)) return `${decimal(value * 100, 1)} %`;
    const digits = Number.isInteger(value) ? 0 : Math.abs(value) < 1 ? 3 : 1;
    return decimal(value, digits);
  }
  return typeof value === 'string' ? value : value.join(', ');
}
