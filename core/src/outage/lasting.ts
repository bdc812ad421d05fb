import { estimated, insufficient, notMeasured, type Figure, type Method } from '../figure.js';
import { cellAt } from '../series/log.js';
import { kaplanMeier, survivalAt, survivalQuantile, type Surviving } from '../statistics/kaplanMeier.js';
import { quantile } from '../statistics/quantile.js';
import { offsetAt, zoneOf } from '../time/zone.js';
import { channelOf, type View } from '../view.js';
import { needFor, replay, type Demand, type Lasting } from './replay.js';
import { runsOn, RUNTIME, runtime, supplyOf, type RunsOn, type Supply } from './supply.js';

const HOUR_MS = 3_600_000;
export const HORIZON_H = 14 * 24;
const RESERVE_H = 12;
const RESERVE_CHANCE = 0.9;
const PRACTICE = 'Common practice, no published source.';
const REPLAY = (share: number): Method => ({
  id: `outage.replay-p${Math.round(100 * share)}`,
  formula: `of all full hours as possible starts ${Math.round(100 * share)} % last no longer, measured load and sun carried on`,
  source: 'Runs that the log cuts off are censored: E. L. Kaplan, P. Meier, JASA 53 (1958).',
});
const SURVIVE = (hours: number): Method => ({
  id: `outage.survive-${hours}h`,
  formula: `share of possible starts that last ${hours} h and more`,
  source: 'E. L. Kaplan, P. Meier, JASA 53 (1958).',
});
const RESERVE: Method = {
  id: 'outage.reserve',
  formula: `least SOC from which ${100 * RESERVE_CHANCE} % of all full hours last ${RESERVE_H} h`,
  source: PRACTICE,
};

interface Replayed {
  readonly supply: Supply;
  readonly demand: Demand;
  readonly charge: Float64Array;
  readonly startMs: number;
  readonly runs: readonly (Lasting | null)[];
  readonly curve: readonly Surviving[];
}

/** What keeps a replay from being made, or the cells it is made from. */
function startsOf(
  view: View,
):
  | { readonly reason: string }
  | { readonly demand: Demand; readonly soc: Float64Array; readonly startMs: number } {
  const { log, range } = view;
  const load = channelOf(view, 'load')?.values;
  const soc = log.channels.get('soc')?.values;
  const lacks = [...(load ? [] : ['load']), ...(soc ? [] : ['state of charge'])];
  if (!load || !soc)
    return { reason: `The log has no ${lacks.join(' and no ')}; a column of it would supply this.` };
  if (HOUR_MS % log.stepMs !== 0 || log.startMs % log.stepMs !== 0)
    return {
      reason: 'The step of the log does not fit into an hour; steps of 1, 5, 10, 15, 30 or 60 min do.',
    };
  const from = cellAt(log, Math.ceil(range.fromMs / HOUR_MS) * HOUR_MS);
  const to = cellAt(log, range.toMs);
  const solar = channelOf(view, 'solar')?.values;
  return {
    startMs: log.startMs + from * log.stepMs,
    soc: soc.subarray(from, to),
    demand: {
      load: load.subarray(from, to),
      solar: solar ? solar.subarray(from, to) : new Float64Array(to - from),
      stepMs: log.stepMs,
    },
  };
}

/** The replay of a range under a load that is off by a factor and a store by another. */
function replayed(
  { demand, soc, startMs }: { readonly demand: Demand; readonly soc: Float64Array; readonly startMs: number },
  supply: Supply,
  loadFactor: number,
  capacityFactor: number,
): Replayed {
  const cells = Math.round(HOUR_MS / demand.stepMs);
  const fullWh = supply.fullWh * capacityFactor;
  const store = { ...supply.store, capacityWh: supply.store.capacityWh * capacityFactor };
  const own: Demand =
    loadFactor === 1
      ? demand
      : { ...demand, load: Float64Array.from(demand.load, (watts) => watts * loadFactor) };
  const charge = Float64Array.from({ length: Math.floor(soc.length / cells) }, (_, hour) =>
    Math.max(0, (soc[hour * cells]! - supply.cutOff) * fullWh),
  );
  const runs = replay(own, store, charge, HORIZON_H);
  return { supply, demand: own, charge, startMs, runs, curve: kaplanMeier(runs.flatMap((run) => run ?? [])) };
}

/** How long the home would last without the grid. */
export interface LastingCourse {
  readonly figures: Readonly<Record<string, Figure>>;
  /** What a runtime is reckoned from; null where it is not known. */
  readonly runsOn: RunsOn | null;
  /** Share of starts that last longer, by hours; empty where there is no replay. */
  readonly curve: readonly Surviving[];
  /** Median hours by month of the year (rows, January first) and starting hour; null where no start is known. */
  readonly table: readonly (readonly (number | null)[])[];
  /** By month of the year: the least SOC that lasts 12 h in nine of ten starts; null where none is known or none lasts. */
  readonly reserves: readonly (number | null)[];
}

/** Replays every full hour of a range as the beginning of an outage. */
export function lastingCourse(view: View): LastingCourse {
  const supply = supplyOf(view);
  const starts = startsOf(view);
  const reason = supply
    ? 'reason' in starts
      ? starts.reason
      : null
    : 'The battery’s capacity is not described; the system file would supply it.';
  const methods = {
    'outage.replay.p10': ['h', REPLAY(0.1)],
    'outage.replay.p50': ['h', REPLAY(0.5)],
    'outage.replay.p90': ['h', REPLAY(0.9)],
    'outage.survive.12h': ['share', SURVIVE(12)],
    'outage.survive.24h': ['share', SURVIVE(24)],
    'outage.reserve.12h90': ['share', RESERVE],
    'outage.runtime.now': ['h', RUNTIME],
  } as const;
  if (!supply || 'reason' in starts)
    return {
      figures: Object.fromEntries(
        Object.entries(methods).map(([key, [unit, method]]) => [key, notMeasured(unit, method, reason!)]),
      ),
      runsOn: supply && runsOn(view, supply),
      curve: [],
      table: [],
      reserves: [],
    };
  const off = view.accuracy.load;
  const own = replayed(starts, supply, 1, 1);
  const [worse, better] = [
    replayed(starts, supply, 1 + off, 1 - supply.capacityOff),
    replayed(starts, supply, 1 - off, 1 + supply.capacityOff),
  ];
  const all = [own, worse, better] as const;
  const needs = needFor(own.demand, own.supply.store, RESERVE_H);
  const localHour = (hour: number) => {
    const ms = starts.startMs + hour * HOUR_MS;
    return new Date(ms + offsetAt(zoneOf(view.log.zone), ms));
  };
  return {
    figures: {
      'outage.replay.p10': lasts(all, 0.1),
      'outage.replay.p50': lasts(all, 0.5),
      'outage.replay.p90': lasts(all, 0.9),
      'outage.survive.12h': survives(all, 12),
      'outage.survive.24h': survives(all, 24),
      'outage.reserve.12h90': reserve(all),
      'outage.runtime.now': runtime(view, supply),
    },
    runsOn: runsOn(view, supply),
    curve: own.curve,
    table: medians(own.runs, localHour),
    reserves: Array.from({ length: 12 }, (_, month) =>
      socFor(
        needs.filter((_need, hour) => localHour(hour).getUTCMonth() === month),
        supply,
      ),
    ),
  };
}

type Three = readonly [own: Replayed, worse: Replayed, better: Replayed];

function basisOf({ runs }: Replayed) {
  const known = runs.flatMap((run) => run ?? []);
  return {
    starts: known.length,
    censored: known.filter(({ isCensored }) => isCensored).length,
    horizonDays: HORIZON_H / 24,
  };
}

const NO_START = 'No full hour of this range has its load and state of charge known.';
const GAINS = 'load and capacity, by what their meters may be off';

function lasts([own, worse, better]: Three, share: number): Figure {
  const method = REPLAY(share);
  if (own.runs.every((run) => run === null)) return insufficient('h', method, NO_START);
  const value = survivalQuantile(own.curve, share);
  if (value === null)
    return insufficient(
      'h',
      method,
      `More than ${Math.round(100 * (1 - share))} % of the starts last as long as the log, or the ${HORIZON_H / 24} days that are followed.`,
      basisOf(own),
    );
  const low = Math.min(value, survivalQuantile(worse.curve, share) ?? value);
  const high = Math.max(value, survivalQuantile(better.curve, share) ?? HORIZON_H);
  return estimated(
    { value, low, high },
    {
      unit: 'h',
      method,
      basis: basisOf(own),
      working: [
        ...own.supply.working,
        { label: 'lasts', value, unit: 'h', role: 'result' },
        { label: GAINS, value: (high - low) / 2, unit: 'h', role: 'uncertainty' },
      ],
      assumptions: own.supply.assumptions,
    },
  );
}

function survives([own, worse, better]: Three, hours: number): Figure {
  const method = SURVIVE(hours);
  if (own.runs.every((run) => run === null)) return insufficient('share', method, NO_START);
  const value = survivalAt(own.curve, hours);
  const [low, high] = [survivalAt(worse.curve, hours), survivalAt(better.curve, hours)];
  return estimated(
    { value, low: Math.min(value, low), high: Math.max(value, high) },
    {
      unit: 'share',
      method,
      basis: basisOf(own),
      working: [
        ...own.supply.working,
        { label: `last ${hours} h and more`, value, unit: 'share', role: 'result' },
        { label: GAINS, value: (high - low) / 2, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: own.supply.assumptions,
    },
  );
}

/** The SOC that nine of ten needs do not exceed; null where there is none, or it is more than full. */
function socFor(needs: Float64Array, { fullWh, cutOff }: Supply): number | null {
  const known = needs.filter((need) => !Number.isNaN(need)).sort();
  if (known.length === 0) return null;
  // The next one up, not between two: between a need and none that is enough lies nothing.
  const need = known[Math.min(known.length - 1, Math.ceil(RESERVE_CHANCE * known.length) - 1)]!;
  return need === Infinity ? null : cutOff + need / fullWh;
}

function reserve([own, worse, better]: Three): Figure {
  const soc = ({ demand, supply }: Replayed, factor: number) =>
    socFor(needFor(demand, { ...supply.store, capacityWh: supply.store.capacityWh * factor }, RESERVE_H), {
      ...supply,
      fullWh: supply.fullWh * factor,
    });
  const { capacityOff } = own.supply;
  const value = soc(own, 1);
  if (value === null)
    return insufficient(
      'share',
      RESERVE,
      own.runs.every((run) => run === null)
        ? NO_START
        : `From more than a tenth of the hours even a full battery does not last ${RESERVE_H} h.`,
      basisOf(own),
    );
  const low = Math.min(value, soc(better, 1 + capacityOff) ?? value);
  const high = Math.min(1, Math.max(value, soc(worse, 1 - capacityOff) ?? 1));
  return estimated(
    { value, low, high },
    {
      unit: 'share',
      method: RESERVE,
      basis: basisOf(own),
      working: [
        ...own.supply.working,
        { label: 'reserve', value, unit: 'share', role: 'result' },
        { label: GAINS, value: (high - low) / 2, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: ['With the sun that there was.', ...own.supply.assumptions],
    },
  );
}

/** Median of what the starts of each month and hour last; runs cut off count by Kaplan–Meier, null beyond what is seen. */
function medians(runs: readonly (Lasting | null)[], local: (hour: number) => Date): LastingCourse['table'] {
  const groups = Array.from({ length: 12 }, () => Array.from({ length: 24 }, (): Lasting[] => []));
  runs.forEach((run, hour) => {
    if (!run) return;
    const at = local(hour);
    groups[at.getUTCMonth()]![at.getUTCHours()]!.push(run);
  });
  return groups.map((row) =>
    row.map((own) => {
      if (own.length === 0) return null;
      const seen = survivalQuantile(kaplanMeier(own), 0.5);
      return seen ?? quantile(Float64Array.from(own, ({ hours }) => hours).sort(), 0.5);
    }),
  );
}
