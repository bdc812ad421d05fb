import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type WorkingLine,
} from '../../model/figure.js';
import type { Basis } from '../../model/basis.js';
import { TRIAL_FIGURES, type TrialFigureKey } from './trialFigures.js';

interface Given {
  readonly value: number;
  readonly half: number;
  readonly basis?: Basis;
  readonly lines?: readonly WorkingLine[];
  readonly assumptions?: readonly string[];
  /** Bounds that no value passes. */
  readonly least?: number;
  readonly most?: number;
}

function made(make: typeof measured, key: TrialFigureKey, given: Given): Figure {
  const { unit, label, method } = TRIAL_FIGURES[key];
  const { value, half, basis = {}, lines = [], assumptions = [], least = -Infinity, most = Infinity } = given;
  return make(
    {
      value,
      low: Math.min(value, Math.max(least, value - half)),
      high: Math.max(value, Math.min(most, value + half)),
    },
    {
      unit,
      method,
      basis,
      working: [
        ...lines,
        { label, value, unit, role: 'result' },
        { label: 'digits, meters and what is assumed', value: half, unit, role: 'uncertainty' },
      ],
      assumptions,
    },
  );
}

/** A figure of a trial from what was read. */
export function read(key: TrialFigureKey, given: Given): Figure {
  return made(measured, key, given);
}

/** A figure of a trial that leans on a description or an assumption. */
export function reckoned(key: TrialFigureKey, given: Given): Figure {
  return made(estimated, key, given);
}

/** The place of a figure of a trial that nothing tells. */
export function untold(key: TrialFigureKey, reason: string): Figure {
  const { unit, method } = TRIAL_FIGURES[key];
  return notMeasured(unit, method, reason);
}

/** The place of a figure of a trial that is void. */
export function voided(key: TrialFigureKey, reason: string): Figure {
  const { unit, method } = TRIAL_FIGURES[key];
  return insufficient(unit, method, reason);
}

/** A line of working. */
export function line(label: string, value: number, unit: WorkingLine['unit']): WorkingLine {
  return { label, value, unit, role: 'input' };
}
