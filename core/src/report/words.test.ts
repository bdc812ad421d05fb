import { describe, expect, test } from '@jest/globals';
import { analyse } from './report.js';
import { ANY_HOMES, PLURAL_OF_ONE, PROGRAM_WORDS } from '../testing/anyHomes.js';

/** Every sentence of a report: findings, reasons, workings, assumptions. */
function sentences({ findings, figures }: ReturnType<typeof analyse>): string[] {
  return [
    ...findings.map(({ message }) => message),
    ...Object.values(figures).flatMap(({ reason, working, assumptions }) => [
      reason ?? [],
      ...working.map(({ label }) => label),
      ...assumptions,
    ]),
  ].flat();
}

describe.each(ANY_HOMES)('what the report says of %s', (_, system, log) => {
  const report = analyse(system, [log]);
  const said = sentences(report);

  test('has neither the words of a program nor a plural of one', () => {
    expect(said.filter((text) => PROGRAM_WORDS.test(text))).toEqual([]);
    expect(said.filter((text) => PLURAL_OF_ONE.test(text))).toEqual([]);
  });

  test('begins and ends as a sentence where it is one', () => {
    const { findings, figures } = report;
    const whole = [
      ...findings.map(({ message }) => message),
      ...Object.values(figures).flatMap(({ reason }) => reason ?? []),
      ...Object.values(figures).flatMap(({ assumptions }) => assumptions),
    ];
    expect(
      whole.filter(
        (text) => !/^[\p{Lu}\d“λP]/u.test(text) || !/[.?]$/.test(text) || / {2}| [.,;]/.test(text),
      ),
    ).toEqual([]);
  });

  test('has for every figure bounds around its value, or a reason', () => {
    for (const [key, { value, low, high, reason, status }] of Object.entries(report.figures)) {
      if (value === null) expect([key, reason === null || reason === '']).toEqual([key, false]);
      else
        expect([
          key,
          status === 'insufficient',
          low! <= value && value <= high!,
          Number.isFinite(value),
        ]).toEqual([key, false, true, true]);
    }
  });
});
