import {
  changeAt,
  configurationAt,
  configurationsOf,
  crossedOf,
  parseScenario,
  type Appliance,
  type Configuration,
  type DayRange,
  type RangeReport,
  type ScenarioFile,
} from '@long-tally/core';
import { useMemo, useState } from 'react';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { useLiveQuery } from 'dexie-react-hooks';
import { db, type Home } from '../../db/database.js';
import { appliancesRow, checkedRows, scenariosRow } from '../../db/rows.js';
import { saveScenarios } from '../../db/scenarios.js';
import { save, stemOf } from '../../ui/download.js';
import { useWrite } from '../../ui/useWrite.js';
import type { AskedPoint, Roll } from '../../protocol.js';
import { atOf, usePartsQuery } from '../../store/api.js';
import { AfterPaint } from '../../ui/AfterPaint.js';
import { FileButton } from '../../ui/FileButton.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWhatif } from '../../ui/useWhatif.js';
import { Answer } from './Answer.js';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { BestSettingsSection } from './BestSettingsSection.js';
import { CROSSINGS, type CrossedWith } from './crossings.js';
import { presetsOf } from './presets.js';
import { ScenarioForm } from './ScenarioForm.js';
import { StormSection } from './StormSection.js';
import { SurplusSection } from './SurplusSection.js';
import { Tick } from '../../ui/Tick.js';

const MOST = 4;
/** Numbers of modules that are tried: of many modules not each. */
const MOST_POINTS = 24;
const MODULES = 'battery.modules';
const NO_APPLIANCES: readonly Appliance[] = [];
const NONE: readonly ScenarioFile[] = [];

/** What a change would have done with the load and the sun that there were. */
export default function WhatifPage() {
  const { home, roll } = useOverview();
  return roll ? <Whatifs home={home} roll={roll} /> : <NoLog home={home} />;
}

function Whatifs({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { range, select, last, error } = useRangeReport(home, roll, 'all');
  useRangeKeys(roll.days, range, select);
  const endMs = roll.days[last.range.to]!.toMs;
  // The model has the home as it was at the end of the range.
  const configuration = useMemo(
    () => configurationAt(configurationsOf(home.system), endMs - 1),
    [home.system, endMs],
  );
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report ? (
        <Page
          key={configuration.fromMs}
          {...{ home, roll, configuration }}
          report={last.report}
          range={last.range}
        />
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
  readonly configuration: Configuration;
  readonly report: RangeReport;
  readonly range: DayRange;
}

function Page({ home, roll, configuration, report, range }: PageProps) {
  const presets = useMemo(() => presetsOf(configuration, home.system), [configuration, home.system]);
  const [chosen, setChosen] = useState<readonly ScenarioFile[]>([scenarioOf(presets[0]!)]);
  const [crossed, setCrossed] = useState<CrossedWith>('nothing');
  const modules = configuration.described?.battery?.modules ?? 1;
  const points = useMemo(() => pointsOf(modules, crossed), [modules, crossed]);
  const listed = useLiveQuery(() => db.appliances.get(home.id).then((found) => found ?? null), [home.id]);
  const appliances = listed
    ? (checkedRows(appliancesRow, [listed]).good[0]?.appliances ?? NO_APPLIANCES)
    : NO_APPLIANCES;
  const asked = { at: atOf(home), from: roll.days[range.from]!.date, to: roll.days[range.to]!.date };
  const parts = (usePartsQuery(asked).currentData ?? []).flatMap(({ quantity, name }) =>
    quantity.startsWith('load:') ? [name] : [],
  );
  const runs = useWhatif({ ...asked, appliances, scenarios: chosen, points });
  const { write, failure } = useWrite();
  const row = useLiveQuery(() => db.scenarios.get(home.id).then((found) => found ?? null), [home.id]);
  const kept = row ? (checkedRows(scenariosRow, [row]).good[0]?.scenarios ?? NONE) : NONE;
  const [edited, setEdited] = useState<ScenarioFile | null>(null);
  const keep = async (one: ScenarioFile, before: string | null) => {
    const others = kept.filter(({ name }) => name !== one.name && name !== before);
    const isKept = await write(() => saveScenarios(home.id, [...others, one]));
    if (isKept) {
      setEdited(null);
      setChosen([
        ...chosen.filter(({ name }) => name !== one.name && name !== before).slice(-(MOST - 1)),
        one,
      ]);
    }
    return isKept;
  };
  const taken = [...presets.map(({ says }) => says), ...kept.map(({ name }) => name)];
  const add = (one: ScenarioFile) => keep({ ...one, name: freeName(one.name, taken) }, null);
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
              <li
                key={preset.says}
                className="flex items-center justify-between gap-3 border-b border-rule py-0.5"
              >
                <Tick
                  checked={chosen.some(({ name }) => name === preset.says)}
                  onChange={() => toggle(scenarioOf(preset))}
                >
                  {preset.says}
                </Tick>
                <button
                  type="button"
                  className="quiet text-[12.5px]"
                  aria-label={`change “${preset.says}”`}
                  onClick={() =>
                    setEdited({ ...scenarioOf(preset), name: freeName(`${preset.says}, changed`, taken) })
                  }
                >
                  change
                </button>
              </li>
            ))}
          </ul>
          {kept.length > 0 && <h2 className="mt-3 text-[15px]">Kept with this home</h2>}
          <ul>
            {kept.map((one) => (
              <li key={one.name} className="border-b border-rule py-0.5">
                <Tick checked={chosen.some(({ name }) => name === one.name)} onChange={() => toggle(one)}>
                  {one.name}
                </Tick>
                <span className="flex gap-3 pl-6 text-[12.5px]">
                  <button type="button" className="quiet" onClick={() => setEdited(one)}>
                    change “{one.name}”
                  </button>
                  <button
                    type="button"
                    className="quiet"
                    onClick={() =>
                      save(
                        `${stemOf(home)}-scenario.json`,
                        new Blob([`${JSON.stringify(one, null, 1)}\n`], { type: 'application/json' }),
                      )
                    }
                  >
                    save
                  </button>
                  <button
                    type="button"
                    className="quiet text-faint"
                    onClick={() => {
                      setChosen(chosen.filter(({ name }) => name !== one.name));
                      void write(
                        () =>
                          saveScenarios(
                            home.id,
                            kept.filter((other) => other !== one),
                          ),
                        {
                          says: `The scenario “${one.name}” is removed.`,
                          undo: () => saveScenarios(home.id, kept),
                        },
                      );
                    }}
                  >
                    remove
                  </button>
                </span>
              </li>
            ))}
          </ul>
          {failure}
          <AfterPaint>
            <ScenarioForm
              key={edited?.name ?? 'new'}
              edited={edited}
              parts={parts}
              onCancel={() => setEdited(null)}
              taken={taken.filter((name) => name !== edited?.name)}
              onKeep={keep}
            />
            <div className="mt-3">
              <ChoiceField
                text="Set the number of modules against"
                value={crossed}
                choices={[
                  ['nothing', 'nothing else'],
                  ['reserve', 'the reserve'],
                  ['panels', 'the panels'],
                ]}
                onChange={setCrossed}
              />
            </div>
            <p className="mt-2">
              <FileButton
                label="Add a scenario file (.json):"
                accept=".json,application/json"
                onFile={async (file) => {
                  await add(parseScenario(await file.text(), file.name));
                }}
              />
            </p>
          </AfterPaint>
          <p className="mt-3 text-[12.5px] text-faint">
            Up to {MOST} at a time. Work on inverters, arrays and boards belongs to licensed people and local
            codes; a change may alter the terms of a warranty.
          </p>
        </>
      }
    >
      <Answer
        runs={runs}
        home={home}
        configuration={configuration}
        chosen={chosen.length}
        swept={points.filter(({ at }) => at.length === 1).length}
        hasAppliances={appliances.length > 0}
        crossed={crossed}
      />
      <AfterPaint>
        <SurplusSection {...asked} />
        <BestSettingsSection {...asked} currency={home.system.currency ?? ''} onKeep={add} />
        <StormSection {...asked} currency={home.system.currency ?? ''} />
      </AfterPaint>
    </RangeFrame>
  );
}

/** Numbers of modules up to twice the installed one, and each with every value of what they are set against. */
function pointsOf(modules: number, crossed: CrossedWith): AskedPoint[] {
  const most = Math.max(6, 2 * modules);
  const step = Math.ceil(most / MOST_POINTS);
  const values = Array.from({ length: most }, (_, k) => k + 1).filter(
    (count) => count % step === 0 || count === modules,
  );
  const sweep = { key: MODULES, values, tells: 'energies' as const };
  return [
    ...values.map((at) => ({ at: [at], change: changeAt(MODULES, at) })),
    ...(crossed === 'nothing' ? [] : crossedOf(sweep, { ...CROSSINGS[crossed], tells: 'energies' as const })),
  ];
}

/** A name, with a number behind it where others bear it already. */
function freeName(name: string, taken: readonly string[]): string {
  for (let n = 1; ; n++) {
    const free = n === 1 ? name : `${name.slice(0, 190)} ${n}`;
    if (!taken.includes(free)) return free;
  }
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
