import { stepText } from '../../model/hoursText.js';
import { lackOf } from '../shared/lacking.js';
import { insufficient, notMeasured, type Figure, type Method, type WorkingLine } from '../../model/figure.js';
import type { BusColumns } from '../../passes/busColumns.js';
import { halfDigit, hiddenByDigit } from '../shared/uncertainty.js';
import { channelOf, coverageOf, gradeOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import { BIN_W, scanPeaks, topPeaks, type Limit, type Peak, type Scan } from './peakScan.js';
import type { Finding } from '../../model/finding.js';
import { configurationAt } from '../../system/configuration.js';
import { faultRuns, faultsOf, type Fault } from './faultRuns.js';
import { outputStops, type OutputStop } from './outputStops.js';
import { transfersOf, type Transfer } from './overloadTransfers.js';
import { provenLoads, type ProvenLoad } from './provenLoads.js';
import { faultFinding, stopFigures, stopFindings } from './stopFigures.js';

const PRACTICE = 'Common practice, no published source.';
export const P999: Method = {
  id: 'peak.load-p999',
  formula: 'load that 99.9 % of the time known stays below',
  source: PRACTICE,
};
export const LEG: Method = {
  id: 'peak.leg-load',
  formula: 'highest mean power of one leg',
  source: PRACTICE,
};
export const IMBALANCE: Method = {
  id: 'peak.leg-imbalance',
  formula: 'Σ largest deviation of a leg from the mean of the legs ÷ Σ that mean',
  source: 'After the unbalance of NEMA MG 1, largest deviation ÷ mean, here of powers (from memory).',
};
export const ABOVE = (limit: Limit): Method => ({
  id: `peak.above-${limit}`,
  formula: `time with ${limit === 'leg' ? 'a leg' : 'the load'} above ${LIMITS[limit].name}`,
  source: PRACTICE,
});
export const TRANSFERS: Method = {
  id: 'peak.transfers',
  formula: 'times at which a jump of the load stopped a battery that was not empty, and the grid took over',
  source: PRACTICE,
};
/** A motor takes several times its running power when it starts. */
export const START_RATIO = [3, 7] as const;

const LIMITS: Readonly<Record<Limit, { readonly key: string; readonly name: string }>> = {
  continuous: { key: 'peak.hoursAbove.continuous', name: 'the inverter’s continuous rating' },
  battery: { key: 'peak.hoursAbove.batteryOnly', name: 'the inverter’s battery-only rating' },
  leg: { key: 'peak.hoursAbove.leg', name: 'what a leg may carry' },
};

/** What the Outages view tells of peaks and legs. */
export interface PeakLoads {
  readonly figures: Readonly<Record<string, Figure>>;
  /** The highest loads, one a day, the highest first. */
  readonly peaks: readonly Peak[];
  readonly transfers: readonly Transfer[];
  readonly stops: readonly OutputStop[];
  /** What the equipment reported, the most frequent first. */
  readonly faults: readonly Fault[];
  /** Of the configuration at the end of the range. */
  readonly proven: readonly ProvenLoad[];
  readonly findings: readonly Finding[];
  readonly stepMs: number;
}

/** Peaks, legs and transfers of a range, in one pass through its samples. */
export function peakLoads(data: RangeData, columns: BusColumns): PeakLoads {
  const { log, range } = data;
  const load = channelOf(data, 'load')?.values;
  const legs = (['leg1', 'leg2', 'leg3'] as const).flatMap((leg) => log.channels.get(leg)?.values ?? []);
  const scan = scanPeaks(data, load ?? null, legs);
  const transfers = transfersOf(log, columns, data.configurations, range);
  const stops = outputStops(log, columns, data.configurations, range);
  const faults = faultsOf(faultRuns(log, range));
  const configuration = configurationAt(data.configurations, range.toMs - 1);
  const proven = provenLoads(log, columns, configuration, range, stops, transfers);
  const overLeg = hoursAbove(data, scan, 'leg');
  return {
    figures: {
      ...stopFigures(data, stops, proven, scan.legCells > 0 ? scan.legTop : NaN),
      'peak.load.p999': p999(data, scan),
      'peak.leg.load': legLoad(data, scan, legs.length),
      'peak.leg.imbalance': imbalance(data, scan, legs.length),
      ...Object.fromEntries(
        (['continuous', 'battery', 'leg'] as const).map((limit) => [
          LIMITS[limit].key,
          hoursAbove(data, scan, limit),
        ]),
      ),
      'peak.transfers': transferCount(data, transfers),
    },
    peaks: topPeaks(data, scan, load, legs),
    transfers,
    stops,
    faults,
    proven,
    findings: [...stopFindings(data, stops, transfers, overLeg), ...faultFinding(data, faults)],
    stepMs: log.stepMs,
  };
}

const NO_LOAD = 'The load is missing throughout this range.';
const NO_LEGS = 'The log has no legs; columns leg1_w and leg2_w would supply them.';

/** What a mean over the log's step hides of a motor's start. */
export function hiddenStarts(stepMs: number): string {
  return `Means over ${stepText(stepMs)} hide motor starts, which take ${START_RATIO[0]} to ${START_RATIO[1]} times the running power for a moment (common practice).`;
}

function evidenceOf(data: RangeData, cells: number) {
  return {
    basis: {
      coverage: coverageOf(data, (cells * data.log.stepMs) / 1000),
      stepSeconds: data.log.stepMs / 1000,
    },
    assumptions: [hiddenStarts(data.log.stepMs)],
  };
}

function p999(data: RangeData, { bins, known }: Scan): Figure {
  if (known === 0) return notMeasured('kW', P999, lackOf(data, ['load']) ?? NO_LOAD);
  let [bin, below] = [0, 0];
  while (below + bins[bin]! < 0.999 * known) below += bins[bin++]!;
  const watts = (bin + 0.5) * BIN_W;
  const hidden = hiddenByDigit(data, 'load', watts);
  if (hidden) return insufficient('kW', P999, hidden);
  const half =
    data.accuracy.load * watts + data.accuracy.offsetW + BIN_W / 2 + halfDigit(channelOf(data, 'load'));
  return kilowatts(data, P999, watts, half, known, [
    { label: 'intervals', value: known, unit: 'count', role: 'input' },
  ]);
}

function kilowatts(
  data: RangeData,
  method: Method,
  watts: number,
  half: number,
  cells: number,
  lines: readonly WorkingLine[] = [],
): Figure {
  return gradeOf(data, 'load')(
    { value: watts / 1000, low: Math.max(0, watts - half) / 1000, high: (watts + half) / 1000 },
    {
      unit: 'kW',
      method,
      ...evidenceOf(data, cells),
      working: [
        ...lines,
        { label: 'power', value: watts / 1000, unit: 'kW', role: 'result' },
        { label: 'meter, and bin', value: half / 1000, unit: 'kW', role: 'uncertainty' },
      ],
    },
  );
}

function legLoad(data: RangeData, { legTop, legCells }: Scan, legs: number): Figure {
  if (legs === 0) return notMeasured('kW', LEG, NO_LEGS);
  if (legCells === 0) return insufficient('kW', LEG, 'The legs are missing throughout this range.');
  return kilowatts(data, LEG, legTop, data.accuracy.load * legTop + data.accuracy.offsetW, legCells);
}

function imbalance(data: RangeData, { deviation, mean, legCells }: Scan, legs: number): Figure {
  if (legs < 2) return notMeasured('share', IMBALANCE, NO_LEGS);
  if (!(mean > 0))
    return insufficient('share', IMBALANCE, 'The legs carry nothing, or are missing, throughout this range.');
  const value = deviation / mean;
  // Two clamps that err apart show an imbalance of their own.
  const half = Math.SQRT2 * data.accuracy.load;
  return gradeOf(data, 'load')(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'share',
      method: IMBALANCE,
      ...evidenceOf(data, legCells),
      working: [
        { label: 'mean largest deviation', value: deviation / legCells, unit: 'W', role: 'input' },
        { label: '÷ mean power of a leg', value: mean / legCells, unit: 'W', role: 'input' },
        { label: 'imbalance', value, unit: 'share', role: 'result' },
        { label: 'clamps that err apart', value: half, unit: 'share', role: 'uncertainty' },
      ],
    },
  );
}

function hoursAbove(data: RangeData, scan: Scan, limit: Limit): Figure {
  const method = ABOVE(limit);
  const cells = limit === 'leg' ? scan.legCells : scan.known;
  if (cells === 0)
    return notMeasured('h', method, limit === 'leg' ? NO_LEGS : (lackOf(data, ['load']) ?? NO_LOAD));
  if (!scan.has[limit])
    return notMeasured(
      'h',
      method,
      `There is no limit to hold it against: ${LIMITS[limit].name} is not described in the system.`,
    );
  const hours = (count: number) => hoursOf((count * data.log.stepMs) / 1000);
  return gradeOf(data, 'load')(
    { value: hours(scan.above[limit]), low: hours(scan.surely[limit]), high: hours(scan.maybe[limit]) },
    {
      unit: 'h',
      method,
      ...evidenceOf(data, cells),
      working: [
        { label: 'intervals above it', value: scan.above[limit], unit: 'count', role: 'input' },
        { label: 'time above it', value: hours(scan.above[limit]), unit: 'h', role: 'result' },
        {
          label: 'what the meter’s accuracy may move across it',
          value: hours(scan.maybe[limit] - scan.surely[limit]) / 2,
          unit: 'h',
          role: 'uncertainty',
        },
      ],
    },
  );
}

function transferCount(data: RangeData, transfers: readonly Transfer[]): Figure {
  const lack = lackOf(data, ['load', 'grid', 'battery', 'soc']);
  if (lack) return notMeasured('count', TRANSFERS, lack);
  const canTell = data.parts.some(
    ({ configuration: { hasGrid, limits } }) =>
      hasGrid && (limits.islandW !== null || limits.perLegW !== null),
  );
  if (!canTell)
    return notMeasured(
      'count',
      TRANSFERS,
      'No inverter with a limit and a grid beside it is described in this range.',
    );
  const value = transfers.length;
  const unexplained = transfers.filter(({ cause }) => cause === 'jump').length;
  return gradeOf(data, 'load')(
    { value, low: value - unexplained, high: value },
    {
      unit: 'count',
      method: TRANSFERS,
      ...evidenceOf(data, data.total.loadS / (data.log.stepMs / 1000)),
      working: [
        {
          label: 'of a leg above its limit',
          value: transfers.filter(({ cause }) => cause === 'leg').length,
          unit: 'count',
          role: 'input',
        },
        {
          label: 'while the sun charged',
          value: transfers.filter(({ wasCharging }) => wasCharging).length,
          unit: 'count',
          role: 'input',
        },
        { label: 'transfers', value, unit: 'count', role: 'result' },
        { label: 'with a jump of the load alone', value: unexplained, unit: 'count', role: 'uncertainty' },
      ],
    },
  );
}
