import { describe, expect, test } from '@jest/globals';
import { tableText } from './tableText.js';

const cell = (textContent: string | null, colSpan = 1) => ({ textContent, colSpan });

describe('a table as text', () => {
  test('has a line for each row and a tab between cells', () => {
    const rows = [
      { cells: [cell('month'), cell('import,\n kWh')] },
      { cells: [cell('May'), cell(' 1,234.5 ')] },
    ];
    expect(tableText({ rows })).toBe('month\timport, kWh\nMay\t1,234.5');
  });

  test('keeps columns under each other where a cell is wide, and numbers numbers', () => {
    const rows = [
      { cells: [cell('all', 2), cell('−3.5')] },
      { cells: [cell(null), cell('a − b'), cell('')] },
    ];
    expect(tableText({ rows })).toBe('all\t\t-3.5\n\ta − b\t');
  });

  test('of nothing is nothing', () => {
    expect(tableText({ rows: [] })).toBe('');
  });
});
