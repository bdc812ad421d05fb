import type { Method, Unit } from '../../model/figure.js';

const PRACTICE = 'Common practice, no published source.';
const GUM = 'Interval after GUM (JCGM 100:2008), 5.1: independent parts, root sum of squares.';

interface Entry {
  readonly unit: Unit;
  readonly label: string;
  readonly meaning: string;
  readonly method: Method;
}

const entry = (
  key: string,
  unit: Unit,
  label: string,
  meaning: string,
  formula: string,
  source = PRACTICE,
): Entry => ({
  unit,
  label,
  meaning,
  method: { id: `trial.${key}`, formula, source },
});

/** The figures of trials: what each is called and means, and how it is computed. */
export const TRIAL_FIGURES = {
  deltaSoc: entry(
    'deltaSoc',
    'share',
    'Change of the charge',
    'How far the charge fell or rose over the trial.',
    'SOC at the end − SOC at the start, without its sign',
    GUM,
  ),
  delivered: entry(
    'delivered',
    'kWh',
    'Delivered',
    'What came out of the battery.',
    'discharge counter at the end − at the start, or Σ discharge of the log',
    GUM,
  ),
  expected: entry(
    'expected',
    'kWh',
    'Expected',
    'What the units are described to give over that fall of the charge.',
    'units × kWh each × usable share × fall of SOC',
  ),
  ratio: entry(
    'ratio',
    'share',
    'Delivered ÷ expected',
    'How much of the expected came.',
    'delivered ÷ expected',
    GUM,
  ),
  shortfall: entry(
    'shortfall',
    'kWh',
    'Short by',
    'What is missing of the expected.',
    'expected − delivered',
    GUM,
  ),
  shortfallModules: entry(
    'shortfallModules',
    'count',
    'Short by, in modules',
    'What is missing, in parts of what one module gives over the same fall.',
    'shortfall ÷ (module × usable share × fall of SOC)',
    GUM,
  ),
  capacity: entry(
    'capacity',
    'kWh',
    'Capacity',
    'From full to empty, by this trial.',
    '(delivered + idle draw × time) ÷ fall of SOC',
    GUM,
  ),
  taken: entry(
    'taken',
    'kWh',
    'Taken in',
    'What went into the battery.',
    'charge counter at the end − at the start, or Σ charge of the log',
    GUM,
  ),
  efficiency: entry(
    'efficiency',
    'share',
    'Charge efficiency',
    'Share of what went in that the charge shows.',
    'rise of SOC × usable capacity ÷ taken in',
    GUM,
  ),
  peakPower: entry(
    'peakPower',
    'W',
    'Highest power',
    'The highest power of the trial.',
    'highest of the readings or of the log',
  ),
  'power.mean': entry('power.mean', 'W', 'Mean power', 'The mean power over the trial.', 'energy ÷ time'),
  hours: entry('hours', 'h', 'Lasted', 'How long the trial went on.', 'end − start'),
  idleW: entry(
    'idleW',
    'W',
    'Idle draw',
    'What the equipment draws with everything off.',
    'energy that left the battery without reaching a load ÷ time',
    GUM,
  ),
  idlePerDay: entry(
    'idlePerDay',
    'kWh/day',
    'Idle draw, a day',
    'The same over a day.',
    'idle draw × 24 h',
    GUM,
  ),
  headroom: entry(
    'headroom',
    'W',
    'Headroom',
    'What the inverter could have carried beyond the highest load that it held.',
    'battery-only rating − highest load held',
  ),
  legPeak: entry(
    'legPeak',
    'W',
    'Highest on one leg',
    'The highest power of one leg.',
    'highest of the legs over the trial',
  ),
  legImbalance: entry(
    'legImbalance',
    'share',
    'Imbalance of legs',
    'How far the highest leg lay above the mean of the legs, at its worst.',
    '(highest leg − mean of the legs) ÷ mean of the legs',
    'After the unbalance of NEMA MG 1, largest deviation ÷ mean, here of powers (from memory).',
  ),
  tripPower: entry(
    'tripPower',
    'W',
    'Tripped at',
    'Power of the most loaded leg, or of all where legs are not noted, as the output stopped or handed over.',
    'highest leg at the event',
  ),
  'combos.failing': entry(
    'combos.failing',
    'count',
    'Combinations that failed',
    'How often the output stopped or handed over.',
    'number of trips and transfers',
  ),
  runtime: entry(
    'runtime',
    'h',
    'Lasted on the battery',
    'How long the home was carried.',
    'end of the run − its start',
  ),
  projectedRuntime: entry(
    'projectedRuntime',
    'h',
    'Will still last',
    'How long the charge lasts from the last checkpoint on.',
    '(SOC − cut-off) ÷ fall of SOC an hour so far',
  ),
  socAtGoal: entry(
    'socAtGoal',
    'share',
    'Charge at the goal',
    'The charge that is to be expected when the goal is reached.',
    'SOC at the last checkpoint − fall an hour × hours to the goal',
  ),
  solar: entry(
    'solar',
    'kWh',
    'Solar',
    'What the sun gave during the trial.',
    'solar counter at the end − at the start, or Σ solar of the log',
    GUM,
  ),
  load: entry(
    'load',
    'kWh',
    'Load',
    'What the home used during the trial.',
    'load counter at the end − at the start, or Σ load of the log',
    GUM,
  ),
  resumeSoc: entry(
    'resumeSoc',
    'share',
    'Solar resumes at',
    'Charge at which solar came back.',
    'SOC at the first reading with solar after it was off',
  ),
  shiftStartHz: entry(
    'shiftStartHz',
    'Hz',
    'Shift begins at',
    'Frequency at which solar begins to give less.',
    'lowest raised frequency at which solar drops or ramps',
  ),
  shiftEndHz: entry(
    'shiftEndHz',
    'Hz',
    'Shift ends at',
    'Frequency at which solar has stopped.',
    'lowest frequency at which solar gives nothing',
  ),
  restartDelay: entry(
    'restartDelay',
    'h',
    'Restart after',
    'Time from the stop to the restart.',
    'time of the restart − time of the stop',
  ),
} as const;
export type TrialFigureKey = keyof typeof TRIAL_FIGURES;
