import type { DayRange, MoneyView, PaybackFan, RangeReport } from '@long-tally/core';
import { useDeferredValue } from 'react';
import { Link } from 'react-router';
import { BillBars } from '../../charts/BillBars.js';
import { PaybackChart } from '../../charts/PaybackChart.js';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import type { Home } from '../../db/database.js';
import type { Roll } from '../../protocol.js';
import { atOf, useMoneyQuery } from '../../store/api.js';
import { save, stemOf } from '../../ui/download.js';
import { Saveable } from '../../ui/Saveable.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { decimal, localDateText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useWidth } from '../../ui/useSize.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWorking } from '../../ui/useWorking.js';
import { Ladder } from './Ladder.js';
import { LikeWithLike } from './LikeWithLike.js';
import { Offers } from './Offers.js';
import { StatedBill } from './StatedBill.js';
import { Table } from '../../ui/Table.js';
import { paybackRows } from '../../charts/chartRows.js';

const AREA = ['money.', 'weather.'];
const OWN = new Set(['rate-in-cents', 'tariff-begins-later', 'tariff-gap']);
const BILL = [
  'money.bill',
  'money.withoutSystem',
  'money.withoutBattery',
  'money.saving',
  'money.savingPerYear',
  'money.batterySavingPerYear',
  'money.standing',
  'money.importCost',
  'money.exportIncome',
  'money.pricePerKWh',
  'money.pricePerImportedKWh',
  'money.idleCost',
  'money.lossCost',
];
const PAYBACK = [
  'money.payback',
  'money.payback.discounted',
  'money.paidBackShare',
  'money.costPerStoredKWh.warranted',
  'money.costPerStoredKWh.projected',
];
const WEATHER = ['weather.heatingDegreeDays', 'weather.coolingDegreeDays'];

/** What the system costs and saves, bill by bill. */
export default function MoneyPage() {
  const { home, roll } = useOverview();
  return roll ? <Money home={home} roll={roll} /> : <NoLog home={home} />;
}

function Money({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, last, error } = useRangeReport(home, roll, 'all');
  useRangeKeys(days, range, select);
  const { currentData: answer } = useMoneyQuery({
    at: atOf(home),
    from: days[last.range.from]!.date,
    to: days[last.range.to]!.date,
  });
  // What is drawn of it may be drawn bit by bit: the page goes on meanwhile.
  const money = useDeferredValue(answer);
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report && money ? (
        <Page home={home} roll={roll} report={last.report} money={money} range={last.range} />
      ) : (
        <Waiting
          title="Money"
          doing="Pricing every interval"
          failed="The bills could not be drawn up"
          error={error}
        />
      )}
    </>
  );
}

interface PageProps {
  readonly home: Home;
  readonly roll: Roll;
  readonly report: RangeReport;
  readonly money: MoneyView;
  readonly range: DayRange;
}

function Page({ home, roll, report, money, range }: PageProps) {
  const all = { ...report, figures: { ...report.figures, ...money.figures } };
  const { workingKey, open, panel } = useWorking(all, 'money.saving', AREA);
  const currency = home.system.currency ?? '';
  const chosen = { from: roll.days[range.from]!.date, to: roll.days[range.to]!.date };
  return (
    <RangeFrame
      title="Money"
      days={roll.days}
      range={range}
      report={report}
      asideLabel="Figures of money"
      aside={
        <>
          <Findings findings={report.findings.filter(({ code }) => OWN.has(code))} most={3} />
          <h2 className="mt-3 text-[15px]">Bill and saving{currency && `, ${currency}`}</h2>
          <Figures keys={BILL} report={all} workingKey={workingKey} onOpen={open} />
          <h2 className="mt-3 text-[15px]">Payback</h2>
          <Figures keys={PAYBACK} report={all} workingKey={workingKey} onOpen={open} />
          <h2 className="mt-3 text-[15px]">Weather</h2>
          <Figures keys={WEATHER} report={all} workingKey={workingKey} onOpen={open} />
          {panel}
        </>
      }
    >
      <p className="my-2 max-w-4xl text-[15px]">{verdict(money, currency)}</p>
      {money.bills.length === 0 ? (
        <p>
          <Link className="quiet" to={`/h/${home.id}/system`}>
            Describe a tariff in the System view
          </Link>
        </p>
      ) : (
        <>
          <Ladder figures={money.figures} currency={currency} />
          <Bills home={home} money={money} currency={currency} />
          <Hours hours={money.hours} currency={currency} />
        </>
      )}
      {money.payback && <Payback fan={money.payback} currency={currency} />}
      <LikeWithLike like={money.like} />
      <StatedBill {...chosen} at={atOf(home)} currency={currency} />
      <Offers {...chosen} home={home} currency={currency} />
    </RangeFrame>
  );
}

function Payback({ fan, currency }: { readonly fan: PaybackFan; readonly currency: string }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  return (
    <section aria-label="Payback" className="mt-4">
      <h2 className="text-[16px]">Saved less paid{currency && `, ${currency}`}</h2>
      <div ref={ref} className="max-w-4xl">
        {width > 0 && (
          <Saveable title="When it is paid back" rows={() => paybackRows(fan, currency)}>
            <PaybackChart fan={fan} currency={currency} width={width} />
          </Saveable>
        )}
      </div>
      <p className="max-w-3xl text-[13px] text-faint">
        At the saving a year of this range, less upkeep, without price rises: the band is its interval. The
        mark is what has been saved by the end of the range.
      </p>
    </section>
  );
}

/** What was saved of what, by what most, and when it is paid; in a sentence. */
function verdict({ figures }: MoneyView, currency: string): React.ReactNode {
  const value = (key: string) => figures[`money.${key}`]?.value ?? null;
  const [saving, without] = [value('saving'), value('withoutSystem')];
  if (saving === null || without === null)
    return (
      figures['money.bill']?.reason ?? figures['money.saving']?.reason ?? 'Nothing of this range is priced.'
    );
  const amount = (of: number) => `${decimal(of, 2)} ${currency}`.trim();
  const parts = (
    [
      ['solarDirect', 'sun used at once'],
      ['solarStored', 'sun from the battery'],
      ['shifted', 'shifted grid energy'],
      ['export', 'export'],
    ] as const
  ).flatMap(([key, words]) => {
    const part = value(`saving.${key}`);
    return part === null ? [] : [{ part, words }];
  });
  const largest = parts.sort((one, other) => other.part - one.part)[0];
  const payback = figures['money.payback'];
  return (
    <>
      <b>{amount(saving)}</b> saved: the load would have cost {amount(without)}, the bill came to{' '}
      {amount(without - saving)}.
      {largest && largest.part > 0 && ` Most of it, ${amount(largest.part)}, by ${largest.words}.`}
      {payback?.value != null &&
        ` At this rate it is paid in ${decimal(payback.value, 1)} years (${decimal(payback.low!, 1)} to ${decimal(payback.high!, 1)}).`}
    </>
  );
}

interface BillsProps {
  readonly home: Home;
  readonly money: MoneyView;
  readonly currency: string;
}

function Bills({ home, money: { bills }, currency }: BillsProps) {
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

interface HoursProps {
  readonly hours: MoneyView['hours'];
  readonly currency: string;
}

/** What was bought and sold in each hour of the day, over the rate that holds in it. */
function Hours({ hours, currency }: HoursProps) {
  const rows = [
    [`mean rate, ${currency || 'a kWh'}`, hours.map(({ rate }) => (rate === null ? '–' : decimal(rate, 2)))],
    ['bought, kWh', hours.map(({ boughtKWh }) => decimal(boughtKWh, 0))],
    ['sold, kWh', hours.map(({ soldKWh }) => decimal(soldKWh, 0))],
  ] as const;
  return (
    <section aria-label="Through the day" className="mt-5">
      <h2 className="text-[16px]">Through the day</h2>
      <div className="overflow-x-auto" role="region" aria-label="Prices by hour" tabIndex={0}>
        <Table className="w-full text-[11.5px]">
          <thead>
            <tr className="text-faint">
              <th scope="col" className="text-left font-normal">
                hour
              </th>
              {hours.map((_, hour) => (
                <th key={hour} scope="col" className="text-right font-normal">
                  {hour}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, cells]) => (
              <tr key={name} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {name}
                </th>
                {cells.map((cell, hour) => (
                  <td key={hour}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </section>
  );
}
