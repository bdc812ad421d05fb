import type { Appliance, ScenarioFile } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { db } from '../../db/database.js';
import { checkedRows, scenariosRow } from '../../db/rows.js';
import { atOf } from '../../store/api.js';
import { useWhatif } from '../../ui/useWhatif.js';
import { localized } from '../../ui/localized.js';
import type { AskedPoint } from '../../protocol.js';
import { AnotherYear } from '../whatif/AnotherYear.js';
import { Differences } from '../whatif/Differences.js';
import { trustOf, verdictOf } from '../whatif/verdict.js';
import type { WrittenProps } from './writtenProps.js';

const NO_SCENARIOS: readonly ScenarioFile[] = [];
const NO_APPLIANCES: readonly Appliance[] = [];
const NO_POINTS: readonly AskedPoint[] = [];

/** What the scenarios that are kept with the home would have changed over the range. */
export function KeptScenarios(props: WrittenProps) {
  const { id } = props.home;
  const row = useLiveQuery(() => db.scenarios.get(id), [id]);
  const kept = row ? (checkedRows(scenariosRow, [row]).good[0]?.scenarios ?? NO_SCENARIOS) : NO_SCENARIOS;
  if (kept.length === 0)
    return <p className="text-faint">No scenario is kept with this home. The What-if view keeps them.</p>;
  return <Told {...props} kept={kept} />;
}

function Told({ home, days, range, kept }: WrittenProps & { readonly kept: readonly ScenarioFile[] }) {
  const { base, scenarios, state, done, of } = useWhatif({
    at: atOf(home),
    from: days[range.from]!.date,
    to: days[range.to]!.date,
    appliances: NO_APPLIANCES,
    scenarios: kept,
    points: NO_POINTS,
  });
  const currency = home.system.currency ?? '';
  if (base && 'problem' in base) return <p>{localized(base.problem)}</p>;
  const told = scenarios.flatMap((one) => (one && 'scenario' in one ? [one.scenario] : []));
  const problems = scenarios.flatMap((one) => (one && 'problem' in one ? [one.problem] : []));
  return (
    <>
      {state === 'running' && (
        <p role="status" className="text-faint">
          Running the scenarios: {done} of {of} …
        </p>
      )}
      {told.map((scenario) => (
        <p key={scenario.name}>
          <b>{scenario.name}</b>: {verdictOf(scenario, currency)}{' '}
          {scenario.payback && localized(scenario.payback.says)}
        </p>
      ))}
      {problems.map((problem) => (
        <p key={problem}>{localized(problem)}</p>
      ))}
      {base && told.length > 0 && (
        <>
          <p className="text-faint">{trustOf(base.base)}</p>
          <Differences base={base.base} scenarios={told} currency={currency} />
          <AnotherYear scenarios={told} currency={currency} />
        </>
      )}
    </>
  );
}
