import type { Finding } from '../../model/finding.js';
import type { Figure } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { warrantyState } from './warrantyState.js';
import { YEAR_MS } from '../../time/days.js';

const WORTH_KWH = 0.1;
/** Time above 95 % that ages a battery enough to be told. */
const LONG_FULL = 0.5;

/** What wears the battery more than it need. */
export function wearFindings(data: RangeData, figures: Readonly<Record<string, Figure>>): Finding[] {
  const findings: Finding[] = [];
  const add = (code: string, severity: Finding['severity'], message: string, kWh: number | null = null) =>
    findings.push({
      code,
      severity,
      fromMs: data.range.fromMs,
      toMs: data.range.toMs,
      message,
      source: null,
      kWh,
    });
  const cold = figures['wear.coldCharge']?.value ?? 0;
  if (cold > WORTH_KWH)
    add(
      'cold-charge',
      'warning',
      `${cold.toFixed(1)} kWh were charged while the battery was below 0 °C. Lithium cells plate and lose capacity for good when charged frozen, unless their maker allows it: read the manual, and ask the installer for heating or a charge lock.`,
      cold,
    );
  const full = figures['wear.timeAbove95']?.value ?? 0;
  if (full > LONG_FULL)
    add(
      'long-full',
      'note',
      `The battery stood above 95 % for ${Math.round(100 * full)} % of the time. Cells kept full age faster; where the inverter allows a lower upper limit in the sunny months, its manual says how.`,
    );
  const hot = figures['wear.hotHours']?.value ?? 0;
  if (hot >= 1)
    add(
      'heat',
      'warning',
      `The battery was above 45 °C for ${hot.toFixed(0)} h. Heat ages cells: look at what keeps it warm.`,
    );
  const state = warrantyState(data);
  const first = state?.clocks
    .filter(({ runsOutMs }) => runsOutMs !== null)
    .sort((a, b) => a.runsOutMs!.value - b.runsOutMs!.value)[0];
  const years = state?.clocks.find(({ limit }) => limit === 'years');
  if (first && years && first.limit !== 'years') {
    const early = (years.runsOutMs!.value - first.runsOutMs!.value) / YEAR_MS;
    add(
      'warranty-early',
      'warning',
      `At the use of the last year the warranty ends by its ${first.limit} ${early.toFixed(1)} years before its time${first.limit === 'throughput' && state.allowedADayKWh ? `; ${state.allowedADayKWh.toFixed(1)} kWh a day would stay within it` : ''}.`,
    );
  }
  return findings;
}
