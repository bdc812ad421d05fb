import { cellAt } from '../../model/log.js';
import { flowColumns } from '../../passes/busColumns.js';
import type { RangeData } from '../../passes/rangeData.js';
import { median } from '../../statistics/median.js';
import { configurationAt } from '../../system/configuration.js';
import type { SystemConfiguration } from '../../system/schema.js';
import { MONTHS_SHORT } from '../../time/months.js';
import { flatTop } from '../solar/limitedSun.js';
import type { ModelWindow } from './gridCharging.js';
import { loggedReserves } from './loggedReserves.js';
import type { ModelHome } from './modelHome.js';

/** Reserves and targets are set in steps like this. */
const STEP = 0.01;
/** A described reserve is held to be right within this. */
const SAME_RESERVE = 0.03;
/** So much of what was offered to a battery, or asked of it, was left, W. */
const LEFT_W = 50;

const ALL_DAY = { start: '00:00', end: '24:00' } as const;

/** Something the log shows and the system file does not say, or says otherwise: in words, and as what to put there. */
export interface Proposal {
  readonly says: string;
  readonly change: Partial<Pick<SystemConfiguration, 'battery' | 'chargeWindows' | 'exportLimitKW'>>;
}

/**
 * What would describe the configuration of a range's end better, by the log: reserve, charge windows and limits.
 * @param home as the model has it: with the windows that the log shows where none are described
 */
export function betterDescription(data: RangeData, { windows }: ModelHome): Proposal[] {
  const configuration = configurationAt(data.configurations, data.range.toMs - 1);
  if (!configuration.hasGrid || !configuration.described) return [];
  return [
    ...reserveProposal(data, configuration.described, configuration.reserve),
    ...(configuration.described.chargeWindows ? [] : windowsProposal(windows)),
    ...limitProposals(data, configuration.described),
  ];
}

function reserveProposal(
  data: RangeData,
  described: SystemConfiguration,
  reserve: number | null,
): Proposal[] {
  if (described.battery?.reserveWindows) return [];
  const months = loggedReserves(data).map((one) => one && rounded(one));
  const known = months.filter((one) => one !== null);
  if (known.length === 0) return [];
  const least = Math.min(...known);
  const others = [...new Set(known)].filter((one) => one > least + SAME_RESERVE);
  const isSame = reserve !== null && Math.abs(least - reserve) <= SAME_RESERVE;
  if (isSame && others.length === 0) return [];
  const own = isSame ? reserve : least;
  const windows = others.map((one) => ({
    ...ALL_DAY,
    reserve: one,
    months: months.flatMap((value, month) => (value === one ? [month + 1] : [])),
  }));
  const words = windows.map(({ reserve: one, months: list }) => `${percent(one)} in ${monthsText(list)}`);
  return [
    {
      says: `The battery stops serving the home at ${[percent(own), ...words].join(', ')}${reserve === null ? '; no reserve is described' : `; a reserve of ${percent(reserve)} is described`}.`,
      change: {
        battery: {
          ...described.battery,
          reserve: own,
          ...(windows.length > 0 ? { reserveWindows: windows } : {}),
        },
      },
    },
  ];
}

/** Windows that a log keeps to, months with the same hours and nearly the same target together. */
function windowsProposal(windows: readonly ModelWindow[]): Proposal[] {
  const groups = new Map<string, ModelWindow[]>();
  for (const one of windows) {
    const key = `${one.start} ${one.end}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  if (groups.size === 0) return [];
  const chargeWindows = [...groups.values()].map((list) => ({
    start: list[0]!.start,
    end: list[0]!.end,
    toSoc: rounded(median(Float64Array.from(list, ({ toSoc }) => toSoc))),
    months: list.flatMap(({ months }) => months!).sort((a, b) => a - b),
  }));
  const words = chargeWindows.map(
    ({ start, end, toSoc, months }) =>
      `from ${start} to ${end} up to ${percent(toSoc)} in ${monthsText(months)}`,
  );
  return [
    {
      says: `The battery is charged from the grid ${words.join(', ')}; no charge window is described.`,
      change: { chargeWindows },
    },
  ];
}

/** Powers at which export, charge or discharge lie flat, where no limit of them is described. */
function limitProposals({ log, range }: RangeData, described: SystemConfiguration): Proposal[] {
  const part = (values: Float64Array | null) =>
    values?.subarray(cellAt(log, range.fromMs), cellAt(log, range.toMs)) ?? new Float64Array(0);
  const { grid, battery } = flowColumns(log);
  const [gridW, batteryW] = [part(grid), part(battery)];
  const topKW = (values: Float64Array) => {
    const watts = flatTop(values, 0, values.length);
    return watts === null ? null : Math.round(watts / 100) / 10;
  };
  const { battery: known = {} } = described;
  const proposal = (
    isKnown: boolean,
    values: Float64Array,
    what: string,
    limit: string,
    change: (kW: number) => Proposal['change'],
  ): Proposal[] => {
    const kW = isKnown ? null : topKW(values);
    return kW === null
      ? []
      : [
          {
            says: `The ${what} lies flat at ${kW} kW; no limit of ${limit} is described.`,
            change: change(kW),
          },
        ];
  };
  // What is taken of an offer is a limit only where some of the offer was left: sun that is sold, load that is bought.
  const charged = batteryW.map((watts, i) => (gridW[i]! < -LEFT_W ? -watts : NaN));
  const discharged = batteryW.map((watts, i) => (gridW[i]! > LEFT_W ? watts : NaN));
  const sold = gridW.map((watts) => -watts);
  return [
    ...proposal(described.exportLimitKW !== undefined, sold, 'export', 'export', (exportLimitKW) => ({
      exportLimitKW,
    })),
    ...proposal(known.maxChargeKW !== undefined, charged, 'charge', 'charging', (maxChargeKW) => ({
      battery: { ...known, maxChargeKW },
    })),
    ...proposal(
      known.maxDischargeKW !== undefined || described.inverter?.batteryOnlyKW !== undefined,
      discharged,
      'discharge',
      'discharging',
      (maxDischargeKW) => ({ battery: { ...known, maxDischargeKW } }),
    ),
  ];
}

function rounded(share: number): number {
  return Math.round(share / STEP) / Math.round(1 / STEP);
}

function percent(share: number): string {
  return `${Math.round(100 * share)} %`;
}

function monthsText(months: readonly number[]): string {
  return months.length === 12 ? 'all months' : months.map((month) => MONTHS_SHORT[month - 1]!).join(', ');
}
