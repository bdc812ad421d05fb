import type { Flow } from '../../model/quantity.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import type { Metered } from './uncertainty.js';

/** What a figure may need of a log, in words and as the column that supplies it. */
const NEEDED = {
  solar: ['solar power', 'solar_w'],
  load: ['load', 'load_w'],
  grid: ['grid power', 'grid_w'],
  battery: ['battery power', 'battery_w or battery_dc_w'],
  soc: ['state of charge', 'soc_pct'],
} as const satisfies Readonly<Record<Metered | 'soc', readonly [what: string, column: string]>>;

const FLOWS_OF: Readonly<Record<Metered, readonly Flow[]>> = {
  solar: ['solar'],
  load: ['load'],
  grid: ['import', 'export'],
  battery: ['charge', 'discharge'],
};

/**
 * Why a figure that needs the course of these is not measured, and what would supply it; null where the log has all of
 * them. What is known as totals is not told to be missing.
 */
export function lackOf(data: RangeData, needed: readonly (Metered | 'soc')[]): string | null {
  const isNoted = data.log.channels.get('soc')?.isNoted === true;
  const missing = needed.filter((one) =>
    one === 'soc' ? !data.log.channels.has('soc') || isNoted : !channelOf(data, one),
  );
  if (missing.length === 0) return null;
  const totals = missing.filter((one) => one !== 'soc' && isTotal(data, one));
  const none = missing.filter((one) => !totals.includes(one) && !(one === 'soc' && isNoted));
  const list = (words: readonly string[], next: string, last: string) =>
    [words.slice(0, -1).join(next), words.at(-1)].filter(Boolean).join(last);
  const sentences = [
    ...(none.length > 0
      ? [
          `The log has no ${list(
            none.map((one) => NEEDED[one][0]),
            ', no ',
            ' and no ',
          )}; ${none.length === 1 ? 'a column' : 'columns'} ${list(
            none.map((one) => NEEDED[one][1]),
            ', ',
            ' and ',
          )} would supply ${none.length === 1 ? 'it' : 'them'}.`,
        ]
      : []),
    ...(isNoted && missing.includes('soc')
      ? [
          'The state of charge is noted now and then only; this needs its course, which a column soc_pct of a log would supply.',
        ]
      : []),
    ...(totals.length > 0
      ? [
          `${capital(
            list(
              totals.map((one) => (one === 'grid' ? 'import and export' : one)),
              ', ',
              ' and ',
            ),
          )} ${totals.length === 1 && totals[0] !== 'grid' ? 'is' : 'are'} known as totals only; this needs the course within the day, which a log of powers would supply.`,
        ]
      : []),
  ];
  return sentences.join(' ');
}

function isTotal({ lumps }: RangeData, quantity: Metered): boolean {
  return lumps.some(({ flow }) => FLOWS_OF[quantity].includes(flow));
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** True where none of the home's flows has a course: the log is one of totals. */
export function isOfTotals(data: RangeData): boolean {
  return (
    data.lumps.length > 0 &&
    (['solar', 'load', 'grid', 'battery'] as const).every((one) => {
      const origin = channelOf(data, one)?.origin;
      return origin === undefined || origin === 'known';
    })
  );
}
