import { ALL_FIGURES } from '@long-tally/core';
import { useLocation } from 'react-router';
import { Table } from '../../ui/Table.js';
import { topicOf } from '../../ui/handbookTopics.js';
import { localized } from '../../ui/localized.js';

/** The figures of a page: what each says, how it is computed, and how we know. */
export function Figures({ topic }: { readonly topic: string }) {
  const { hash } = useLocation();
  return (
    <>
      <h2 className="mt-5 text-[16px]">The figures, and how we know</h2>
      <Table className="mt-1 w-full border-t border-ink">
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
          {ALL_FIGURES.filter(({ key }) => topicOf(key)?.path === topic).map(
            ({ key, label, meaning, method }) => (
              <tr
                key={key}
                id={key}
                className={`border-t border-rule align-top ${hash === `#${key}` ? 'bg-selected' : ''}`}
              >
                <th scope="row" className="py-1.5 pr-4 text-left font-semibold">
                  {label}
                </th>
                <td className="py-1.5 pr-4">
                  {localized(meaning)}
                  <span className="block text-faint">{localized(method.formula)}</span>
                </td>
                <td className="w-72 py-1.5 text-[12.5px] text-faint">{method.source}</td>
              </tr>
            ),
          )}
        </tbody>
      </Table>
    </>
  );
}
