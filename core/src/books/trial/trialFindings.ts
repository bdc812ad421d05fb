import type { Figure } from '../../model/figure.js';
import type { Finding } from '../../model/finding.js';
import type { TrialRecord } from '../../model/trialRecord.js';
import type { RangeData } from '../../passes/rangeData.js';
import { configurationAt } from '../../system/configuration.js';
import { isoOf } from '../../time/instant.js';
import { homeStorage, runsOn, runtimeHours } from '../shared/homeStorage.js';

/** What trials within a range say beside what its log says: the idle draw, a run without the grid, a leg that tripped. */
export function trialFindings(data: RangeData, figures: Readonly<Record<string, Figure>>): Finding[] {
  const own = data.trials.filter(({ fromMs }) => fromMs >= data.range.fromMs);
  return own.flatMap((trial) => [
    ...idleFinding(trial, figures),
    ...runFinding(data, trial),
    ...legFinding(data, trial),
  ]);
}

function told(trial: TrialRecord, code: string, severity: Finding['severity'], message: string): Finding {
  const { fromMs, toMs, name } = trial;
  return {
    code,
    severity,
    fromMs,
    toMs,
    message: `Trial “${name}” of ${isoOf(fromMs).slice(0, 10)}: ${message}`,
    source: null,
    kWh: null,
  };
}

/** A trial with everything off reads battery and inverter at once, so it is set against both. */
function idleFinding(trial: TrialRecord, figures: Readonly<Record<string, Figure>>): Finding[] {
  const parts = (['losses.idle.battery', 'losses.idle.inverter'] as const).flatMap((key) => {
    const figure = figures[key];
    return figure?.value == null ? [] : [figure as { value: number; low: number; high: number }];
  });
  if (!trial.idle || parts.length === 0) return [];
  const { watts, half } = trial.idle;
  const sum = (of: 'low' | 'value' | 'high') => parts.reduce((all, part) => all + part[of], 0);
  const agrees = watts + half >= sum('low') && watts - half <= sum('high');
  const both = `${Math.round(watts)} W (${Math.round(Math.max(0, watts - half))} to ${Math.round(watts + half)}) with everything off, ${Math.round(sum('value'))} W (${Math.round(sum('low'))} to ${Math.round(sum('high'))}) by the log`;
  return [
    told(
      trial,
      'trial-idle',
      agrees ? 'note' : 'warning',
      agrees
        ? `${both}: they agree.`
        : `${both}: they differ. A load that stayed on, or a second unit that sleeps by night, would explain it.`,
    ),
  ];
}

/** What the charge that a run used should have lasted, against what it did. */
function runFinding(data: RangeData, trial: TrialRecord): Finding[] {
  const storage = homeStorage(data);
  if (!trial.run || !storage || !(trial.run.loadW > 0)) return [];
  const { hours, fall, loadW } = trial.run;
  const { value, low, high } = runtimeHours(
    runsOn(storage),
    storage.cutOff + fall,
    loadW,
    data.accuracy.load,
  );
  const isHeld = hours >= low && hours <= high;
  return [
    told(
      trial,
      'trial-run',
      isHeld ? 'note' : 'warning',
      `the charge it used should have lasted ${value.toFixed(1)} h (${low.toFixed(1)} to ${high.toFixed(1)}) at its load of ${Math.round(loadW)} W; it lasted ${hours.toFixed(1)} h${isHeld ? '' : ', which that does not explain: sun, or a load that was not counted'}.`,
    ),
  ];
}

function legFinding(data: RangeData, trial: TrialRecord): Finding[] {
  const limitW = configurationAt(data.configurations, trial.fromMs).limits.perLegW;
  if (!trial.legs || limitW === null || Number.isNaN(trial.legs.trippedW) || trial.legs.trippedW >= limitW)
    return [];
  return [
    told(
      trial,
      'trial-leg',
      'warning',
      `a leg stopped the output at ${Math.round(trial.legs.trippedW)} W, below the ${Math.round(limitW)} W that are described. Look at the setting, or at what started.`,
    ),
  ];
}
