import type { MoneyView } from '@long-tally/core';
import { BillBars } from '../../charts/BillBars.js';
import type { Home } from '../../db/database.js';
import { save, stemOf } from '../../ui/download.js';
import { decimal, localDateText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { useWidth } from '../../ui/useSize.js';

interface Props {
  readonly home: Home;
  readonly money: MoneyView;
  readonly currency: string;
}

/** The bills of the range with what they would have been, drawn and in a table. */
export function Bills({ home, money: { bills }, currency }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { timeZone } = home.system;
  const heads = [
    'bought, kWh',
    'sold, kWh',
    'standing',
    'bill',
    'without battery',
    'without system',
    'saved',
  ];
  const csv = () =>
    [
      'from,to,days,import_kwh,export_kwh,standing,bill,without_battery,without_system,saved',
      ...bills.map((one) =>
        [
          new Date(one.fromMs).toISOString(),
          new Date(one.toMs).toISOString(),
          one.days,
          one.importKWh,
          one.exportKWh,
          one.standing,
          one.bill,
          one.withoutBattery ?? '',
          one.withoutSystem,
          one.withoutSystem - one.bill,
        ].join(','),
      ),
    ].join('\r\n');
  return (
    <section aria-label="Bills" className="mt-4">
      <div className="flex items-baseline gap-4">
        <h2 className="text-[16px]">Bills{currency && `, ${currency}`}</h2>
        <button
          type="button"
          className="quiet print:hidden"
          onClick={() => save(`${stemOf(home)}-bills.csv`, new Blob([`${csv()}\r\n`], { type: 'text/csv' }))}
        >
          Save as a table
        </button>
      </div>
      <div ref={ref}>
        {width > 0 && bills.length > 1 && (
          <BillBars
            bills={[...bills].sort((a, b) => a.fromMs - b.fromMs)}
            currency={currency}
            timeZone={timeZone}
            width={width}
          />
        )}
      </div>
      <div className="overflow-x-auto" role="region" aria-label="Bills of the range" tabIndex={0}>
        <Table className="w-full text-[13px] [&_td]:pl-2 [&_td]:whitespace-nowrap">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th scope="col" className="text-left font-normal">
                bill from
              </th>
              {heads.map((name) => (
                <th key={name} scope="col" className="pl-2 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {[...bills].reverse().map((one) => (
              <tr key={one.fromMs} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {localDateText(one.fromMs, timeZone)}
                </th>
                <td>{decimal(one.importKWh, 1)}</td>
                <td>{decimal(one.exportKWh, 1)}</td>
                <td className="text-faint">{decimal(one.standing, 2)}</td>
                <td>{decimal(one.bill, 2)}</td>
                <td>{one.withoutBattery === null ? '–' : decimal(one.withoutBattery, 2)}</td>
                <td>{decimal(one.withoutSystem, 2)}</td>
                <td className="font-semibold">{decimal(one.withoutSystem - one.bill, 2)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      <p className="mt-1 text-faint">
        Bills are without the standing charge, which is owed either way. Without the battery, solar alone
        would have served the load as it fell.
      </p>
    </section>
  );
}
