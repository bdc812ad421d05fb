import { describe, expect, test } from '@jest/globals';
import { mappingSchema, type MappedColumn, type Mapping } from '@long-tally/core';
import fc from 'fast-check';
import {
  directionsOf,
  QUANTITIES,
  readingOf,
  readingsOf,
  withAlternative,
  withColumn,
  withDecimal,
  withTime,
} from './mappingEdit.js';

// Invented: a file of two columns beside its time.
const MAPPING: Mapping = {
  schema: 'long-tally/mapping@1',
  table: { separator: ';', decimal: ',', headerLine: 1, skipLines: 0 },
  time: { columns: ['When'], format: 'ymd', zone: 'Europe/Lisbon', marks: 'start' },
  columns: [
    { column: 'PV', quantity: 'solar', sign: 1, kind: 'power', unit: 'kW', sample: 'mean' },
    { column: 'SOC', quantity: 'soc', sign: 1, kind: 'state', unit: '%', sample: 'mean' },
  ],
};
const names = ({ columns }: Mapping) => columns.map(({ column }) => column);
const columnOf = (mapping: Mapping, name: string) => mapping.columns.find(({ column }) => column === name);

describe('what a column may be read as', () => {
  test.each(QUANTITIES.map(([key]) => key))(
    '%s has readings that differ, and each is found again',
    (quantity) => {
      const readings = readingsOf(quantity);
      expect(new Set(readings.map(({ text }) => text)).size).toBe(readings.length);
      for (const { kind, unit, sample } of readings) {
        const column: MappedColumn = { column: 'x', quantity, sign: 1, kind, unit, sample };
        expect(readingOf(column)).toMatchObject({ kind, unit, sample });
      }
    },
  );

  test('a reading that the quantity does not allow falls back on its first', () => {
    const { kind, unit } = readingOf({ column: 'x', quantity: 'soc', sign: 1, kind: 'power', unit: 'kW' });
    expect([kind, unit]).toEqual(['state', '%']);
  });

  test('signs are named by what they mean', () => {
    expect(directionsOf('grid')[0]).toBe('import is positive');
    expect(directionsOf('batteryDc')).toEqual(['discharge is positive', 'charge is positive']);
    expect(directionsOf('soc')[1]).toBe('depth of discharge');
    expect(directionsOf('rain')).toEqual(['as written', 'sign reversed']);
  });
});

describe('a mapping that is changed', () => {
  const column = fc.constantFrom('PV', 'SOC', 'New');
  const quantity = fc.constantFrom(...QUANTITIES.map(([key]) => key));

  test('is a mapping again, by its schema, and has just the column changed that was meant', () => {
    fc.assert(
      fc.property(column, quantity, fc.constantFrom(1 as const, -1 as const), (name, meant, sign) => {
        const changed = withColumn(MAPPING, name, { quantity: meant, sign });
        expect(mappingSchema.safeParse(changed).error).toBeUndefined();
        expect(columnOf(changed, name)).toMatchObject({ quantity: meant, sign });
        for (const one of MAPPING.columns)
          if (one.column !== name) expect(columnOf(changed, one.column)).toBe(one);
        expect(names(changed)).toEqual(name === 'New' ? ['PV', 'SOC', 'New'] : ['PV', 'SOC']);
      }),
    );
  });

  test('keeps the unit where the new quantity has it too, and takes the usual one where it has not', () => {
    expect(columnOf(withColumn(MAPPING, 'PV', { quantity: 'load' }), 'PV')).toMatchObject({ unit: 'kW' });
    expect(columnOf(withColumn(MAPPING, 'PV', { quantity: 'outdoorTemp' }), 'PV')).toMatchObject({
      kind: 'state',
      unit: '°C',
    });
  });

  test('leaves a column in the file, and the others as they were', () => {
    expect(names(withColumn(MAPPING, 'PV', null))).toEqual(['SOC']);
    expect(MAPPING.columns).toHaveLength(2);
  });

  test('is read with another time or decimal sign', () => {
    expect(withTime(MAPPING, { zone: 'offset' }).time).toEqual({ ...MAPPING.time, zone: 'offset' });
    expect(withDecimal(MAPPING, '.').table).toEqual({ ...MAPPING.table, decimal: '.' });
  });

  test('takes the other way that a conclusion offers, of whatever it is about', () => {
    const taken = (about: string, set: Record<string, string | number>) =>
      withAlternative(MAPPING, about, { says: 'otherwise', set });
    expect(taken('decimal', { 'table.decimal': '.' }).table.decimal).toBe('.');
    expect(names(taken('column:PV', { quantity: 'none' }))).toEqual(['SOC']);
    expect(columnOf(taken('column:PV', { unit: 'W' }), 'PV')).toMatchObject({ quantity: 'solar', unit: 'W' });
    expect(columnOf(taken('column:PV', { sign: -1 }), 'PV')).toMatchObject({ sign: -1, unit: 'kW' });
    expect(taken('time', { 'time.marks': 'end', 'time.zone': 'offset' }).time).toMatchObject({
      marks: 'end',
      zone: 'offset',
      columns: ['When'],
    });
  });
});
