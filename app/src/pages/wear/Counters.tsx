import { YEAR_DAYS, type RangeReport } from '@long-tally/core';
import { decimal, unitText, valueText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { labelOf } from '../../ui/localized.js';

const COUNTERS = [
  'wear.throughput',
  'wear.efc.nameplate',
  'wear.efc.usable',
  'wear.cycles.rainflow',
  'wear.cycles.rainflowDepth',
];

interface Props {
  readonly report: RangeReport;
  readonly onOpen: (key: string) => void;
}

/** The counters of use: how far they have come in the range, and how fast they run. */
export function Counters({ report, onOpen }: Props) {
  return (
    <section aria-label="Counters of use" className="mt-4 max-w-2xl">
      <h2 className="text-[16px]">Counters of use</h2>
      <Table className="w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            <td />
            <th scope="col" className="font-normal">
              in this range
            </th>
            <th scope="col" className="font-normal">
              a year
            </th>
            <th scope="col" className="font-normal">
              a day
            </th>
          </tr>
        </thead>
        <tbody>
          {COUNTERS.flatMap((key) => {
            const figure = report.figures[key];
            const aYear = figure?.basis['aYear'];
            if (figure?.value == null || typeof aYear !== 'number') return [];
            return [
              <tr key={key} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  <button type="button" data-figure={key} className="quiet" onClick={() => onOpen(key)}>
                    {labelOf(key)}
                  </button>
                </th>
                <td>
                  {valueText(figure.value, figure.unit)} {unitText(figure.unit)}
                </td>
                <td>{decimal(aYear, 0)}</td>
                <td>{decimal(aYear / YEAR_DAYS, 2)}</td>
              </tr>,
            ];
          })}
        </tbody>
      </Table>
    </section>
  );
}
