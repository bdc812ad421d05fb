import { isTold, tareLines } from '../shared/tareLine.js';
import type { Finding } from '../../model/finding.js';
import type { Figure } from '../../model/figure.js';
import type { System } from '../../system/schema.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import { hoursOf, type RangeData } from '../../passes/rangeData.js';
import { meanImportRate } from '../../system/tariffs.js';
import { drawnShare, toldApart } from '../shared/idleDraw.js';

const HOURS_A_YEAR = 8766;
/** An idle draw that takes less than this share of the capacity in a night is not worth a line. */
const WORTH_SHARE = 0.02;

type Figures = Readonly<Record<string, Figure>>;

/** What is worth doing about the losses. */
export function lossFindings(view: RangeData, system: System, figures: Figures): Finding[] {
  return [
    ...stepFindings(view),
    ...inverterFinding(view, system, figures),
    ...drawFinding(view, system, figures),
  ];
}

/** What a draw costs a year if all of it is bought; nothing where no tariff is described. */
function costText({ range }: RangeData, system: System, watts: number): string {
  const rate = meanImportRate(system, range.toMs - 1);
  if (rate === null) return '';
  const cost = ((watts * HOURS_A_YEAR) / 1000) * rate;
  return `, up to ${cost.toFixed(0)} ${system.currency ?? ''}`.trimEnd() + ' a year where it is bought';
}

/** A draw that rose or fell at a date that no configuration explains. */
function stepFindings(view: RangeData): Finding[] {
  return view.steps.map(({ atMs, beforeW, afterW }) => {
    const kWh = ((afterW - beforeW) * HOURS_A_YEAR) / 1000;
    const day = siteTimeOf(zoneOf(view.log.zone), atMs).slice(0, 10);
    return {
      code: 'idle-step',
      severity: 'warning',
      fromMs: atMs,
      toMs: atMs,
      message: `The battery's idle draw ${afterW > beforeW ? 'rose' : 'fell'} from ${beforeW.toFixed(0)} to ${afterW.toFixed(0)} W about ${day}: ${Math.abs(kWh).toFixed(0)} kWh a year ${afterW > beforeW ? 'more' : 'less'}. No change in the system explains it. Was there new firmware, another standby setting, a fan, a second unit? Write it into the journal, or ask the installer.`,
      source: null,
      kWh: Math.abs(kWh),
    };
  });
}

/** What the inverter draws whatever it carries, against its data sheet. */
function inverterFinding(view: RangeData, system: System, figures: Figures): Finding[] {
  const figure = figures['losses.idle.inverter'];
  if (figure?.value == null) return [];
  const { value: watts, low, high } = figure;
  const told = tareLines(view).filter(isTold);
  const inverter = told.length === 1 ? told[0]!.configuration.described?.inverter : undefined;
  const stated = inverter?.statedIdleW;
  const against =
    stated === undefined
      ? ''
      : ` The data sheet says ${stated} W${stated < low! ? ', less than was measured' : ''}.`;
  const units = inverter?.units ?? 1;
  const advice =
    units > 1
      ? `With ${units} units, see in their manual whether all but one can sleep while the load is low, or switch one off.`
      : 'See in its manual whether it has a mode that sleeps without load.';
  return [
    finding(
      view,
      'inverter-idle',
      'note',
      `The inverter draws ${watts.toFixed(0)} W (${low!.toFixed(0)} to ${high!.toFixed(0)}) whatever it carries: ${((watts * 24) / 1000).toFixed(1)} kWh a day${costText(view, system, watts)}.${against} ${advice}`,
      (watts * HOURS_A_YEAR) / 1000,
    ),
  ];
}

/** What the idle draw costs: energy, capacity, runtime. */
function drawFinding(view: RangeData, system: System, figures: Figures): Finding[] {
  const figure = figures['losses.idle.battery'];
  const usableWh = view.parts.at(-1)?.configuration.usableWh;
  if (figure?.value == null || !usableWh || view.total.loadS === 0) return [];
  const { value: watts, low, high } = figure;
  const share = (watts * 12) / usableWh;
  const mean = watts * drawnShare(toldApart(view));
  if (share < WORTH_SHARE) return [];
  const loadW = view.total.loadWh / hoursOf(view.total.loadS);
  const runtimeH = usableWh / Math.max(1, loadW) - usableWh / Math.max(1, loadW + watts);
  const night = view.batterySide === 'dc' ? 'the inverter’s own draw comes on top' : 'converter included';
  return [
    finding(
      view,
      'idle-draw',
      'note',
      `The battery draws ${watts.toFixed(0)} W (${low!.toFixed(0)} to ${high!.toFixed(0)}) for itself, ${night}: ${((mean * 24) / 1000).toFixed(1)} kWh a day, ${(100 * share).toFixed(0)} % of its usable capacity in twelve hours, ${runtimeH.toFixed(1)} h of runtime at your mean load${costText(view, system, mean)}. Where a second inverter or a standby mode can sleep by night, its manual says how.`,
      (mean * HOURS_A_YEAR) / 1000,
    ),
  ];
}

function finding(
  view: RangeData,
  code: string,
  severity: Finding['severity'],
  message: string,
  kWh: number | null = null,
): Finding {
  return { code, severity, fromMs: view.range.fromMs, toMs: view.range.toMs, message, source: null, kWh };
}
