import { tariffFindings } from '../books/money/tariffFindings.js';
import { trialFindings } from '../books/trial/trialFindings.js';
import { capacityFindings } from '../books/capacity/verdict.js';
import { counted } from '../model/counted.js';
import type { Figure } from '../model/figure.js';
import { wearFindings } from '../books/wear/wearFindings.js';
import { definitionsSentence } from '../books/account/definitions.js';
import { lossFindings } from '../books/losses/lossFindings.js';
import { outageFindings, overloadFindings } from '../books/outage/outageFindings.js';
import { parseInstant } from '../time/instant.js';
import { siteTimeOf, zoneOf } from '../time/zone.js';
import { apart, channelOf, unshapedOf, type RangeData } from '../passes/rangeData.js';
import type { System } from '../system/schema.js';
import { isOfTotals } from '../books/shared/lacking.js';
import { FLOWS, quantityText, type Flow } from '../model/quantity.js';
import type { Finding, Gap } from '../model/finding.js';

/** Schools of self-sufficiency closer than this are one to a reader. */
const SCHOOLS_APART = 0.02;
/** Closing error that an inverter's own metering may show, as a share of what comes in. */
const TOLERABLE_CLOSING = 0.05;

/** What the range's figures rest on and where they are weak. */
export function findingsOf(
  data: RangeData,
  system: System,
  figures: Readonly<Record<string, Figure>>,
  gaps: readonly Gap[],
): Finding[] {
  return [
    ...lossFinding(data, figures),
    ...emptyFinding(data),
    ...gridChargeFinding(data),
    ...outageFindings(data),
    ...closingFinding(data, figures),
    ...constructionFinding(data),
    ...ratingFindings(data),
    ...descriptionFindings(data, system),
    ...gapFinding(data, gaps),
    ...changeFinding(data),
    ...coarseFinding(data),
    ...straddlingFinding(data),
    ...totalsOnlyFindings(data),
    ...lossFindings(data, system, figures),
    ...capacityFindings(data),
    ...wearFindings(data, figures),
    ...schoolsFinding(data, figures),
    ...overloadFindings(data),
    ...trialFindings(data, figures),
    ...tariffFindings(data, system),
  ];
}

/** The schools lie so far apart that the reader will ask why. */
function schoolsFinding(data: RangeData, figures: Readonly<Record<string, Figure>>): Finding[] {
  const value = (school: string) => figures[`account.selfSufficiency.${school}`]?.value ?? null;
  const [grid, supply] = [value('grid'), value('supply')];
  const sentence = definitionsSentence(data, figures);
  if (grid === null || supply === null || sentence === null || Math.abs(supply - grid) < SCHOOLS_APART)
    return [];
  return [finding(data, 'schools-differ', 'note', `Self-sufficiency has three answers here. ${sentence}`)];
}

function lossFinding(data: RangeData, figures: Readonly<Record<string, Figure>>): Finding[] {
  const losses = figures['account.losses'];
  const inKWh = (data.total.solarStore + data.total.importStore) / 1000;
  if (losses?.value == null || losses.low! <= 0 || inKWh <= 0) return [];
  const range = `${losses.low!.toFixed(0)} to ${losses.high!.toFixed(0)} kWh`;
  const message = `${((100 * losses.value) / inKWh).toFixed(1)} % of what came in never reached a socket or the grid (${range}): conversion and idle draw took it.`;
  return [finding(data, 'losses', 'note', message, losses.value)];
}

function emptyFinding(data: RangeData): Finding[] {
  let [days, wh] = [0, 0];
  for (const { emptiedWh } of data.days) {
    if (emptiedWh === null) continue;
    days++;
    wh += emptiedWh;
  }
  if (days === 0) return [];
  const message = `Energy bought on ${counted(days, 'day')} on which the battery was down to its reserve.`;
  return [finding(data, 'battery-empty', 'note', message, wh / 1000)];
}

function gridChargeFinding(data: RangeData): Finding[] {
  const kWh = data.total.gridChargedBus / 1000;
  if (kWh < 0.5) return [];
  const message =
    'Energy charged from the grid: own supply in self-sufficiency by supply, import in self-sufficiency by the meter.';
  return [finding(data, 'grid-charged', 'note', message, kWh)];
}

function finding(
  data: RangeData,
  code: string,
  severity: Finding['severity'],
  message: string,
  kWh: number | null = null,
): Finding {
  return { code, severity, fromMs: data.range.fromMs, toMs: data.range.toMs, message, source: null, kWh };
}

function siteTime(data: RangeData, ms: number): string {
  return siteTimeOf(zoneOf(data.log.zone), ms);
}

function closingFinding(data: RangeData, figures: Readonly<Record<string, Figure>>): Finding[] {
  const share = figures['account.closingShare']?.value ?? null;
  if (share === null || Math.abs(share) <= TOLERABLE_CLOSING) return [];
  const onDc =
    data.batterySide === 'dc' ||
    data.parts.some(({ configuration }) => configuration.described?.coupling === 'dc');
  const size = `${(Math.abs(share) * 100).toFixed(1)} % of what came in (${figures['account.closingError']!.value!.toFixed(1)} kWh)`;
  const message = onDc
    ? `The account leaves ${size} open. Part of it is the inverter's conversion and idle draw, since a flow is measured on its DC side.`
    : `The account leaves ${size} open, more than the 5 % that an inverter's own metering may show. A channel is off, or a flow is not logged.`;
  return [finding(data, 'closing-error', onDc ? 'note' : 'warning', message)];
}

function constructionFinding(data: RangeData): Finding[] {
  const derived = (['solar', 'load', 'grid', 'battery'] as const).find(
    (q) => channelOf(data, q)?.origin === 'derived',
  );
  if (!derived) return [];
  const message = `The ${derived} power is not logged; it is taken as what the other three flows leave over, so the account closes by construction.`;
  return [finding(data, 'closed-by-construction', 'note', message)];
}

function ratingFindings(data: RangeData): Finding[] {
  return data.parts.flatMap(({ configuration, sums }) => {
    if (sums.overRatingCells === 0) return [];
    const worst = `${(Math.abs(sums.overRatingW) / 1000).toFixed(1)} kW`;
    const message = `Battery power exceeds the rating of ${configuration.name} in ${counted(sums.overRatingCells, 'interval')}, most at ${siteTime(data, sums.overRatingMs)} with ${worst}. Check the log's unit or the rating in the system.`;
    return [finding(data, 'above-rating', 'warning', message)];
  });
}

function descriptionFindings(data: RangeData, system: System): Finding[] {
  const first = system.configurations?.[0];
  if (!first) {
    return [
      finding(
        data,
        'no-configuration',
        'note',
        'The system describes no battery, so nothing that refers to its capacity can be given.',
      ),
    ];
  }
  const fromMs = parseInstant(first.from);
  if (data.log.startMs >= fromMs || data.range.fromMs >= fromMs) return [];
  const message = `The log begins before the first configuration (${siteTime(data, fromMs)}); that configuration is taken for the time before it too.`;
  return [finding(data, 'before-configuration', 'note', message)];
}

function gapFinding(data: RangeData, gaps: readonly Gap[]): Finding[] {
  const hours = gaps.reduce((sum, { fromMs, toMs }) => sum + (toMs - fromMs) / 3_600_000, 0);
  if (hours === 0) return [];
  const longest = gaps.reduce((long, gap) => (gap.toMs - gap.fromMs > long.toMs - long.fromMs ? gap : long));
  const message = `${gaps.length} ${gaps.length === 1 ? 'gap' : 'gaps'}, ${hours.toFixed(1)} h in all; the longest from ${siteTime(data, longest.fromMs)} lasts ${((longest.toMs - longest.fromMs) / 3_600_000).toFixed(1)} h (${longest.quantities.map(quantityText).join(', ')}). Totals hold what was measured and are not scaled up.`;
  return [finding(data, 'gaps', 'warning', message)];
}

/** Totals of which only a part lies in the range count in none of its figures; that is told, not kept silent. */
function straddlingFinding(data: RangeData): Finding[] {
  const { lumpsAcross: across } = data;
  if (across.length === 0) return [];
  const flows = FLOWS.filter((flow) => across.some((one) => one.flow === flow));
  const kWh = (flow: string) =>
    (across.filter((one) => one.flow === flow).reduce((sum, { wh }) => sum + wh, 0) / 1000).toFixed(1);
  const message = `Totals that lie only in part in this range are left out: ${flows.map((flow) => `${kWh(flow)} kWh of ${flow}`).join(', ')}. A range that begins and ends with their periods holds them.`;
  return [finding(data, 'totals-straddle', 'note', message)];
}

/** Less than this of what the home usually takes, and its counters stood still with the logger. */
const STOOD_STILL = 0.2;
const TOTALS_ONLY_S = 3600;

/** Hours of which only totals are known lack in whatever needs the course; counters that hardly moved lack in the totals too. */
function totalsOnlyFindings(data: RangeData): Finding[] {
  const { loadWh, loadS } = data.total;
  if (isOfTotals(data)) return [];
  const stretches = [...apart(data.lumps)].map((lumps) => {
    const flows = FLOWS.filter((flow) => lumps.some((one) => one.flow === flow));
    const wh = (flow: Flow) => unshapedOf(lumps, flow).wh;
    const balance = wh('import') - wh('export') + wh('solar') + wh('discharge') - wh('charge');
    return {
      fromMs: lumps[0]!.fromMs,
      flows,
      seconds: Math.max(...flows.map((flow) => unshapedOf(lumps, flow).seconds)),
      usedWh: flows.includes('load') ? wh('load') : flows.includes('import') ? balance : null,
    };
  });
  const told = (some: typeof stretches) => {
    const longest = some.reduce((long, one) => (one.seconds > long.seconds ? one : long));
    const hours = some.reduce((sum, { seconds }) => sum + seconds, 0) / 3600;
    const flows = FLOWS.filter((flow) => some.some(({ flows: own }) => own.includes(flow)));
    return `${hours.toFixed(1)} h (${flows.join(', ')}; the longest from ${siteTime(data, longest.fromMs)}, ${(longest.seconds / 3600).toFixed(1)} h)`;
  };
  const without = stretches.filter(({ seconds }) => seconds >= TOTALS_ONLY_S);
  const still = without.filter(
    ({ seconds, usedWh }) =>
      usedWh !== null && loadS > 0 && usedWh < STOOD_STILL * (loadWh / loadS) * seconds,
  );
  return [
    ...(without.length > 0
      ? [
          finding(
            data,
            'totals-only',
            'note',
            `Only totals are known for ${told(without)}: they count in the totals, but are missing from what needs the power over time, such as flows, runs and outages. A log of those hours would supply it.`,
          ),
        ]
      : []),
    ...(still.length > 0
      ? [
          finding(
            data,
            'counters-stood',
            'warning',
            `The counters hardly moved for ${told(still)}, by less than a fifth of what the home usually takes. If they stood still with the logger, that energy is missing from every total: note what the meters themselves show at both ends in the Readings view, or bring the utility’s own log.`,
          ),
        ]
      : []),
  ];
}

function changeFinding(data: RangeData): Finding[] {
  if (data.parts.length < 2) return [];
  const names = data.parts.map(({ configuration }) => configuration.name).join(', then ');
  const message = `The range crosses a change of configuration: ${names}. Energies and cycles are added part by part; windows across the change are left out.`;
  return [finding(data, 'configuration-change', 'note', message)];
}

function coarseFinding(data: RangeData): Finding[] {
  const minutes = data.log.stepMs / 60_000;
  if (minutes < 30 || isOfTotals(data)) return [];
  const days = minutes > 60 ? ' An interval that crosses midnight counts to the day in which it starts.' : '';
  const message = `The step is ${minutes} minutes: import and export that both happened within one step cancel, and peaks are flattened.${days}`;
  return [finding(data, 'coarse-step', 'note', message)];
}
