/** What is taken for given when an outage is begun in every hour. */
export interface Scenario {
  readonly name: string;
  /** Share of the load that stays on. */
  readonly share: number;
  /** The load never exceeds it, W. */
  readonly capW: number;
  /** Parts of the load, logged by name, that are switched off. */
  readonly without: readonly string[];
  readonly hasSun: boolean;
  /** Charge with which every start begins; null for the one that was logged. */
  readonly startSoc: number | null;
  /** Reserve: charge that an outage finds at least. */
  readonly leastSoc: number;
}

/** All that the home used, with the sun and the charge that there were. */
export const WHOLE_HOME: Scenario = {
  name: 'whole home',
  share: 1,
  capW: Infinity,
  without: [],
  hasSun: true,
  startSoc: null,
  leastSoc: 0,
};

/** What an option takes for given, in words. */
function scenarioName({ share, capW, without, hasSun, startSoc, leastSoc }: Scenario): string {
  const percent = (part: number) => `${Math.round(100 * part)} %`;
  const said = [
    ...(share < 1 ? [`${percent(share)} of the load`] : []),
    ...(capW < Infinity ? [`at most ${Math.round(capW)} W`] : []),
    ...(without.length > 0 ? [`without ${without.join(', ')}`] : []),
    ...(hasSun ? [] : ['no sun']),
    ...(startSoc === null ? [] : [`from ${percent(startSoc)}`]),
    ...(leastSoc > 0 ? [`reserve ${percent(leastSoc)}`] : []),
  ];
  return said.length > 0 ? said.join(', ') : WHOLE_HOME.name;
}

/** An option that differs from the whole home by so much, named after it. */
export function scenarioOf(given: Partial<Scenario>): Scenario {
  const scenario = { ...WHOLE_HOME, ...given };
  return { ...scenario, name: scenarioName(scenario) };
}

/** What is compared before anybody chooses. */
export const FIRST_SCENARIOS: readonly Scenario[] = [
  WHOLE_HOME,
  scenarioOf({ hasSun: false }),
  scenarioOf({ share: 0.5 }),
  scenarioOf({ leastSoc: 0.5 }),
];

/** A value with its bounds at about 95 %: meters that err, and a capacity that is not known better. */
export interface Held {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}
