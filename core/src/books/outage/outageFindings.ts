import type { Finding } from '../../model/finding.js';
import type { Range } from '../../model/range.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { Outage } from '../../passes/outages.js';

const WORDS = {
  flag: 'the logged state of the grid',
  voltage: 'its voltage',
  frequency: 'its frequency',
  inferred: 'a grid power of exactly zero',
  journal: 'the journal',
} as const;

function hoursOfAll(outages: readonly Range[]): string {
  return (outages.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0) / 3_600_000).toFixed(1);
}

/** What the outages of a range were. */
export function outageFindings(data: RangeData): Finding[] {
  return [...summary(data), ...darkness(data)];
}

function finding(
  { range }: RangeData,
  code: string,
  severity: Finding['severity'],
  message: string,
  stretch: Range = range,
): Finding {
  return { code, severity, fromMs: stretch.fromMs, toMs: stretch.toMs, message, source: null, kWh: null };
}

function summary(data: RangeData): Finding[] {
  const [planned, real] = [true, false].map((want) =>
    data.outages.filter(({ isPlanned }) => isPlanned === want),
  ) as [Outage[], Outage[]];
  const by = [...new Set(real.map(({ evidence }) => WORDS[evidence]))].join(' and ');
  const told = [
    ...(real.length > 0
      ? [
          `The grid was down for ${hoursOfAll(real)} h in ${real.length} ${real.length === 1 ? 'outage' : 'outages'}, known by ${by}.`,
        ]
      : []),
    ...(planned.length > 0
      ? [
          `By the journal ${planned.length === 1 ? 'one run' : `${planned.length} runs`} without the grid, ${hoursOfAll(planned)} h, ${planned.length === 1 ? 'was' : 'were'} planned.`,
        ]
      : []),
  ];
  return told.length > 0 ? [finding(data, 'outage', 'note', told.join(' '))] : [];
}

/** Outages in which the home lost its power. */
function darkness(data: RangeData): Finding[] {
  const dark = data.outages.filter(({ unservedS }) => unservedS > 0);
  const [first] = dark;
  if (!first) return [];
  const hours = dark.reduce((sum, { unservedS }) => sum + unservedS / 3600, 0);
  const when = siteTimeOf(zoneOf(data.log.zone), first.darkMs!);
  return [
    finding(
      data,
      'outage-dark',
      'warning',
      `The home was without power for ${hours.toFixed(1)} h in ${dark.length === 1 ? 'an outage' : `${dark.length} outages`}, first at ${when}. Where the charge had run out, a higher reserve or less load would have carried it further; where it had not, look for what tripped.`,
      first,
    ),
  ];
}

/** Loads that this inverter would not have carried from its battery. */
export function overloadFindings(data: RangeData): Finding[] {
  const over = data.parts.flatMap(({ configuration: { limits }, sums }) =>
    limits.batteryOnlyW !== null && sums.peakLoadW > limits.batteryOnlyW
      ? [{ limitW: limits.batteryOnlyW, sums }]
      : [],
  );
  const worst = over.reduce<(typeof over)[number] | null>(
    (most, part) => (most === null || part.sums.peakLoadW > most.sums.peakLoadW ? part : most),
    null,
  );
  if (!worst) return [];
  const { peakLoadW, peakLoadMs } = worst.sums;
  return [
    finding(
      data,
      'battery-only-limit',
      'note',
      `The load came to ${(peakLoadW / 1000).toFixed(1)} kW at ${siteTimeOf(zoneOf(data.log.zone), peakLoadMs)}, more than the ${(worst.limitW / 1000).toFixed(1)} kW that the inverter gives from the battery: in an outage at that hour the home would have gone dark at once. Know what to switch off first.`,
    ),
  ];
}
