import { decimal, degreesOf, temperatureText } from '../../ui/format.js';

/** What is usual for a chemistry: common practice, no published source. The data sheet leads. */
export interface Chemistry {
  /** As it stands in a system file. */
  readonly key: string;
  readonly name: string;
  readonly usablePct: number;
  /** Of the usable capacity. */
  readonly cutOffPct: number;
  /** Cell temperatures within which it may be charged and discharged, °C. */
  readonly charge: readonly [low: number, high: number];
  readonly discharge: readonly [low: number, high: number];
}

export const CHEMISTRIES: readonly Chemistry[] = [
  {
    key: 'LFP',
    name: 'lithium iron phosphate (LFP)',
    usablePct: 90,
    cutOffPct: 5,
    charge: [0, 45],
    discharge: [-20, 55],
  },
  {
    key: 'NMC',
    name: 'lithium nickel manganese cobalt (NMC)',
    usablePct: 90,
    cutOffPct: 5,
    charge: [0, 45],
    discharge: [-20, 55],
  },
  {
    key: 'sodium-ion',
    name: 'sodium-ion',
    usablePct: 90,
    cutOffPct: 5,
    charge: [-10, 45],
    discharge: [-20, 55],
  },
  {
    key: 'lead-acid',
    name: 'lead–acid',
    usablePct: 50,
    cutOffPct: 0,
    charge: [-10, 45],
    discharge: [-20, 45],
  },
];

/** The choices of a form: those that are known, and one that a file names differently. */
export function chemistryChoices(present: string): (readonly [value: string, says: string])[] {
  const known = CHEMISTRIES.map(({ key, name }) => [key, name] as const);
  const isOther = present !== '' && CHEMISTRIES.every(({ key }) => key !== present);
  return [['', 'not known'], ...known, ...(isOther ? [[present, present] as const] : [])];
}

/** What is usual, in words. */
export function usualText({ usablePct, cutOffPct, charge, discharge }: Chemistry): string {
  const between = ([low, high]: readonly [number, number]) =>
    `between ${decimal(degreesOf(low), 0)} and ${temperatureText(high, 0)}`;
  return `Usual for it: ${usablePct} % usable, cut-off at ${cutOffPct} %; charged ${between(charge)}, discharged ${between(discharge)}. Common practice: the data sheet leads.`;
}
