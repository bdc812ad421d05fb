import { Fragment } from 'react';
import { REGISTRY } from '@long-tally/core';

const CAUTIONS = [
  'Run the home from the battery only through the installed and approved isolating gear. Never feed a dead grid: it endangers the people who repair it.',
  'Do not open covers or touch conductors. Battery circuits stay live with everything switched off.',
  'Local electrical codes, the equipment’s manual and a licensed electrician come before anything written here.',
  'A figure is evidence, not a safety certificate, and a warranty’s own document decides what it covers.',
];

/** What every figure means, how it is computed and where the method comes from; and the cautions. */
export default function HandbookPage() {
  return (
    <main id="view" tabIndex={0} className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <div className="max-w-4xl">
        <h1 className="text-xl">Handbook</h1>
        <h2 className="mt-4 text-[16px]">Before you touch anything</h2>
        <ul className="mt-1 list-disc pl-5">
          {CAUTIONS.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
        <h2 className="mt-5 text-[16px]">Conventions</h2>
        <p className="mt-1">
          Powers are means over the log’s step; power × duration is energy. Days are those of the site’s time
          zone, of 23 or 25 hours when the clocks change. Missing is missing: gaps of up to three steps are
          bridged in a straight line and marked, longer ones stay out of every sum, and totals are never
          scaled up. Every interval bounds its value at about 95 %; it joins the meters’ gain and zero errors,
          the last digit of the log and, where windows are counted, their spread.
        </p>
        <h2 className="mt-5 text-[16px]">The figures</h2>
        <table className="mt-1 w-full border-t border-ink">
          <thead>
            <tr className="text-left text-faint">
              <th scope="col" className="py-1 pr-4 font-normal">
                figure
              </th>
              <th scope="col" className="py-1 pr-4 font-normal">
                what it says, and how it is computed
              </th>
              <th scope="col" className="py-1 font-normal">
                source of the method
              </th>
            </tr>
          </thead>
          <tbody>
            {REGISTRY.map(({ book, figures }) => (
              <Fragment key={book}>
                <tr className="border-t border-ink">
                  <th scope="rowgroup" colSpan={3} className="py-1.5 text-left">
                    {book}
                  </th>
                </tr>
                {figures.map(({ key, label, meaning, method }) => (
                  <tr key={key} className="border-t border-rule align-top">
                    <th scope="row" className="py-1.5 pr-4 text-left font-semibold">
                      {label}
                    </th>
                    <td className="py-1.5 pr-4">
                      {meaning}
                      <span className="block text-faint">{method.formula}</span>
                    </td>
                    <td className="w-72 py-1.5 text-[12.5px] text-faint">{method.source}</td>
                  </tr>
                ))}
              </Fragment>
            ))}
          </tbody>
        </table>
      </div>
    </main>
  );
}
