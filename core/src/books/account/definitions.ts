import type { Figure } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';

/**
 * Why the three schools of self-sufficiency differ in a range, in numbers: of the distance between supply and meter so much
 * is grid energy put into the battery, so much standby trickle, so much what the meters do not agree on.
 * @returns null where one of the schools has no figure
 */
export function definitionsSentence(
  data: RangeData,
  figures: Readonly<Record<string, Figure>>,
): string | null {
  const [grid, supply, solar] = (['grid', 'supply', 'solar'] as const).map(
    (school) => figures[`account.selfSufficiency.${school}`]?.value ?? null,
  );
  const { total } = data;
  if (grid == null || supply == null || total.loadBus <= 0) return null;
  const kWh = (wh: number) => `${(wh / 1000).toFixed(1)} kWh`;
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
  const bought = total.importBus;
  const open = total.loadBus - total.solarToLoadBus - total.dischargeToLoadBus;
  const trickle = Math.min(total.trickleBus, Math.max(0, bought - total.gridChargedBus));
  const rest = bought - total.gridChargedBus - trickle - open;
  const parts = [
    `${kWh(total.gridChargedBus)} of grid energy went into the battery`,
    `${kWh(trickle)} trickled in while the home carried itself`,
    ...(Math.abs(rest) > 0.002 * total.loadBus
      ? [
          `${kWh(Math.abs(rest))} ${rest > 0 ? 'were bought that no load shows' : 'of load are shown that nobody supplied'} (meters, or a load that is not metered)`,
        ]
      : []),
  ];
  const origin =
    solar == null
      ? ''
      : ` Of solar origin it is ${percent(solar)}: ${kWh(total.dischargeToLoadOrigin - total.storedSolarToLoadOrigin)} of what the battery gave the home had come from the grid.`;
  return `By the meter ${percent(grid)}, by supply ${percent(supply)}: ${parts.join(', ')}.${origin}`;
}
