import type { System } from '@long-tally/core';
import { counted, decimal } from '../../ui/format.js';

type Configuration = NonNullable<System['configurations']>[number];

const kW = (value: number) => `${shortest(value)} kW`;
const percent = (share: number) => `${shortest(100 * share)} %`;
const joined = (parts: readonly (string | false | undefined)[]) =>
  parts.filter((part) => part !== false && part !== undefined).join(', ');

/** A number as it was typed: with no decimals that say nothing. */
function shortest(value: number): string {
  const digits = [0, 1, 2, 3].find((count) => Math.abs(value - Number(value.toFixed(count))) < 1e-9) ?? 3;
  return decimal(value, digits);
}

/** A configuration in words, part by part, as a claim or a service sheet states it; a part that is not described says so. */
export function described({
  battery,
  inverter,
  arrays,
  coupling,
  grid,
  exportLimitKW,
  warranty,
  warrantyOffGrid,
}: Configuration): readonly string[] {
  return [
    sentence('Battery', battery && batteryText(battery)),
    sentence(
      'Inverter',
      joined([inverter && inverterText(inverter), coupling && `${coupling.toUpperCase()}-coupled`]),
    ),
    sentence('Panels', arrays?.map(arrayText).join('; ')),
    ...(grid === 'none' ? ['No grid.'] : []),
    ...(exportLimitKW === undefined ? [] : [`Export limit: ${kW(exportLimitKW)}.`]),
    ...(warranty ? [sentence('Warranty', warrantyText(warranty))] : []),
    ...(warrantyOffGrid ? [sentence('Warranty without a grid', warrantyText(warrantyOffGrid))] : []),
  ];
}

function sentence(name: string, text: string | undefined): string {
  return `${name}: ${text || 'not described'}.`;
}

function batteryText(battery: NonNullable<Configuration['battery']>): string {
  const { modules, moduleKWh, usableShare, chemistry, maxChargeKW, maxDischargeKW, reserve, cutOff } =
    battery;
  return joined([
    modules !== undefined && counted(modules, 'module'),
    moduleKWh !== undefined && `${shortest(moduleKWh)} kWh nameplate each`,
    usableShare !== undefined && `${percent(usableShare)} of it usable`,
    chemistry,
    maxChargeKW !== undefined && `charges at up to ${kW(maxChargeKW)}`,
    maxDischargeKW !== undefined && `discharges at up to ${kW(maxDischargeKW)}`,
    reserve !== undefined && `reserve ${percent(reserve)}`,
    cutOff !== undefined && `cut-off at ${percent(cutOff)}`,
  ]);
}

function inverterText(inverter: NonNullable<Configuration['inverter']>): string {
  const { units, continuousKW, batteryOnlyKW, surgeKW, legs, perLegKW, lowChargeKW, lowCharge, statedIdleW } =
    inverter;
  return joined([
    units !== undefined && counted(units, 'unit'),
    continuousKW !== undefined && `${kW(continuousKW)} continuous`,
    batteryOnlyKW !== undefined && `${kW(batteryOnlyKW)} on the battery alone`,
    surgeKW !== undefined && `${kW(surgeKW)} surge`,
    legs !== undefined && counted(legs, 'leg'),
    typeof perLegKW === 'number' && `${kW(perLegKW)} per leg`,
    lowChargeKW !== undefined &&
      `${kW(lowChargeKW)} at low charge${lowCharge === undefined ? '' : `, below ${percent(lowCharge)}`}`,
    statedIdleW !== undefined && `idle draw stated as ${shortest(statedIdleW)} W`,
  ]);
}

function arrayText({
  name,
  kWp,
  tilt,
  azimuth,
  inverterKW,
}: NonNullable<Configuration['arrays']>[number]): string {
  return joined([
    `${name === undefined ? '' : `${name} `}${shortest(kWp)} kWp`,
    tilt !== undefined && `tilt ${shortest(tilt)}°`,
    azimuth !== undefined && `azimuth ${shortest(azimuth)}°`,
    inverterKW !== undefined && `inverter of its own ${kW(inverterKW)}`,
  ]);
}

function warrantyText(warranty: NonNullable<Configuration['warranty']>): string {
  const { years, throughputKWh, cycles, cycleDepth, capacityKWh, endCapacity } = warranty;
  return joined([
    years !== undefined && counted(years, 'year'),
    throughputKWh !== undefined && `${shortest(throughputKWh)} kWh of throughput`,
    cycles !== undefined &&
      `${counted(cycles, 'cycle')}${cycleDepth === undefined ? '' : ` of ${percent(cycleDepth)} depth`}`,
    capacityKWh !== undefined && `counted on ${shortest(capacityKWh)} kWh`,
    endCapacity !== undefined && `at least ${percent(endCapacity)} of the capacity at the end`,
  ]);
}
