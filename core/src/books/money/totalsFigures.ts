import { estimated, insufficient, notMeasured, type Figure, type Interval } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { BilledTotals } from './billedTotals.js';
import { MONEY, type MoneyKey } from './methods.js';

const NO_COURSE =
  'It is known as totals only: when the energy was used tells what it saved. A log of the grid, the load and the battery would supply it.';

/** The figures of money that energies without a course give, estimated; the others say what is missing. */
export function totalsFigures({ accuracy }: RangeData, billed: BilledTotals): Record<string, Figure> {
  const { importCost, exportIncome, bill, withoutSystem, importKWh, loadKWh, totals, days, isUsual } = billed;
  const assumptions = [
    isUsual
      ? 'Totals are spread over their time as the home usually buys, by the hours of the week of its own log; the bounds lie a quarter of the way to the cheapest and the dearest hours.'
      : 'Totals are spread evenly over their time; the bounds put each into its cheapest and its dearest hours.',
  ];
  const tell = (key: MoneyKey, { value, low, high }: Interval, meter: number) =>
    estimated(
      { value, low: value - Math.hypot(value - low, meter), high: value + Math.hypot(high - value, meter) },
      {
        unit: MONEY[key].unit,
        method: MONEY[key].method,
        basis: { days, source: isUsual ? 'usual hours' : 'even hours' },
        working: [
          { label: 'bought', value: importKWh, unit: 'kWh', role: 'input' },
          { label: MONEY[key].label, value, unit: MONEY[key].unit, role: 'result' },
          {
            label: 'hours of the totals',
            value: (high - low) / 2,
            unit: MONEY[key].unit,
            role: 'uncertainty',
          },
          { label: 'meters', value: meter, unit: MONEY[key].unit, role: 'uncertainty' },
        ],
        assumptions,
      },
    );
  const exact = (value: number): Interval => ({ value, low: value, high: value });
  const over = ({ value, low, high }: Interval, by: number): Interval => ({
    value: value / by,
    low: low / by,
    high: high / by,
  });
  const gridOff = accuracy.grid * (importCost.value + exportIncome.value);
  const saving = withoutSystem && {
    value: withoutSystem.value - bill.value,
    low: withoutSystem.low - bill.high,
    high: withoutSystem.high - bill.low,
  };
  const savingOff = withoutSystem ? Math.hypot(gridOff, accuracy.load * withoutSystem.value) : 0;
  const told: Partial<Record<MoneyKey, Figure>> = {
    importCost: tell('importCost', importCost, accuracy.grid * importCost.value),
    exportIncome: tell('exportIncome', exportIncome, accuracy.grid * exportIncome.value),
    standing: tell('standing', exact(totals.standing), 0),
    ...(importKWh > 0
      ? { pricePerImportedKWh: tell('pricePerImportedKWh', over(importCost, importKWh), 0) }
      : {}),
    ...(totals.demandCost > 0
      ? {
          bill: insufficient(
            MONEY.bill.unit,
            MONEY.bill.method,
            'The tariff charges the highest demand, which totals do not tell. A log of the grid would supply it.',
          ),
        }
      : { bill: tell('bill', bill, gridOff) }),
    ...(withoutSystem
      ? { withoutSystem: tell('withoutSystem', withoutSystem, accuracy.load * withoutSystem.value) }
      : {}),
    ...(saving && totals.demandCost === 0 ? { saving: tell('saving', saving, savingOff) } : {}),
    ...(loadKWh && totals.demandCost === 0
      ? { pricePerKWh: tell('pricePerKWh', over(bill, loadKWh), gridOff / loadKWh) }
      : {}),
  };
  return Object.fromEntries(
    (Object.keys(MONEY) as MoneyKey[]).map((key) => [
      `money.${key}`,
      told[key] ?? notMeasured(MONEY[key].unit, MONEY[key].method, NO_COURSE),
    ]),
  );
}
