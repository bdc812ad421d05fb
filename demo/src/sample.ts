import {
  readFile,
  prepare,
  report,
  rollOf,
  rangeOfDates,
  stripsOf,
  STRIP_SLOTS,
  sunTimes,
  type System,
} from '@long-tally/core';

/** What the first page shows of a demo home: some days of its roll, and figures of a year with their workings. */
const [FIRST_DAY, DAYS] = ['2024-05-16', 9] as const;
const YEAR = ['2024-01-01', '2024-12-31'] as const;
const FIGURES = [
  'account.selfSufficiency.supply',
  'losses.roundTrip.fullToFull',
  'wear.efc.nameplate',
] as const;

/**
 * A piece of a home's roll and three of its figures, by the same computation as everywhere.
 * @param bytes of its log
 */
export async function sampleOf(system: System, name: string, bytes: Uint8Array): Promise<object> {
  const read = await readFile(
    name,
    // eslint-disable-next-line @typescript-eslint/require-await
    async function* () {
      yield bytes;
    },
    system,
  );
  const prepared = prepare(
    system,
    read.map(({ log }) => log),
  );
  const all = rollOf(prepared);
  const first = all.findIndex(({ date }) => date === FIRST_DAY);
  const days = all.slice(first, first + DAYS);
  const strips = stripsOf(prepared.log, prepared.columns);
  const part = (values: Float32Array | Uint8Array) =>
    Array.from(values.subarray(first * STRIP_SLOTS, (first + DAYS) * STRIP_SLOTS), (value) =>
      Number.isNaN(value) ? null : Number(value.toFixed(3)),
    );
  const { figures } = report(prepared, rangeOfDates(prepared.log, ...YEAR)!);
  return {
    home: system.name,
    timeZone: system.timeZone,
    year: YEAR[0].slice(0, 4),
    days,
    strips: { soc: part(strips.soc), marks: part(strips.marks) },
    sun: Array.from(sunTimes(days, system), (value) => Number(value.toFixed(4))),
    figures: FIGURES.map((key) => {
      const { value, low, high, unit, status, working } = figures[key]!;
      return { key, value, low, high, unit, status, working };
    }),
  };
}
