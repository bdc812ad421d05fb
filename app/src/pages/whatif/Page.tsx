import {
  figureEntry,
  parseScenario,
  type DayRange,
  type RangeReport,
  type ScenarioFile,
  type Whatif,
} from '@long-tally/core';
import { useMemo, useState } from 'react';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import type { Home } from '../../db/database.js';
import type { Roll } from '../../protocol.js';
import { atOf, useWhatifQuery } from '../../store/api.js';
import { FileButton } from '../../ui/FileButton.js';
import { decimal, unitText, valueText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { presetsOf } from './presets.js';

const MOST = 4;
const ROWS = [
  'account.selfSufficiency.supply',
  'account.selfSufficiency.grid',
  'account.import',
  'account.export',
  'account.gridFreeDays',
  'solar.heldBack',
  'wear.efc.nameplate',
  'outage.survive.12h',
  'outage.survive.24h',
  'peak.hoursAbove.batteryOnly',
  'money.bill',
  'money.saving',
] as const;

/** What a change would have done with the load and the sun that there were. */
export default function WhatifPage() {
  const { home, roll } = useOverview();
  return roll ? <Whatifs home={home} roll={roll} /> : <NoLog home={home} />;
}

function Whatifs({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { range, select, last, error } = useRangeReport(home, roll, 'all');
  useRangeKeys(roll.days, range, select);
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report ? (
        <Page home={home} roll={roll} report={last.report} range={last.range} />
      ) : (
        <Waiting
          title="What-if"
          doing="Adding up the range"
          failed="The range could not be added up"
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
  readonly range: DayRange;
}

function Page({ home, roll, report, range }: PageProps) {
  const presets = useMemo(() => presetsOf(home.system), [home.system]);
  const [chosen, setChosen] = useState<readonly ScenarioFile[]>([scenarioOf(presets[0]!)]);
  const modules = home.system.configurations?.at(-1)?.battery?.modules ?? 1;
  const sweep = useMemo(
    () => ({
      key: 'battery.modules',
      tells: 'energies' as const,
      values: Array.from({ length: Math.max(6, 2 * modules) }, (_, k) => k + 1),
    }),
    [modules],
  );
  const { currentData, isFetching, error } = useWhatifQuery({
    at: atOf(home),
    from: roll.days[range.from]!.date,
    to: roll.days[range.to]!.date,
    scenarios: chosen,
    sweep,
  });
  const toggle = (one: ScenarioFile) =>
    setChosen(
      chosen.some(({ name }) => name === one.name)
        ? chosen.filter(({ name }) => name !== one.name)
        : [...chosen.slice(-(MOST - 1)), one],
    );
  return (
    <RangeFrame
      title="What-if"
      days={roll.days}
      range={range}
      report={report}
      asideLabel="What to change"
      aside={
        <>
          <h2 className="mt-3 text-[15px]">What to change</h2>
          <ul>
            {presets.map((preset) => (
              <li key={preset.says}>
                <label className="flex items-baseline gap-2 border-b border-rule py-0.5">
                  <input
                    type="checkbox"
                    checked={chosen.some(({ name }) => name === preset.says)}
                    onChange={() => toggle(scenarioOf(preset))}
                  />
                  {preset.says}
                </label>
              </li>
            ))}
          </ul>
          <p className="mt-2">
            <FileButton
              label="Add a scenario file (.json):"
              accept=".json,application/json"
              onFile={async (file) => toggle(parseScenario(await file.text(), file.name))}
            />
          </p>
          <p className="mt-3 text-[12.5px] text-faint">
            Up to {MOST} at a time. Work on inverters, arrays and boards belongs to licensed people and local
            codes; a change may alter the terms of a warranty.
          </p>
        </>
      }
    >
      {error ? (
        <p role="alert">{error.message}</p>
      ) : !currentData || isFetching ? (
        <p role="status" className="mt-3 text-faint">
          Running the load and the sun of the range through the model …
        </p>
      ) : 'problem' in currentData ? (
        <p role="alert" className="mt-3">
          {currentData.problem}
        </p>
      ) : (
        <Answer result={currentData.result} modules={modules} currency={home.system.currency ?? ''} />
      )}
    </RangeFrame>
  );
}

function scenarioOf({
  says,
  change,
}: {
  readonly says: string;
  readonly change: ScenarioFile['change'];
}): ScenarioFile {
  return { schema: 'long-tally/scenario@1', name: says, change };
}

interface AnswerProps {
  readonly result: Whatif;
  readonly modules: number;
  readonly currency: string;
}

function Answer({ result: { base, scenarios, sweep, knee }, modules, currency }: AnswerProps) {
  const rows = ROWS.filter((key) => base.modelled[key]?.value != null);
  const supply = base.errors['account.selfSufficiency.supply'];
  const signed = (value: number, unit: Parameters<typeof valueText>[1]) =>
    `${value > 0 ? '+' : ''}${valueText(value, unit)}`;
  return (
    <>
      <p className="my-2 max-w-4xl text-[15px]">
        {supply == null
          ? 'What the model is worth cannot be held against the log here.'
          : `The home as it is, modelled: self-sufficiency lies ${decimal(Math.abs(100 * supply), 1)} points ${supply >= 0 ? 'above' : 'below'} the log. A what-if is only as good as that; what to trust are the differences.`}
      </p>
      {base.causes.map((cause) => (
        <p key={cause} className="my-2 max-w-4xl">
          {cause}
        </p>
      ))}
      <section aria-label="Scenarios" className="mt-3">
        <h2 className="text-[16px]">What would have changed</h2>
        <div className="overflow-x-auto" role="region" aria-label="Differences of scenarios" tabIndex={0}>
          <table className="w-full text-[13px]">
            <thead>
              <tr className="border-b border-rule-2 text-right align-bottom text-faint">
                <th scope="col" className="text-left font-normal">
                  figure
                </th>
                {['logged', 'modelled', ...scenarios.map(({ name }) => name)].map((name) => (
                  <th key={name} scope="col" className="max-w-40 pl-3 font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((key) => {
                const own = base.modelled[key]!;
                const logged = base.logged[key];
                return (
                  <tr key={key} className="border-b border-rule text-right align-top">
                    <th scope="row" className="text-left font-normal">
                      {figureEntry(key).label},{' '}
                      {own.unit === 'currency' ? currency : unitText(own.unit) || 'count'}
                    </th>
                    <td className="pl-3 text-faint">
                      {logged?.value == null ? '–' : valueText(logged.value, logged.unit)}
                    </td>
                    <td className="pl-3">{valueText(own.value!, own.unit)}</td>
                    {scenarios.map(({ name, figures }) => {
                      const figure = figures[key]!;
                      const difference = figure.basis.difference;
                      return (
                        <td key={name} className="pl-3">
                          {figure.value === null || !difference ? (
                            '–'
                          ) : (
                            <>
                              <b>{signed(difference.value, figure.unit)}</b>
                              <span className="block text-[12px] text-faint">
                                {valueText(difference.low, figure.unit)} to{' '}
                                {valueText(difference.high, figure.unit)}
                              </span>
                            </>
                          )}
                        </td>
                      );
                    })}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      </section>
      <section aria-label="How many modules" className="mt-5">
        <h2 className="text-[16px]">How many modules</h2>
        {knee && <p className="text-faint">{knee.reason}</p>}
        <table className="mt-1 w-full max-w-3xl text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-left text-faint">
              <th scope="col" className="font-normal">
                modules
              </th>
              <th scope="col" className="font-normal">
                self-sufficiency, by supply
              </th>
              <th scope="col" className="text-right font-normal">
                import, kWh
              </th>
            </tr>
          </thead>
          <tbody>
            {sweep.map(({ at, figures }) => {
              const share = figures['account.selfSufficiency.supply']?.value ?? 0;
              const bought = figures['account.import']?.value;
              return (
                <tr key={at} className={`border-b border-rule ${at === modules ? 'bg-selected' : ''}`}>
                  <th scope="row" className="w-24 text-left font-normal">
                    {at}
                    {at === modules && ', as it is'}
                    {at === knee?.at && ' ·'}
                  </th>
                  <td>
                    <span className="inline-block w-14 text-right">{decimal(100 * share, 1)} %</span>
                    <span
                      aria-hidden
                      className="ml-2 inline-block h-[10px] bg-battery"
                      style={{ width: `${Math.max(0, 60 * share)}%` }}
                    />
                  </td>
                  <td className="text-right">{bought == null ? '–' : decimal(bought, 0)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </section>
    </>
  );
}
