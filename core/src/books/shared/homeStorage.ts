import { capacityAssessment, type CapacityAssessment } from './capacityAssessment.js';
import { estimated, insufficient, type Figure, type Method, type WorkingLine } from '../../model/figure.js';
import { isTold, tareLines } from './tareLine.js';
import { toldApart } from './idleDraw.js';
import { configurationAt, type Configuration } from '../../system/configuration.js';
import type { RangeData } from '../../passes/rangeData.js';
import { islandChange } from '../../storage/step.js';
import type { StorageParameters } from '../../storage/parameters.js';

/** Taken where nothing of the home tells: a battery with its converter. */
const USUAL = { idleW: 30, oneWay: 0.95, roundTrip: 0.9 } as const;
/** Where batteries usually stop; the half of what is allowed for. */
const USUAL_CUT_OFF = 0.05;
/** A charge this close to the reserve is the reserve. */
const SAME_SOC = 0.005;
/** Days before the end of the range whose load is taken for the usual one. */
const USUAL_DAYS = 28;

const DAY_MS = 86_400_000;

const NO_CHARGE =
  'Neither load nor state of charge is known at the end of this range; columns load_w and soc_pct would supply them.';
export const RUNTIME: Method = {
  id: 'outage.runtime',
  formula: '(SOC − cut-off) × capacity ÷ (load + idle draw)',
  source: 'Common practice, no published source.',
};

/** What a home runs on, and how sure that is. */
export interface HomeStorage {
  readonly parameters: StorageParameters;
  readonly fullWh: number;
  readonly cutOff: number;
  /** Half-width of the capacity as a share. */
  readonly capacityOff: number;
  /** Half-width of the charge above the cut-off, in shares of full: what the monitor and the cut-off may be off. */
  readonly socOff: number;
  /** What of the idle draw the inverter takes on the DC side, W there; 0 where it is not told apart. */
  readonly inverterIdleW: number;
  /** Highest power of one leg, W; null where it is not described. */
  readonly perLegW: number | null;
  readonly assumptions: readonly string[];
  readonly working: readonly WorkingLine[];
}

/** The store of a home at the end of a range, by the losses and the capacity that were measured; null without a described battery. */
export function homeStorage(data: RangeData): HomeStorage | null {
  const configuration = configurationAt(data.configurations, data.range.toMs - 1);
  const { usableWh, described, nameplateWh, limits } = configuration;
  if (usableWh === null) return null;
  const assessment = capacityAssessment(data);
  const fit = toldApart(data).at(-1)?.fit;
  const lines = data.batterySide === 'dc' ? tareLines(data) : [];
  const tare = lines.find((line) => line.configuration === configuration && isTold(line)) ?? null;
  const oneWay = data.batterySide === 'dc' ? (tare ? 1 / tare.fit.second : USUAL.oneWay) : 1;
  const level = assessment?.trend.level;
  const fullWh = level ? level.value * oneWay : usableWh * USUAL.oneWay;
  const trial = data.trials.findLast(
    ({ idle, fromMs }) => idle !== null && configurationAt(data.configurations, fromMs) === configuration,
  );
  const own = fit ? fit.first / (1 + fit.second) : USUAL.idleW;
  const inverterW =
    data.batterySide === 'dc' ? (tare ? tare.fit.first : (described?.inverter?.statedIdleW ?? 0)) : 0;
  // A trial reads all of it at once, at the battery.
  const idleW = (fit || !trial ? own + inverterW : trial.idle!.watts) * oneWay;
  const { cutOff, cutOffOff, says } = cutOffOf(configuration, assessment);
  const weakSoc = limits.lowChargeW === null ? 0 : limits.lowCharge;
  return {
    fullWh,
    cutOff,
    capacityOff: level ? Math.max(assessment.systematic, (level.high - level.low) / 2 / level.value) : 0.1,
    socOff: Math.hypot(data.accuracy.soc, cutOffOff),
    parameters: {
      capacityWh: fullWh * (1 - cutOff),
      idleW,
      chargeEfficiency: fit ? 1 / (1 + fit.second) : USUAL.roundTrip,
      dischargeEfficiency: 1,
      chargeW: configuration.maxChargeW ?? (nameplateWh ?? usableWh) / 2,
      limitW: limits.islandW ?? Infinity,
      weakBelowWh: Math.max(0, weakSoc - cutOff) * fullWh,
      weakW: limits.lowChargeW ?? Infinity,
    },
    inverterIdleW: fit || !trial ? inverterW : 0,
    perLegW: limits.perLegW,
    working: [
      { label: 'from full to empty, on the home’s side', value: fullWh / 1000, unit: 'kWh', role: 'input' },
      { label: 'cut-off', value: cutOff, unit: 'share', role: 'input' },
      { label: 'idle draw', value: idleW, unit: 'W', role: 'input' },
    ],
    assumptions: [
      ...(says === null ? [] : [says]),
      ...(level
        ? []
        : ['Capacity as described, less 5 % for conversion: no discharge of this range measures it.']),
      ...(fit
        ? []
        : [
            trial
              ? `Idle draw as read in the trial “${trial.name}”; conversion as usual.`
              : `Idle draw (${USUAL.idleW} W) and conversion as usual: the windows of this range do not tell them.`,
          ]),
      ...(limits.islandW === null
        ? ['The inverter’s limit on battery is not described, so no load is too high.']
        : []),
      ...(limits.lowChargeW === null
        ? ['Many inverters give less below about 10 % of charge; what this one gives then is not described.']
        : []),
      'With the battery as it is at the end of the range, whichever there was before.',
      'The log’s step hides motor starts; a start above the inverter’s limit ends a run that is counted here as lasting.',
    ],
  };
}

/**
 * The charge at which a battery has no more to give: as described, else where the log shows that it stops below what is
 * kept for outages, else where it usually lies.
 */
function cutOffOf(
  { cutOff, reserve }: Configuration,
  assessment: CapacityAssessment | null,
): { readonly cutOff: number; readonly cutOffOff: number; readonly says: string | null } {
  if (cutOff !== null) return { cutOff, cutOffOff: 0, says: null };
  const seen = assessment?.cutOff?.now;
  // A battery that stops at its reserve was told to: its cut-off lies below.
  if (seen && (reserve === null || reserve === 0 || seen.high < reserve - SAME_SOC))
    return {
      cutOff: Math.max(0, seen.value),
      cutOffOff: (seen.high - seen.low) / 2,
      says: `The cut-off is not described; the battery stopped at ${Math.round(100 * seen.value)} % of its display.`,
    };
  const most = Math.min(2 * USUAL_CUT_OFF, Math.max(reserve ?? 1, 0.02));
  return {
    cutOff: most / 2,
    cutOffOff: most / 2,
    says: `The cut-off is not described and the log does not show it: anything from 0 to ${Math.round(100 * most)} % is allowed for. The reserve is kept only while there is a grid, so it is not taken for it.`,
  };
}

/** A store as a runtime needs it. */
export interface RunsOn {
  /** From full to empty, on the home's side, Wh. */
  readonly fullWh: number;
  readonly cutOff: number;
  readonly parameters: StorageParameters;
  /** Half-widths at about 95 %: of the capacity as a share, of SOC in shares of full. */
  readonly capacityOff: number;
  readonly socOff: number;
}

/**
 * Hours that a steady load lasts without sun: (SOC − cut-off) × capacity ÷ (load + idle draw).
 * @param loadOff half-width of the load as a share
 */
export function runtimeHours(
  { fullWh, cutOff, parameters, capacityOff, socOff }: RunsOn,
  soc: number,
  loadW: number,
  loadOff: number,
): { readonly value: number; readonly low: number; readonly high: number } {
  const above = Math.max(0, soc - cutOff);
  const anHourWh = -islandChange({ ...parameters, limitW: Infinity }, loadW, 0, 0, 1);
  const value = (above * fullWh) / anHourWh;
  const half = value * Math.hypot(capacityOff, loadOff, socOff / Math.max(0.05, above));
  return { value, low: Math.max(0, value - half), high: value + half };
}

/** What a runtime is reckoned from. */
export function runsOn({ fullWh, cutOff, capacityOff, socOff, parameters }: HomeStorage): RunsOn {
  return { fullWh, cutOff, parameters, capacityOff, socOff };
}

/** How long the charge at the end of a range lasts at the usual load. */
export function runtime(data: RangeData, storage: HomeStorage): Figure {
  const soc = data.total.socLast;
  const lately = data.days.filter(({ day }) => day.fromMs >= data.range.toMs - USUAL_DAYS * DAY_MS);
  const hours = lately.reduce((sum, { sums }) => sum + sums.loadS, 0) / 3600;
  const loadW = lately.reduce((sum, { sums }) => sum + sums.loadWh, 0) / hours;
  if (!(loadW > 0) || Number.isNaN(soc)) return insufficient('h', RUNTIME, NO_CHARGE);
  const { value, low, high } = runtimeHours(runsOn(storage), soc, loadW, data.accuracy.load);
  return estimated(
    { value, low, high },
    {
      unit: 'h',
      method: RUNTIME,
      basis: { loadW, soc },
      working: [
        { label: 'state of charge at the end of the range', value: soc, unit: 'share', role: 'input' },
        ...storage.working,
        { label: `mean load of the last ${USUAL_DAYS} days`, value: loadW, unit: 'W', role: 'input' },
        { label: 'lasts without sun', value, unit: 'h', role: 'result' },
        { label: 'capacity, load and charge', value: (high - low) / 2, unit: 'h', role: 'uncertainty' },
      ],
      assumptions: ['One steady load and no sun.', ...storage.assumptions],
    },
  );
}
