import {
  MONTHS_SHORT,
  FIRST_SCENARIOS,
  HORIZON_H,
  WHOLE_HOME,
  type Scenario,
  type ScenarioOutcome,
} from '@long-tally/core';
import { useState } from 'react';
import { HourTable } from '../../charts/HourTable.js';
import { lineOf, SurvivalCurve } from '../../charts/SurvivalCurve.js';
import { compared } from '../../store/outageScenarios.js';
import { useAppDispatch, useAppSelector } from '../../store/store.js';
import { decimal, hoursText, momentText } from '../../ui/format.js';
import { Saveable } from '../../ui/Saveable.js';
import type { At } from '../../protocol.js';
import { OptionForm } from './ScenarioForm.js';
import { useScenarios } from './useScenarios.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';
import { survivalRows } from '../../charts/chartRows.js';

/** More lines than this are not told apart. */
const MOST = 5;

interface Props {
  readonly at: At;
  readonly from: string;
  readonly to: string;
  readonly whole: ScenarioOutcome;
  readonly parts: readonly string[];
  readonly timeZone: string;
  readonly width: number;
}

/** Options side by side: how long every hour's outage would last with each, and of one of them when and why it is short. */
export function Options({ at, from, to, whole, parts, timeZone, width }: Props) {
  const dispatch = useAppDispatch();
  const options = useAppSelector(({ outageOptions }) => outageOptions[at.homeId]) ?? FIRST_SCENARIOS;
  const set = (list: readonly Scenario[]) => dispatch(compared({ homeId: at.homeId, options: list }));
  const { courses, state, cancel, again } = useScenarios(at, from, to, options, whole);
  const [chosen, setChosen] = useState(WHOLE_HOME.name);
  const known = options.flatMap(({ name }) => courses.get(name) ?? []);
  const shown = courses.get(chosen) ?? whole;
  const add = (option: Scenario) => {
    const others = options.filter(({ name }) => name !== option.name);
    set([...others.slice(0, MOST - 1), option]);
    setChosen(option.name);
  };
  return (
    <>
      {known.length > 0 && width > 0 && (
        <Saveable title="Share of starts that last longer" rows={() => survivalRows(known, HORIZON_H)}>
          <SurvivalCurve courses={known} horizonH={HORIZON_H} width={width} />
        </Saveable>
      )}
      <section aria-label="Options compared" className="mt-2">
        <Table className="w-full text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th scope="col" className="text-left font-normal">
                what stays on, and from which charge
              </th>
              {['one in ten lasts', 'half of them', 'last 12 h', 'last a day', 'reserve for 12 h'].map(
                (name) => (
                  <th key={name} scope="col" className="pl-2 font-normal">
                    {name}
                  </th>
                ),
              )}
              <td />
            </tr>
          </thead>
          <tbody>
            {options.map((option, place) => (
              <Row
                key={option.name}
                option={option}
                place={place}
                course={courses.get(option.name)}
                isShown={shown.scenario.name === option.name}
                onShow={() => setChosen(option.name)}
                onRemove={
                  option.name === WHOLE_HOME.name
                    ? null
                    : () => set(options.filter(({ name }) => name !== option.name))
                }
              />
            ))}
          </tbody>
        </Table>
        <Progress state={state} done={known.length} all={options.length} cancel={cancel} again={again} />
        <OptionForm parts={parts} onAdd={add} />
        {options.length >= MOST && (
          <p className="text-faint">Five are compared at a time; another takes the place of the last.</p>
        )}
      </section>
      <section aria-label="How long, by hour of start" className="mt-4">
        <h2 className="text-[16px]">Hours that half of the outages are carried: {shown.scenario.name}</h2>
        <HourTable
          label="Hours lasted by month and hour"
          caption={`by month and hour at which it begins; up to ${HORIZON_H}`}
          rows={shown.table}
          most={72}
        />
      </section>
      <Worst course={shown} timeZone={timeZone} />
    </>
  );
}

interface RowProps {
  readonly option: Scenario;
  readonly place: number;
  readonly course: ScenarioOutcome | undefined;
  readonly isShown: boolean;
  readonly onShow: () => void;
  readonly onRemove: (() => void) | null;
}

function Row({ option, place, course, isShown, onShow, onRemove }: RowProps) {
  const { ink, dash } = lineOf(place);
  const hours = (of: 'p10' | 'p50') => (course?.[of] ? hoursText(course[of].value) : 'longer');
  const share = (held: { readonly value: number } | null | undefined) =>
    held ? `${decimal(100 * held.value, 0)} %` : '–';
  return (
    <tr className={`border-b border-rule text-right ${isShown ? 'bg-selected' : ''}`}>
      <th scope="row" className="text-left font-normal">
        <svg width="26" height="8" aria-hidden className="mr-2 inline-block">
          <path d="M0 4H26" stroke={ink} strokeDasharray={dash} strokeWidth="1.8" />
        </svg>
        <button type="button" className="quiet" aria-pressed={isShown} onClick={onShow}>
          {option.name}
        </button>
      </th>
      {course ? (
        <>
          <td>{hours('p10')}</td>
          <td>{hours('p50')}</td>
          <td>{share(course.survive12)}</td>
          <td>{share(course.survive24)}</td>
          <td>{share(course.reserve.all)}</td>
        </>
      ) : (
        <td colSpan={5} className="text-faint">
          …
        </td>
      )}
      <td className="pl-2">
        {onRemove && (
          <button
            type="button"
            className="quiet text-faint"
            aria-label={`Leave out: ${option.name}`}
            onClick={onRemove}
          >
            leave out
          </button>
        )}
      </td>
    </tr>
  );
}

interface ProgressProps {
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly done: number;
  readonly all: number;
  readonly cancel: () => void;
  readonly again: () => void;
}

function Progress({ state, done, all, cancel, again }: ProgressProps) {
  return (
    <p role="status" className="mt-1 min-h-6 text-faint">
      {state === 'running' && done < all && (
        <>
          Beginning an outage in every hour: {done} of {all} options{' '}
          <progress value={done} max={all} aria-label="Options done" className="mx-2" />
          <button type="button" className="quiet" onClick={cancel}>
            Cancel
          </button>
        </>
      )}
      {(state === 'cancelled' || state === 'failed') && (
        <>
          {state === 'cancelled' ? 'Cancelled: ' : 'That did not work: '}
          {done} of {all} options are done.{' '}
          <button type="button" className="quiet" onClick={again}>
            Go on
          </button>
        </>
      )}
    </p>
  );
}

function Worst({
  course: { worst, scenario },
  timeZone,
}: {
  readonly course: ScenarioOutcome;
  readonly timeZone: string;
}) {
  if (worst.length === 0) return null;
  return (
    <section aria-label="Worst starts" className="mt-4 max-w-5xl">
      <h2 className="text-[16px]">The shortest of each month, and why: {scenario.name}</h2>
      <Table className="w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-left text-faint">
            {['month', 'begins', 'lasts', 'half of them', 'why'].map((name) => (
              <th key={name} scope="col" className="pr-3 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {worst.map(({ month, atMs, hours, usualHours, reason }) => (
            <tr key={month} className="border-b border-rule">
              <th scope="row" className="pr-3 text-left font-normal">
                {MONTHS_SHORT[month]}
              </th>
              <td className="pr-3 whitespace-nowrap">{momentText(atMs, timeZone)}</td>
              <td className="pr-3 whitespace-nowrap">{hoursText(hours)}</td>
              <td className="pr-3 whitespace-nowrap text-faint">
                {usualHours >= HORIZON_H ? '2 weeks and more' : hoursText(usualHours)}
              </td>
              <td>{localized(reason)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
