import type { WorkingLine } from '@long-tally/core';
import { useEffect, useState } from 'react';
import { intervalText, unitText, valueText, workingText } from '../../ui/format.js';
import { labelOf } from '../../ui/localized.js';
import { RollHeadings } from '../days/RollHeadings.js';
import { RollRow } from '../days/RollRow.js';
import { fetchSample, type Sample } from './sampleFile.js';

/** Lines of a working that are shown: enough to see that it is a sum. */
const MOST_LINES = 7;

/** What one gets: a piece of a demo home's roll, and three figures with their workings. Nothing where none is handed out. */
export function SampleOfWork() {
  const [sample, setSample] = useState<Sample | null>(null);
  useEffect(() => {
    let isLeft = false;
    void fetchSample().then((found) => {
      if (!isLeft) setSample(found);
    });
    return () => {
      isLeft = true;
    };
  }, []);
  return sample && <Shown sample={sample} />;
}

function Shown({ sample: { home, year, timeZone, roll, figures } }: { readonly sample: Sample }) {
  return (
    <section aria-label="What you get" className="mt-6">
      <div className="border-y border-ink">
        <div
          role="grid"
          aria-readonly
          aria-label={`Days of the demo home ${home}`}
          className="hidden overflow-hidden text-[13px] md:block"
        >
          <div
            role="row"
            className="roll-columns border-b border-rule-2 pb-0.5 text-[12px] leading-tight text-faint"
          >
            <RollHeadings />
          </div>
          {roll.days.map((_, index) => (
            <div key={index} role="row" className="h-[27px]">
              <RollRow row={{ kind: 'day', index }} roll={roll} timeZone={timeZone} selected={false} />
            </div>
          ))}
        </div>
      </div>
      <p className="mt-1 text-[12.5px] text-faint">
        A piece of the roll of {home}, an invented home: each line a day with its charge, its contacts with
        the grid, its kWh, and in the margin what explains it. Below, three of its figures of {year} with the
        sum behind each.
      </p>
      <div className="mt-3 grid gap-6 md:grid-cols-3">
        {figures.map(({ key, figure }) => (
          <div key={key} className="border-t border-rule-2 pt-1">
            <h2 className="font-sans! text-[13px] font-normal text-faint">{labelOf(key)}</h2>
            <p className="text-[22px] leading-tight font-semibold">
              {valueText(figure.value!, figure.unit)}{' '}
              <span className="text-[13px] font-normal">{unitText(figure.unit)}</span>
            </p>
            <p className="text-[12.5px] text-faint">{intervalText(figure)}</p>
            <table className="mt-1 w-full text-[12.5px]">
              <tbody>
                {figure.working.slice(0, MOST_LINES).map((line, k) => (
                  <Line key={k} line={line} />
                ))}
              </tbody>
            </table>
          </div>
        ))}
      </div>
    </section>
  );
}

function Line({ line }: { readonly line: WorkingLine }) {
  const { label, unit, role } = line;
  return (
    <tr className={role === 'result' ? 'border-t border-ink font-semibold' : ''}>
      <th scope="row" className="text-left align-top font-normal">
        {label}
      </th>
      <td className="pl-2 text-right align-top whitespace-nowrap">
        {workingText(line)} <span className="text-faint">{unitText(unit)}</span>
      </td>
    </tr>
  );
}
