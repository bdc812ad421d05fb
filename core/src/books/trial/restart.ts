import { DARK_W } from '../../passes/cutOffs.js';
import { counterCheck } from './commonChecks.js';
import { read, untold } from './evaluated.js';
import { restartDelayH } from './fullLoad.js';
import { loggedCourse, typedCourse, type TrialMaterial } from './trialMaterial.js';
import { check, type TrialOutcome } from './trialResult.js';

/** A transfer or a restart: how long the home was dark, and the charge at which it came back. */
export function restart(material: TrialMaterial): TrialOutcome {
  const noted = restartDelayH(material);
  const load = loggedCourse(material, 'load');
  const dark = load.findIndex(({ value }) => value < DARK_W);
  const back = dark < 0 ? undefined : load.slice(dark).find(({ value }) => value >= DARK_W);
  const logged = dark >= 0 && back ? (back.atMs - load[dark]!.atMs) / 3_600_000 : null;
  const delay = noted ?? logged;
  const stepH = material.log ? material.log.stepMs / 3_600_000 : 0;
  const soc = typedCourse(material, 'soc');
  const event = material.trial.readings.find(({ event: own }) => own === 'restart');
  const lowest = soc.length > 0 ? Math.min(...soc.map(({ value }) => value)) : NaN;
  const { cutOff } = material.configuration;
  const checks = [
    counterCheck(material),
    check('below-cut-off', cutOff === null || Number.isNaN(lowest) ? null : lowest >= cutOff, 'weakens', [
      'It stayed above the cut-off.',
      'It went below the cut-off that the maker sets. Recharge the same day.',
      'The cut-off or the charge is not known.',
    ]),
  ];
  return {
    figures: {
      'trial.restartDelay':
        delay === null
          ? untold(
              'restartDelay',
              'The stop and the restart, each with its time (events "trip" or "low-charge", and "restart"), or a log of the load, would supply it.',
            )
          : read('restartDelay', { value: delay, half: noted === null ? stepH : 1 / 60, least: 0 }),
      'trial.resumeSoc':
        event?.soc === undefined
          ? untold('resumeSoc', 'The charge at the restart would supply it.')
          : read('resumeSoc', { value: event.soc, half: 0.01, least: 0, most: 1 }),
      'trial.hours': read('hours', { value: material.hours, half: 0 }),
    },
    checks,
    verdict:
      delay === null
        ? {
            code: 'did-not-restart',
            message:
              'No restart is noted. Follow the manual; restarting from empty may need a procedure of its own.',
          }
        : {
            code: 'restarted',
            message: `It was dark for ${delay * 3600 < 90 ? `${Math.round(delay * 3600)} s` : `${(delay * 60).toFixed(0)} min`}.`,
          },
  };
}
