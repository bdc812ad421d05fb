import type { Finding } from '../../model/finding.js';
import type { RangeData } from '../../passes/rangeData.js';
import { ratesOfDay, tariffAt, tariffsInOrder } from '../../system/tariffs.js';
import type { System } from '../../system/schema.js';
import { dayNumberAt } from '../../time/days.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';

/** Currencies of which a kWh costs cents; a rate above this is one in cents. */
const OF_HUNDREDTHS = new Set(['EUR', 'USD', 'GBP', 'AUD', 'NZD', 'CAD', 'CHF', 'SGD']);
const MOST_RATE = 3;
const DAYS_LOOKED_AT = 366;

/** What is doubtful about the tariffs that hold in a range: rates in cents, hours without a price, a tariff that begins too late. */
export function tariffFindings({ range, log }: RangeData, system: System): Finding[] {
  const zone = zoneOf(log.zone);
  const tariffs = tariffsInOrder(system, zone);
  if (tariffs.length === 0) return [];
  const told = (code: string, message: string): Finding => ({
    code,
    severity: 'warning',
    fromMs: range.fromMs,
    toMs: range.toMs,
    message,
    source: null,
    kWh: null,
  });
  const findings: Finding[] = [];
  const currency = system.currency ?? '';
  const dear = tariffs
    .flatMap(({ tariff }) => [...(tariff.import ?? []), ...(tariff.export ?? [])])
    .find(({ rate }) => rate > MOST_RATE);
  if (dear && OF_HUNDREDTHS.has(currency))
    findings.push(
      told(
        'rate-in-cents',
        `A rate of ${dear.rate} ${currency} a kWh is written in the tariff: ${(dear.rate / 100).toFixed(4)} may be meant, if it was read in cents. Look at it in the System view.`,
      ),
    );
  const [first] = tariffs;
  if (range.fromMs < first!.fromMs)
    findings.push(
      told(
        'tariff-begins-later',
        `The first tariff begins on ${siteTimeOf(zone, first!.fromMs).slice(0, 10)}, after the beginning of this range; it is taken for the time before it too. Add the one that held then.`,
      ),
    );
  const from = dayNumberAt(zone, range.fromMs);
  const until = Math.min(dayNumberAt(zone, range.toMs - 1), from + DAYS_LOOKED_AT);
  let [bare, all] = [0, 0];
  for (let day = from; day <= until; day++) {
    const rates = ratesOfDay(tariffAt(tariffs, day * 86_400_000)!, 'import', day);
    bare += rates.filter((rate) => rate !== rate).length;
    all += rates.length;
  }
  if (bare > 0 && !log.channels.has('importRate'))
    findings.push(
      told(
        'tariff-gap',
        `The tariff has no import price in ${((100 * bare) / all).toFixed(0)} % of the hours. What is bought in them has no cost in any bill; add a rate without a window for them.`,
      ),
    );
  return findings;
}
