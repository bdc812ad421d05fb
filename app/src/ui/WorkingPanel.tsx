import { BASIS, figureEntry, type BasisKey, type Figure, type WorkingLine } from '@long-tally/core';
import { Link, useParams } from 'react-router';
import { X } from 'lucide-react';
import { topicOf } from './handbookTopics.js';
import { CopyButton } from './CopyButton.js';
import { decimal, figureText, intervalText, unitText, workingText } from './format.js';
import { useOverview } from './HomeLayout.js';
import { localized } from './localized.js';

interface Props {
  readonly figureKey: string;
  readonly figure: Figure;
  readonly onClose: () => void;
}

/** The working of a figure, like a page of arithmetic: the sum, what it rests on, and where the method comes from. */
export function WorkingPanel({ figureKey, figure, onClose }: Props) {
  const { homeId = '' } = useParams();
  const { label: canonical, meaning } = figureEntry(figureKey);
  const label = localized(canonical);
  const { home } = useOverview();
  const topic = topicOf(figureKey);
  return (
    <section aria-label={`Working: ${label}`} className="mt-3">
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="text-[14px]">Working: {label}</h2>
        <span className="flex gap-3 self-center text-faint">
          {figure.value !== null && (
            <CopyButton
              says="copy"
              textOf={() =>
                `${home.system.name}, ${label}: ${figureText(figure, home.system.currency ?? '')}`
              }
            />
          )}
          <button type="button" onClick={onClose} aria-label="Close the working">
            <X size={14} aria-hidden />
          </button>
        </span>
      </div>
      <div className="border border-rule-2 bg-paper-2 px-2.5 py-2 text-[13px]">
        {figure.value === null ? (
          <p className="text-red">{figure.reason && localized(figure.reason)}</p>
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
          {(Object.keys(figure.basis) as BasisKey[]).map((key) => (
            <BasisLine key={key} name={BASIS[key].label} value={basisText(key, figure.basis[key]!)} />
          ))}
        </dl>
        {figure.assumptions.length > 0 && (
          <ul className="mt-1 list-disc pl-4">
            {figure.assumptions.map((text) => (
              <li key={text}>{localized(text)}</li>
            ))}
          </ul>
        )}
        <p className="mt-1">{localized(`${meaning} ${figure.formula}.`)}</p>
        <p className="mt-1 text-faint">
          {figure.source}{' '}
          {topic && (
            <>
              <Link className="quiet" to={`/h/${homeId}/handbook/${topic.path}#${figureKey}`}>
                In the Handbook: {topic.title}
              </Link>{' '}
            </>
          )}
          <Link className="quiet" to={`/h/${homeId}/system#accuracy`}>
            Change capacities and meter accuracies
          </Link>
        </p>
      </div>
    </section>
  );
}

function Line({ line }: { readonly line: WorkingLine }) {
  const { label, unit, role } = line;
  const closing =
    role === 'result' ? 'border-t border-ink font-semibold' : role === 'uncertainty' ? 'text-faint' : '';
  return (
    <tr className={closing}>
      <th scope="row" className={`text-left ${role === 'result' ? 'font-semibold' : 'font-normal'}`}>
        {localized(label)}
      </th>
      <td className="pl-2 text-right whitespace-nowrap">
        {workingText(line)} <span className="inline-block w-9 text-left text-faint">{unitText(unit)}</span>
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

function basisText(key: BasisKey, value: number | string | readonly string[]): string {
  if (typeof value === 'number') {
    if ('isShare' in BASIS[key]) return `${decimal(value * 100, 1)} %`;
    const digits = Number.isInteger(value) ? 0 : Math.abs(value) < 1 ? 3 : 1;
    return decimal(value, digits);
  }
  if (key === 'side' || key === 'batterySide')
    return String(value).replace(/^[ad]c$/, (side) => side.toUpperCase());
  return localized(typeof value === 'string' ? value : value.join(', '));
}
