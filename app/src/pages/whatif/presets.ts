import {
  darkMonths,
  MONTH_NAMES,
  type Configuration,
  type ScenarioFile,
  type System,
} from '@long-tally/core';
import { decimal } from '../../ui/format.js';

type Change = ScenarioFile['change'];

/** A change that people ask for, in a sentence. */
export interface Preset {
  readonly says: string;
  readonly change: Change;
}

const CAR = { name: 'car', kWhPerDay: 8, start: '23:00', end: '05:00', kW: 7 };

/** What people ask of a home, by where it is and what it had at the end of the range. */
export function presetsOf(
  { described }: Pick<Configuration, 'described'>,
  place: Pick<System, 'latitude' | 'timeZone'>,
): readonly Preset[] {
  const dark = darkMonths(place);
  const modules = described?.battery?.modules ?? 1;
  const reserve = described?.battery?.reserve ?? 0;
  const hasGrid = described?.grid !== 'none';
  return [
    { says: `another module: ${modules} → ${modules + 1}`, change: { battery: { modules: modules + 1 } } },
    { says: `twice the modules: ${modules} → ${2 * modules}`, change: { battery: { modules: 2 * modules } } },
    { says: 'half as many panels again', change: { arraysScale: { all: 1.5 } } },
    ...(hasGrid
      ? [
          {
            says: `keep more for storms: reserve ${decimal(100 * reserve, 0)} % → 40 %`,
            change: { battery: { reserve: 0.4 } },
          },
          {
            says: `charge at night${dark ? ` from ${nameOf(dark[0]!)} to ${nameOf(dark.at(-1)!)}` : ''}, to 80 %`,
            change: {
              chargeWindows: [
                { start: '00:00', end: '05:00', toSoc: 0.8, ...(dark && { months: [...dark] }) },
              ],
            },
          },
        ]
      : []),
    { says: 'a car, 8 kWh a night at 7 kW', change: { addLoads: [CAR] } },
    { says: 'a load of 2 kW on the surplus', change: { surplusLoad: { kW: 2, aboveSoc: 0.95 } } },
    { says: 'an idle draw of 20 W', change: { idleW: 20 } },
    { says: 'no battery', change: { noBattery: true } },
    ...(hasGrid ? [{ says: 'no solar', change: { noSolar: true } }] : []),
  ];
}

function nameOf(month: number): string {
  return MONTH_NAMES[month - 1]!;
}
