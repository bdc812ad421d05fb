import type { TrialKind } from '@long-tally/core';

/** A field of a reading. */
export type TrialField =
  | 'soc'
  | 'dischargeKWh'
  | 'chargeKWh'
  | 'solarKWh'
  | 'importKWh'
  | 'loadKWh'
  | 'loadW'
  | 'solarW'
  | 'batteryW'
  | 'legs'
  | 'hz'
  | 'batteryC'
  | 'isTapered'
  | 'appliance'
  | 'event';

/** How a trial is run: what it tells, and what is to be done and looked out for at each step. */
export interface Protocol {
  readonly kind: TrialKind;
  readonly title: string;
  readonly tells: string;
  readonly fields: readonly TrialField[];
  readonly before: readonly string[];
  readonly during: readonly string[];
  readonly after: readonly string[];
}

const ISOLATE =
  'Isolate only with the installed and approved gear: the main switch or the backup gateway. Never feed power back into the grid. Open no covers and touch no conductors: the battery’s DC side stays live.';
const SHUT_DOWN =
  'Shut down computers and other sensitive equipment, and know which circuits are backed up. Anyone who depends on powered medical equipment must not run this test at home alone.';
const IN_STEPS =
  'Add load in steps and stay below the battery-only rating, on each leg as well as in total. Motors draw several times their running power as they start. Stop at any unusual noise, smell or heat.';
const ABOVE_CUT_OFF =
  'Stop above the cut-off set by the maker; below about 10 % many inverters give less power.';
const RECHARGE = 'Recharge the same day; do not leave the battery empty.';
const WHY_TRIPPED =
  'After a trip, find out why before you restart. Whether the inverter restarts by itself is a setting to decide on.';

/** The protocols, in the order of how much they tell. */
export const PROTOCOLS: readonly Protocol[] = [
  {
    kind: 'drawdown',
    title: 'Drawdown',
    tells: 'the capacity, and whether all units deliver',
    fields: ['soc', 'dischargeKWh', 'chargeKWh', 'loadW', 'solarW', 'batteryC', 'isTapered'],
    before: [
      'Charge until truly full: 100 % on the display, and the charging has died down. The display alone is not enough.',
      'Begin at sunset, or with the panels off, so that no sun charges the battery.',
      SHUT_DOWN,
      ISOLATE,
    ],
    during: [
      IN_STEPS,
      'Keep the load above the solar power, and check that the charge counter does not move.',
      'Down to 40 % is enough for a check; stopping 1 to 5 % above the cut-off gives the smallest error.',
      ABOVE_CUT_OFF,
    ],
    after: [RECHARGE, 'A result is evidence, not a safety certificate.'],
  },
  {
    kind: 'idle',
    title: 'Idle draw',
    tells: 'what battery and inverter draw with everything off',
    fields: ['soc', 'batteryW', 'dischargeKWh', 'chargeKWh', 'loadW', 'solarW'],
    before: ['Switch off everything you can, and begin after sunset: eight hours without sun.', SHUT_DOWN],
    during: [
      'Read the shunt or the counters at the start and at the end; in between only if reading them adds no load.',
    ],
    after: ['Switch back on what has to run: fridge, alarm, heating.'],
  },
  {
    kind: 'off-grid-run',
    title: 'Off-grid run',
    tells: 'whether the charge lasts to a goal, with a projection at every checkpoint',
    fields: ['soc', 'loadKWh', 'solarKWh', 'loadW'],
    before: [SHUT_DOWN, ISOLATE],
    during: [IN_STEPS, ABOVE_CUT_OFF, 'A checkpoint takes ten seconds: the charge and a word.'],
    after: [RECHARGE],
  },
  {
    kind: 'full-load',
    title: 'Full load',
    tells: 'what the inverter and each leg hold, and what trips them',
    fields: ['appliance', 'loadW', 'legs', 'soc', 'event'],
    before: [SHUT_DOWN, ISOLATE],
    during: [
      IN_STEPS,
      'One appliance at a time; write down what each does: dimming, transfer, trip.',
      WHY_TRIPPED,
    ],
    after: [RECHARGE, 'A start too short for the display is in no reading.'],
  },
  {
    kind: 'recharge',
    title: 'Recharge',
    tells: 'what goes in, what of it is stored, and how the power dies down',
    fields: ['soc', 'chargeKWh', 'batteryW', 'loadW', 'batteryC', 'isTapered'],
    before: [
      'No charging of lithium cells below 0 °C (32 °F) unless the maker allows it; above about 45 °C (113 °F) stop.',
    ],
    during: [
      'Read the counter and the charge at the start and when truly full; the power in between shows the taper.',
    ],
    after: [],
  },
  {
    kind: 'curtailment',
    title: 'Island curtailment',
    tells: 'how solar is held back in an island: charge, frequency, ramp or drop-out',
    fields: ['soc', 'solarW', 'hz', 'loadW', 'event'],
    before: ['Charge to full in the sun.', SHUT_DOWN, ISOLATE],
    during: [
      'Keep a small load on. Read frequency and solar together as the battery fills and as solar comes back.',
    ],
    after: [],
  },
  {
    kind: 'restart',
    title: 'Transfer and restart',
    tells: 'how long the home is dark, and at which charge it comes back',
    fields: ['soc', 'event', 'loadW'],
    before: [SHUT_DOWN, ISOLATE, 'Have at hand the page of the manual that says how to restart from empty.'],
    during: [WHY_TRIPPED],
    after: [RECHARGE],
  },
];

/** The protocol of a kind. */
export function protocolOf(kind: TrialKind): Protocol {
  return PROTOCOLS.find((one) => one.kind === kind)!;
}
