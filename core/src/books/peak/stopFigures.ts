import { timesFirst } from '../../model/counted.js';
import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Method,
} from '../../model/figure.js';
import type { Finding } from '../../model/finding.js';
import { channelOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import { isoOf } from '../../time/instant.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import { stepText } from '../../model/hoursText.js';
import { lackOf } from '../shared/lacking.js';
import type { Fault } from './faultRuns.js';
import type { OutputStop } from './outputStops.js';
import type { ProvenLoad } from './provenLoads.js';
import type { Transfer } from './overloadTransfers.js';

const PRACTICE = 'Common practice, no published source.';
export const STOPS: Method = {
  id: 'peak.stops',
  formula: 'times at which the load fell to nothing with no grid to take it over',
  source: PRACTICE,
};
export const HEADROOM_LEG: Method = {
  id: 'peak.headroom-leg',
  formula: 'limit of a leg − highest mean power of one leg',
  source: PRACTICE,
};
export const HELD: Method = {
  id: 'peak.leg-held',
  formula: 'highest mean power of one leg that the output held without the grid',
  source: PRACTICE,
};
export const TRIPPED: Method = {
  id: 'peak.leg-tripped',
  formula: 'lowest power of the most loaded leg at which the output stopped or handed over to the grid',
  source: PRACTICE,
};
const NO_LEGS = 'The log has no legs; columns leg1_w and leg2_w would supply them.';

/** Stops of the output, and what its legs were seen to hold. */
export function stopFigures(
  data: RangeData,
  stops: readonly OutputStop[],
  proven: readonly ProvenLoad[],
  highestLegW: number,
): Record<string, Figure> {
  return {
    'peak.stops': stopCount(data, stops),
    'peak.headroom.leg': legHeadroom(data, highestLegW),
    'peak.leg.held': legFigure(data, HELD, proven, 'held'),
    'peak.leg.tripped': legFigure(data, TRIPPED, proven, 'tripped'),
  };
}

function stopCount(data: RangeData, stops: readonly OutputStop[]): Figure {
  const lack = lackOf(data, ['load']);
  if (lack) return notMeasured('count', STOPS, lack);
  const known = hoursOf(data.total.loadS);
  if (known === 0) return insufficient('count', STOPS, 'The load is missing throughout this range.');
  const value = stops.length;
  const unexplained = stops.filter(({ cause }) => cause === 'unknown').length;
  const darkS = stops.reduce(
    (sum, one) => sum + (one.restartMs === null ? 0 : one.restartMs - one.atMs) / 1000,
    0,
  );
  return measured(
    { value, low: value - unexplained, high: value },
    {
      unit: 'count',
      method: STOPS,
      basis: { hours: known, stepSeconds: data.log.stepMs / 1000 },
      working: [
        {
          label: 'by the load of a leg or of all',
          value: stops.filter(({ limitW }) => limitW !== null).length,
          unit: 'count',
          role: 'input',
        },
        { label: 'time dark', value: darkS / 3600, unit: 'h', role: 'input' },
        { label: 'stops', value, unit: 'count', role: 'result' },
        { label: 'without a cause that shows', value: unexplained, unit: 'count', role: 'uncertainty' },
      ],
      assumptions: [`A stop shorter than the log's step of ${stepText(data.log.stepMs)} is not seen.`],
    },
  );
}

function legHeadroom(data: RangeData, highestLegW: number): Figure {
  const limitW = data.parts.at(-1)!.configuration.limits.perLegW;
  if (Number.isNaN(highestLegW)) return notMeasured('kW', HEADROOM_LEG, NO_LEGS);
  if (limitW === null)
    return notMeasured('kW', HEADROOM_LEG, 'What a leg may carry is not described in the system.');
  const value = (limitW - highestLegW) / 1000;
  const half = (data.accuracy.load * highestLegW + data.accuracy.offsetW) / 1000;
  return measured(
    { value, low: value - half, high: value + half },
    {
      unit: 'kW',
      method: HEADROOM_LEG,
      basis: { stepSeconds: data.log.stepMs / 1000 },
      working: [
        { label: 'limit of a leg', value: limitW / 1000, unit: 'kW', role: 'input' },
        { label: '− highest on one leg', value: highestLegW / 1000, unit: 'kW', role: 'input' },
        { label: 'headroom', value, unit: 'kW', role: 'result' },
        { label: 'load meter', value: half, unit: 'kW', role: 'uncertainty' },
      ],
      assumptions: [
        'With the grid there a leg may carry more: below 0 it would not have been carried without.',
      ],
    },
  );
}

function legFigure(
  data: RangeData,
  method: Method,
  proven: readonly ProvenLoad[],
  which: 'held' | 'tripped',
): Figure {
  const trials = data.trials.flatMap(({ legs, toMs, name }) =>
    legs ? [{ ...legs, heldMs: toMs, trippedMs: toMs, label: `trial “${name}”` }] : [],
  );
  if (!channelOf(data, 'leg1') && trials.length === 0) return notMeasured('kW', method, NO_LEGS);
  const logged = proven.flatMap((one) =>
    one.leg > 0 && one.charge === 'above' ? [{ ...one, label: `leg ${one.leg}` }] : [],
  );
  const own = [...logged, ...trials].filter((one) => !Number.isNaN(one[`${which}W`]));
  if (own.length === 0)
    return insufficient(
      'kW',
      method,
      which === 'held'
        ? 'In no interval of this range did the home run without the grid with its legs and its charge known.'
        : `No leg is seen to have stopped the output in this range; what stops it within seconds shows in steps of 1 or 2 s, and the log has ${stepText(data.log.stepMs)}.`,
    );
  const chosen = own.reduce((best, one) =>
    (which === 'held' ? one.heldW > best.heldW : one.trippedW < best.trippedW) ? one : best,
  );
  const watts = chosen[`${which}W`];
  const half = (data.accuracy.load * watts + data.accuracy.offsetW) / 1000;
  return estimated(
    { value: watts / 1000, low: Math.max(0, watts / 1000 - half), high: watts / 1000 + half },
    {
      unit: 'kW',
      method,
      basis: { at: isoOf(chosen[`${which}Ms`]), stepSeconds: data.log.stepMs / 1000 },
      working: [
        { label: chosen.label, value: watts / 1000, unit: 'kW', role: 'result' },
        { label: 'load meter', value: half, unit: 'kW', role: 'uncertainty' },
      ],
      assumptions: [
        'At 10 % of charge or more.',
        'A mean over the step hides what a motor takes as it starts.',
      ],
    },
  );
}

const CAUSES = {
  leg: 'a leg above its limit',
  total: 'a load above the limit',
  'low-charge': 'too little charge',
  fault: 'a fault code',
  unknown: 'a cause that does not show',
} as const;

/** What stops, transfers and legs over their limit give to look at. */
export function stopFindings(
  { range, log, parts }: RangeData,
  stops: readonly OutputStop[],
  transfers: readonly Transfer[],
  overLeg: Figure,
): Finding[] {
  const zone = zoneOf(log.zone);
  const of = (code: string, message: string, fromMs: number): Finding => ({
    code,
    severity: 'warning',
    fromMs,
    toMs: range.toMs,
    message,
    source: null,
    kWh: null,
  });
  const findings: Finding[] = [];
  const [first] = stops;
  if (first) {
    const causes = [...new Set(stops.map(({ cause }) => CAUSES[cause]))].join(', ');
    findings.push(
      of(
        'output-stops',
        `The output stopped ${timesFirst(stops.length, `at ${siteTimeOf(zone, first.atMs)}`)}, by ${causes}. Find out why before the next one: move a load to the other leg, or do not run it with the others.`,
        first.atMs,
      ),
    );
  }
  const byLeg = transfers.filter(({ cause }) => cause === 'leg');
  if (byLeg[0])
    findings.push(
      of(
        'leg-transfers',
        `The load of one leg sent the home to the grid although there was charge left ${timesFirst(byLeg.length, `at ${siteTimeOf(zone, byLeg[0].atMs)}`)}. Without the grid it would have gone dark.`,
        byLeg[0].atMs,
      ),
    );
  if (overLeg.value !== null && overLeg.value > 0) {
    const hasGrid = parts.some(({ configuration }) => configuration.hasGrid);
    const time =
      overLeg.value >= 1 ? `${overLeg.value.toFixed(1)} h` : `${(overLeg.value * 60).toPrecision(2)} min`;
    findings.push(
      of(
        'leg-over',
        `A leg carried more than its limit for ${time} in all. ${hasGrid ? 'The grid stood by; in an outage the output would have stopped, though the total may lie below its own limit.' : 'Starts of a few seconds are borne; what lasts longer stops the output, though the total may lie below its own limit.'}`,
        range.fromMs,
      ),
    );
  }
  return findings;
}

/** The fault that the equipment reported most often. */
export function faultFinding({ range, log }: RangeData, faults: readonly Fault[]): Finding[] {
  const [most] = faults;
  if (!most) return [];
  const all = faults.reduce((sum, { runs }) => sum + runs.length, 0);
  const first = Math.min(...faults.map(({ runs }) => runs[0]!.fromMs));
  const texts = faults
    .slice(0, 3)
    .map(({ text, runs }) => (runs.length > 1 ? `“${text}” (${runs.length})` : `“${text}”`));
  const others = faults.length > 3 ? ' and others' : '';
  return [
    {
      code: 'faults-reported',
      severity: 'note',
      fromMs: first,
      toMs: range.toMs,
      message: `The equipment reported a fault ${timesFirst(all, `at ${siteTimeOf(zoneOf(log.zone), first)}`)}: ${texts.join(', ')}${others}. Its manual says what each means.`,
      source: null,
      kWh: null,
    },
  ];
}
