import { plural, timesFirst } from '../../model/counted.js';
import type { Finding } from '../../model/finding.js';
import type { FaultKind } from './faults.js';
import type { Scanner } from './scanner.js';

const WORDS: Readonly<Record<FaultKind, (count: number) => string>> = {
  'not-a-number': (n) =>
    `${n} ${plural(n, 'value is', 'values are')} not a number and ${plural(n, 'is', 'are')} taken as missing`,
  'beyond-range': (n) =>
    `${n} ${plural(n, 'value lies', 'values lie')} beyond what is possible and ${plural(n, 'is', 'are')} taken as missing`,
  'unreadable-time': (n) =>
    `${n} ${plural(n, 'row has', 'rows have')} a time that cannot be read and ${plural(n, 'is', 'are')} left out`,
  'no-offset': (n) =>
    `${n} ${plural(n, 'row has', 'rows have')} a time without UTC offset and ${plural(n, 'is', 'are')} left out`,
  'implausible-time': (n) =>
    `${n} ${plural(n, 'row lies', 'rows lie')} outside the years 2000 to 2050 and ${plural(n, 'is', 'are')} left out`,
  'ragged-row': (n) =>
    `${n} ${plural(n, 'row does', 'rows do')} not have as many fields as the header and ${plural(n, 'is', 'are')} left out`,
};

/** What was met while reading a file, each kind once with its count and first place. */
export function findingsOfReading(source: string, scanner: Scanner, ignored: readonly string[]): Finding[] {
  const finding = (code: string, severity: Finding['severity'], message: string): Finding => ({
    code,
    severity,
    fromMs: null,
    toMs: null,
    message,
    source,
    kWh: null,
  });
  const findings = [...scanner.faults.values()].map(({ kind, count, line, column, sample }) =>
    finding(
      kind,
      'warning',
      `${WORDS[kind](count)}; first on line ${line}, column ${column}: ${sample || 'nothing'}.`,
    ),
  );
  const { count, line } = scanner.backwards;
  if (count > 0) {
    findings.push(
      finding(
        'unordered-rows',
        'warning',
        `The time goes backwards ${timesFirst(count, `on line ${line}`)}; the rows are sorted.`,
      ),
    );
  }
  if (ignored.length > 0) {
    const list = ignored.map((name) => `"${name}"`).join(', ');
    findings.push(
      finding('unknown-columns', 'note', `Not recognised and left in the file: ${list.slice(0, 300)}.`),
    );
  }
  return findings;
}
