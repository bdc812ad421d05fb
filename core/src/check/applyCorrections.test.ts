import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mergeSources } from '../import/merge/mergeSources.js';
import type { Quantity } from '../model/quantity.js';
import { series } from '../testing/shape.js';
import { logOf } from '../testing/logs.js';
import { correctionSchema, correctionText } from '../model/correction.js';
import { corrected } from './applyCorrections.js';
import { FROM, iso, row } from '../testing/spoiltHome.js';

describe('corrections are layers', () => {
  const quantities = ['solar', 'load', 'grid', 'battery'] as const;
  test('turning a sign twice, or moving a clock and back, gives back the log', async () => {
    const source = await logOf(series(FROM, 2, 15).map(row), iso, 900);
    fc.assert(
      fc.property(
        fc.constantFrom<Quantity>(...quantities),
        fc.integer({ min: -8, max: 8 }),
        (quantity, hours) => {
          const turn = { kind: 'scale', source: null, quantity, factor: -1 } as const;
          const shift = (byMs: number) =>
            ({ kind: 'shift', source: 'log.csv', byMs, stretches: null }) as const;
          const back = corrected(source, [turn, shift(hours * 3_600_000), turn, shift(-hours * 3_600_000)]);
          expect(back.startMs).toBe(source.startMs);
          for (const [name, { values }] of source.columns)
            expect([...back.columns.get(name)!.values].map((value) => value || 0)).toEqual(
              [...values].map((value) => value || 0),
            );
        },
      ),
    );
  });

  test('leave the source as it came, and say what they do', async () => {
    const source = await logOf(series(FROM, 1, 15).map(row), iso, 900);
    const before = [...source.columns.get('load')!.values];
    const blank = {
      kind: 'blank',
      source: null,
      quantity: null,
      stretches: [[FROM, FROM + 3_600_000]],
    } as const;
    const parsed = correctionSchema.parse(blank);
    const { log } = mergeSources([corrected(source, [parsed])], 'UTC', []);
    expect([...log.channels.get('load')!.values.subarray(0, 5)]).toEqual([NaN, NaN, NaN, NaN, before[4]]);
    expect([...source.columns.get('load')!.values]).toEqual(before);
    expect(correctionText(parsed)).toBe('Everything is taken as missing in 1 stretch.');
    expect(correctionText({ kind: 'scale', source: 'a.csv', quantity: 'grid', factor: -1 })).toBe(
      'The grid power of a.csv has its sign reversed.',
    );
    expect(
      [
        { kind: 'lead', source: 'a.csv', quantity: 'batteryDc' } as const,
        { kind: 'keep', source: null, quantity: 'load:boiler' } as const,
        { kind: 'shift', source: 'a.csv', byMs: 3_600_000, stretches: null } as const,
        { kind: 'exchange', source: 'a.csv', quantities: ['load', 'solar:east roof'] } as const,
        { kind: 'complement', source: null, quantity: 'soc' } as const,
        { kind: 'scale', source: null, quantity: null, factor: 1000 } as const,
        { kind: 'scale', source: null, quantity: 'batteryTemp', factor: 0.1 } as const,
      ].map((one) => correctionText(correctionSchema.parse(one))),
    ).toEqual([
      'a.csv leads the battery power on the DC side.',
      'Values of the load of boiler are used as they are, however high.',
      'The clock of a.csv is moved by 60 min.',
      'The columns load and solar power of east roof of a.csv are exchanged.',
      'The state of charge is taken as 100 % minus its value.',
      'Every power is multiplied by 1000.',
      'The battery temperature is multiplied by 0.1 in its unit.',
    ]);
  });
});
