import { InputError } from '../../model/problem.js';
import type { Prepared } from '../../passes/prepare.js';
import type { System } from '../../system/schema.js';
import { isoOf } from '../../time/instant.js';
import { curtailment } from './curtailment.js';
import { drawdown } from './drawdown.js';
import { fullLoad } from './fullLoad.js';
import { idle } from './idle.js';
import { offGridRun } from './offGridRun.js';
import { recharge } from './recharge.js';
import { restart } from './restart.js';
import type { TrialKind } from '../../model/trialRecord.js';
import type { Trial } from './trialFile.js';
import { materialOf, type TrialMaterial } from './trialMaterial.js';
import type { TrialOutcome, TrialResult } from './trialResult.js';
import { typedBesideLogged } from './typedBesideLogged.js';

/** The protocols, one file each. */
const PROTOCOLS: Readonly<Record<TrialKind, (material: TrialMaterial) => TrialOutcome>> = {
  drawdown,
  recharge,
  idle,
  'full-load': fullLoad,
  'off-grid-run': offGridRun,
  curtailment,
  restart,
};

/**
 * What a trial gave, from typed readings, the log, or both.
 * @param prepared the home with its log, where there is one
 * @param where name of the file, for the messages
 * @throws InputError where neither a reading nor a time says when it was
 */
export function evaluateTrial(
  trial: Trial,
  system: System,
  prepared: Prepared | null,
  where: string,
): TrialResult {
  const material = materialOf(trial, system, prepared);
  if (!material)
    throw new InputError([
      {
        where,
        column: 'key readings',
        found: 'Neither "from" and "to" nor two readings at different times say when the trial was.',
        mend: 'Write the instants at which it began and ended, or a reading at each.',
      },
    ]);
  return {
    schema: 'long-tally/trial-result@1',
    kind: trial.kind,
    from: isoOf(material.fromMs),
    to: isoOf(material.toMs),
    ...PROTOCOLS[trial.kind](material),
    compared: typedBesideLogged(material),
  };
}
