/** What is taken for given when an outage is begun in every hour. */
export interface Option {
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
export const WHOLE_HOME: Option = {
  name: 'whole home',
  share: 1,
  capW: Infinity,
  without: [],
  hasSun: true,
  startSoc: null,
  leastSoc: 0,
};

/** What an option takes for given, in words. */
export function nameOfOption({ share, capW, without, hasSun, startSoc, leastSoc }: Option): string {
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
export function optionOf(given: Partial<Option>): Option {
  const option = { ...WHOLE_HOME, ...given };
  return { ...option, name: nameOfOption(option) };
}

/** What is compared before anybody chooses. */
export const FIRST_OPTIONS: readonly Option[] = [
  WHOLE_HOME,
  optionOf({ hasSun: false }),
  optionOf({ share: 0.5 }),
  optionOf({ leastSoc: 0.5 }),
];

/** A value with its bounds at about 95 %: meters that err, and a capacity that is not known better. */
export interface Held {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}
