import type { DayRange, MoneyView, RangeReport } from '@long-tally/core';
import { useDeferredValue } from 'react';
import { Link } from 'react-router';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import type { Home } from '../../db/database.js';
import type { Roll } from '../../protocol.js';
import { atOf, useMoneyQuery } from '../../store/api.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWorking } from '../../ui/useWorking.js';
import { Bills } from './Bills.js';
import { Hours } from './Hours.js';
import { Ladder } from './Ladder.js';
import { LikeWithLike } from './LikeWithLike.js';
import { Offers } from './Offers.js';
import { Payback } from './Payback.js';
import { StatedBill } from './StatedBill.js';

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
