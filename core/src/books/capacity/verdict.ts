import { counted, timesFirst } from '../../model/counted.js';
import type { Finding } from '../../model/finding.js';
import { YEAR_DAYS } from '../../time/days.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { Estimate } from '../../passes/capacityEstimates.js';
import {
  emptied,
  fadeOf,
  capacityAssessment,
  type CapacityAssessment,
} from '../shared/capacityAssessment.js';

/** What the capacity is judged to do, what the judgement rests on, and what would sharpen it. */
export interface Verdict {
  readonly says: string;
  readonly restsOn: string;
  readonly sharpen: string;
}

/** A share in per cent to one decimal: a verdict is no place for more. */
function percent(share: number): string {
  return `${(100 * share).toFixed(1)} %`;
}

/** The verdict of a range in words. */
export function verdictOf(data: RangeData): Verdict {
  const assessment = capacityAssessment(data);
  if (!assessment)
    return {
      says: 'The capacity cannot be estimated from this range.',
      restsOn: 'No discharge in it takes the battery down by 30 % without a pause.',
      sharpen: 'One evening and night on the battery, from full, would give a first estimate.',
    };
  const { trend, estimates, configuration } = assessment;
  const months = Math.max(1, Math.round(trend.years * 12));
  const runs = estimates.filter(({ kind }) => kind === 'full-run').length;
  return {
    says: saysOf(assessment, months),
    restsOn: `Rests on ${runsText(estimates)} of 30 % or more over ${spanText(trend.years)} with ${configuration.name}, ${fullRunsText(runs, estimates.length)} full to near the cut-off${trend.season === 'calendar' ? ', the season taken off as one wave a year' : trend.season === 'temperature' ? ', brought to 20 °C' : ''}.`,
    sharpen: sharpenOf(assessment),
  };
}

function runsText(estimates: readonly Estimate[]): string {
  const charges = estimates.filter(({ direction }) => direction === 'charge').length;
  const discharges = estimates.length - charges;
  const of = (count: number, word: string) => (count === 1 ? `one ${word}` : counted(count, word));
  if (charges === 0) return of(discharges, 'discharge');
  return discharges === 0
    ? of(charges, 'charge')
    : `${of(discharges, 'discharge')} and ${of(charges, 'charge')}`;
}

function spanText(years: number): string {
  return years < 1 / 12
    ? counted(Math.max(1, Math.round(YEAR_DAYS * years)), 'day')
    : counted(Math.round(12 * years), 'month');
}

/** How many of so many went all the way. */
function fullRunsText(runs: number, of: number): string {
  if (of === 1) return runs === 1 ? 'from' : 'not from';
  if (runs === 0) return 'none of them from';
  return runs === 1 ? 'one of them from' : `${runs} of them from`;
}

function saysOf(assessment: CapacityAssessment, months: number): string {
  const { trend, isAnchored, reference, hidden } = assessment;
  const kWh = `${(trend.level.value / 1000).toFixed(1)} kWh from full to empty`;
  const level =
    reference?.isNameplate === false
      ? `The battery holds ${percent(trend.level.value / reference.wh)} of what it did at first: ${kWh}.`
      : `The battery delivers ${kWh}.`;
  const fade = fadeOf(assessment);
  if (!fade) return `${level} ${trend.reason ?? ''}`.trim();
  const most = percent(Math.max(0, fade.high));
  const rate =
    fade.low > 0
      ? `It loses ${percent(fade.value)} a year (${percent(fade.low)} to ${most})${isAnchored ? '' : ' on the monitor’s own scale'}.`
      : isAnchored
        ? `No measurable fade in ${months} months: at most ${most} a year.`
        : `Its course shows at most ${most} a year, on the monitor’s own scale: that is no proof that nothing fades.`;
  const more = hidden
    ? ` The charge at which it stops rises by ${percent(hidden.value)} of full a year (${percent(hidden.low)} to ${percent(hidden.high)}): about so much fade the monitor does not show.`
    : '';
  return `${level} ${rate}${more}`;
}

function sharpenOf({ isAnchored, trend, estimates }: CapacityAssessment): string {
  if (!isAnchored)
    return 'Nothing shows that the monitor’s state of charge is held to the cells. One drawdown from full to the cut-off in warm weather would: follow the manual, stop above the cut-off, recharge the same day.';
  if (trend.season !== 'temperature')
    return 'The battery’s temperature in the log (battery_temp_c) would take the season off and narrow this.';
  const isShort = trend.years < 2;
  return isShort
    ? 'Another year of the same log would about halve the interval.'
    : `${estimates.filter(({ kind }) => kind === 'full-run').length < 4 ? 'One run a year from full to the cut-off in warm weather' : 'A longer log'} would narrow this further.`;
}

/** The part below the cut-off and the part outside the usable share are alike within this. */
const ALIKE = 0.03;

/**
 * A description that takes the same part of the cells off twice, by the usable share and by the cut-off, although the
 * display runs over the whole nameplate: the capacity that the log gives for the display from full to 0 % tells.
 */
function countedTwice(
  { range }: RangeData,
  { configuration, nameplate, trend, systematic }: CapacityAssessment,
): Finding[] {
  const { cutOff, usableWh, nameplateWh } = configuration;
  if (!nameplate || cutOff === null || usableWh === null || nameplateWh === null) return [];
  const outside = 1 - usableWh / nameplateWh;
  if (outside < ALIKE || Math.abs(outside - cutOff) > ALIKE) return [];
  const { value, low } = trend.level;
  const surely = value - Math.hypot(value - low, systematic * value, nameplate.off * value);
  if (surely <= nameplate.wh) return [];
  const kWh = (wh: number) => (wh / 1000).toFixed(1);
  return [
    {
      code: 'counted-twice',
      severity: 'warning',
      fromMs: range.fromMs,
      toMs: range.toMs,
      message: `From 100 to 0 % of its display the battery gives ${kWh(value)} kWh, more than the ${kWh(nameplate.wh)} kWh of its usable share. So 0 % means empty cells here, and the cut-off at ${percent(cutOff)} and the usable share of ${percent(1 - outside)} take the same part off twice. Set the usable share to 100 % in the system, or the cut-off to 0 %.`,
      source: null,
      kWh: (value - nameplate.wh) / 1000,
    },
  ];
}

/** What the course of the capacity gives to ask about. */
export function capacityFindings(data: RangeData): Finding[] {
  const assessment = capacityAssessment(data);
  if (!assessment) return [];
  const { step, configuration, isAnchored, hidden } = assessment;
  const zone = zoneOf(data.log.zone);
  const findings: Finding[] = countedTwice(data, assessment);
  if (step) {
    const lost = step.beforeWh - step.afterWh;
    const modules = configuration.described?.battery?.modules ?? 0;
    const isModule = modules > 1 && Math.abs(lost / step.beforeWh - 1 / modules) < 0.3 / modules;
    const what = isModule
      ? `about the share of one of ${modules} modules: one may have dropped out. Ask the installer to look at it`
      : 'a recalibration of the monitor, a module that dropped out, or a replacement. Ask the installer, or write into the journal what was done';
    findings.push({
      code: 'capacity-step',
      severity: 'warning',
      fromMs: step.atMs,
      toMs: step.atMs,
      message: `The capacity ${lost > 0 ? 'fell' : 'rose'} from ${(step.beforeWh / 1000).toFixed(1)} to ${(step.afterWh / 1000).toFixed(1)} kWh about ${siteTimeOf(zone, step.atMs).slice(0, 10)}, and no configuration explains it: ${what}.`,
      source: null,
      kWh: Math.abs(lost) / 1000,
    });
  }
  if (hidden)
    findings.push({
      code: 'cut-off-drift',
      severity: 'warning',
      fromMs: data.range.fromMs,
      toMs: data.range.toMs,
      message: `The battery stops at an ever higher charge on its display: ${percent(hidden.value)} of full more each year. The monitor counts against a capacity that is no longer there, so its state of charge, and a fade read from it, look better than the battery is. Ask the installer to have it relearn.`,
      source: null,
      kWh: (hidden.value * (configuration.usableWh ?? 0)) / 1000,
    });
  else if (!isAnchored)
    findings.push({
      code: 'monitor-scale',
      severity: 'note',
      fromMs: data.range.fromMs,
      toMs: data.range.toMs,
      message:
        'Capacity is given on the monitor’s own scale: in this range it was never set anew away from full, and no run reached the cut-off. A monitor that does not relearn hides fade; a drawdown would tell.',
      source: null,
      kWh: null,
    });
  const resets = emptied(data.resets).filter((one) => one.configuration === configuration);
  const [first] = resets;
  if (first)
    findings.push({
      code: 'recalibration',
      severity: 'note',
      fromMs: first.atMs,
      toMs: resets.at(-1)!.atMs,
      message: `The monitor found the battery emptier than it had thought ${timesFirst(resets.length, `at ${siteTimeOf(zone, first.atMs)}`)} from ${percent(first.from)} to ${percent(first.to)}. It relearns, so its scale follows the cells.`,
      source: null,
      kWh: null,
    });
  return findings;
}
