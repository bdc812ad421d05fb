import { describe, expect, test } from '@jest/globals';
import type { System } from '@long-tally/core';
import { formOf, systemOf } from './form.js';
import { NEW_DEMAND, tariffSchema } from './tariffForm.js';

// Invented for the test: every kind of key that the form does not show.
const SYSTEM: System = {
  schema: 'long-tally/system@1',
  name: 'A home',
  timeZone: 'Europe/Lisbon',
  configurations: [
    {
      from: '2023-01-01T00:00:00+00:00',
      battery: {
        modules: 2,
        moduleKWh: 5,
        chemistry: 'LFP',
        reserve: 0.1,
        reserveWindows: [{ start: '00:00', end: '08:00', reserve: 0.2, months: [1, 2] }],
      },
      inverter: { continuousKW: 5 },
      grid: 'connected',
      arrays: [
        { name: 'east', kWp: 2, inverterKW: 1.8 },
        { name: 'west', kWp: 3, inverterKW: 2.5 },
      ],
      chargeWindows: [{ start: '23:00', end: '05:00', toSoc: 0.9, months: [11, 12] }],
      price: { paid: 9000, on: '2023-01-01' },
    },
  ],
  tariffs: [
    {
      from: '2023-01-01',
      standingPerDay: 0.3,
      import: [
        { rate: 0.2 },
        { rate: 0.5, dayClass: 'dear' },
        { rate: 0.1, days: ['mon', 'sun'], months: [6], start: '23:00', end: '07:00' },
        { rate: 0.4, aboveKWh: 300 },
      ],
      export: [{ rate: 0.05, months: [7] }],
      dayClasses: { dear: ['2023-01-15'] },
      billingDay: 5,
      demand: [{ ratePerKW: 4, windowMinutes: 30 }],
      exportScheme: 'net',
      taxShare: 0.15,
    },
  ],
  discountRate: 0.03,
};

describe('the form of a system', () => {
  test('loses nothing that it does not show', () => {
    const { accuracy, ...saved } = systemOf(formOf(SYSTEM), SYSTEM) as System;
    expect(accuracy).toEqual({});
    const [configuration] = saved.configurations!;
    expect(new Date(configuration!.from)).toEqual(new Date(SYSTEM.configurations![0]!.from));
    expect({ ...saved, configurations: [{ ...configuration!, from: '' }] }).toEqual({
      ...SYSTEM,
      configurations: [{ ...SYSTEM.configurations![0]!, from: '' }],
    });
  });

  test('an array or a price that is taken away leaves the others what they were', () => {
    const form = formOf(SYSTEM);
    const saved = systemOf(
      {
        ...form,
        configurations: form.configurations.map((one) => ({ ...one, arrays: one.arrays.slice(1) })),
        tariffs: form.tariffs.map((one) => ({ ...one, import: one.import.slice(1) })),
      },
      SYSTEM,
    ) as System;
    expect(saved.configurations![0]!.arrays).toEqual([{ name: 'west', kWp: 3, inverterKW: 2.5 }]);
    expect(saved.tariffs![0]!.import).toEqual(SYSTEM.tariffs![0]!.import!.slice(1));
  });

  test('other days chosen in the form take the place of those in the file', () => {
    const form = formOf(SYSTEM);
    const [tariff] = form.tariffs;
    const saved = systemOf(
      { ...form, tariffs: [{ ...tariff!, import: [{ ...tariff!.import[2]!, days: 'week' }] }] },
      SYSTEM,
    ) as System;
    expect(saved.tariffs![0]!.import![0]).toEqual({
      rate: 0.1,
      days: ['mon', 'tue', 'wed', 'thu', 'fri'],
      months: [6],
      start: '23:00',
      end: '07:00',
    });
  });

  test('a charge on the highest power is typed, written, and taken away again', () => {
    const form = formOf(SYSTEM);
    const [tariff] = form.tariffs;
    expect(tariff!.demand).toEqual([
      { origin: '0', rate: '4', window: '30', days: 'all', start: '', end: '' },
    ]);
    const savedWith = (demand: (typeof tariff & {})['demand']) =>
      (systemOf({ ...form, tariffs: [{ ...tariff!, demand }] }, SYSTEM) as System).tariffs![0]!.demand;
    const added = {
      ...NEW_DEMAND,
      rate: '2.5',
      window: '15',
      days: 'week' as const,
      start: '7:00',
      end: '21:00',
    };
    expect(savedWith([...tariff!.demand, added])).toEqual([
      { ratePerKW: 4, windowMinutes: 30 },
      {
        ratePerKW: 2.5,
        windowMinutes: 15,
        days: ['mon', 'tue', 'wed', 'thu', 'fri'],
        start: '07:00',
        end: '21:00',
      },
    ]);
    expect(savedWith([])).toBeUndefined();
    expect(tariffSchema.safeParse({ ...tariff!, demand: [{ ...added, rate: 'much' }] }).success).toBe(false);
  });

  test('months, blocks, announced days, net metering and tax are typed and written', () => {
    const form = formOf({ ...SYSTEM, tariffs: [{ from: '2024-01-01', import: [{ rate: 0.2 }] }] });
    const [tariff] = form.tariffs;
    const [rate] = tariff!.import;
    const written = (more: object, rateMore: object = {}) =>
      (
        systemOf(
          { ...form, tariffs: [{ ...tariff!, ...more, import: [{ ...rate!, ...rateMore }] }] },
          null,
        ) as System
      ).tariffs![0]!;
    expect(
      written(
        {
          tax: '15',
          billingDay: '5',
          scheme: 'net',
          settleMonth: '4',
          settleRate: '0.05',
          classes: 'dear: 2024-01-15, 2024-02-02',
        },
        { months: '11-2', above: '300', dayClass: 'dear' },
      ),
    ).toMatchObject({
      taxShare: 0.15,
      billingDay: 5,
      exportScheme: 'net',
      settleMonth: 4,
      settleRate: 0.05,
      dayClasses: { dear: ['2024-01-15', '2024-02-02'] },
      import: [{ rate: 0.2, months: [11, 12, 1, 2], aboveKWh: 300, dayClass: 'dear' }],
    });
    expect(written({})).toEqual({ from: '2024-01-01', import: [{ rate: 0.2 }] });
    const wrong = tariffSchema.safeParse({
      ...tariff!,
      classes: 'dear 2024',
      import: [{ ...rate!, months: '13' }],
    });
    expect(wrong.error!.issues.map(({ path }) => path.join('.'))).toEqual(['classes', 'import.0.months']);
  });
});
