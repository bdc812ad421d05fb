import type { Method, Unit } from '../../model/figure.js';

const PRACTICE = 'Common practice, no published source.';

interface Entry {
  readonly unit: Unit;
  readonly label: string;
  readonly meaning: string;
  readonly method: Method;
}

const entry = (
  key: string,
  unit: Unit,
  label: string,
  meaning: string,
  formula: string,
  source = PRACTICE,
): Entry => ({
  unit,
  label,
  meaning,
  method: { id: `money.${key}`, formula, source },
});

/** The figures of money, in the order in which they are told. */
export const MONEY = {
  bill: entry(
    'bill',
    'currency',
    'Bill',
    'What the grid cost, without the standing charge.',
    'import cost + demand − export income, with tax',
  ),
  standing: entry(
    'standing',
    'currency',
    'Standing charge',
    'What is owed either way.',
    'standing charge a day × days, with tax',
  ),
  importCost: entry(
    'importCost',
    'currency',
    'Paid for import',
    'What was paid for energy bought.',
    'Σ import × rate of its interval',
  ),
  exportIncome: entry(
    'exportIncome',
    'currency',
    'Earned by export',
    'What energy sold, or credited, brought in.',
    'Σ export × rate of its interval; under net metering kWh credited × mean import rate of the bill',
  ),
  withoutSystem: entry(
    'withoutSystem',
    'currency',
    'Without the system',
    'What the load would have cost without solar and battery.',
    'a bill on the load',
  ),
  withoutBattery: entry(
    'withoutBattery',
    'currency',
    'Without the battery',
    'What solar alone would have left to pay.',
    'a bill on max(0, load − solar), with max(0, solar − load) sold',
  ),
  saving: entry('saving', 'currency', 'Saving', 'What the system saved.', 'without the system − bill'),
  savingPerYear: entry(
    'savingPerYear',
    'currency',
    'Saving a year',
    'The same over a year of 365.25 days.',
    'saving ÷ days × 365.25; interval by bootstrap over the months',
  ),
  'saving.solarDirect': entry(
    'saving.solarDirect',
    'currency',
    'By sun used at once',
    'What solar that went straight to the load saved.',
    'Σ solar to load × import rate',
  ),
  'saving.solarStored': entry(
    'saving.solarStored',
    'currency',
    'By sun from the battery',
    'What stored solar saved.',
    'Σ discharge of solar origin to load × import rate',
  ),
  'saving.shifted': entry(
    'saving.shifted',
    'currency',
    'By shifted grid energy',
    'What buying at one rate and using at another saved, losses included.',
    'Σ discharge of grid origin to load × rate − Σ grid to store × rate',
  ),
  'saving.export': entry(
    'saving.export',
    'currency',
    'By export',
    'What export brought in.',
    'export income',
  ),
  'saving.other': entry(
    'saving.other',
    'currency',
    'The rest',
    'Trickle, metering, demand, and what the parts leave.',
    'saving − the other parts',
  ),
  pricePerKWh: entry(
    'pricePerKWh',
    'currency/kWh',
    'Price of a kWh used',
    'What a kWh of the load came to.',
    'bill ÷ load',
  ),
  pricePerImportedKWh: entry(
    'pricePerImportedKWh',
    'currency/kWh',
    'Price of a kWh bought',
    'The mean rate that was paid.',
    'import cost ÷ import',
  ),
  lossCost: entry(
    'lossCost',
    'currency',
    'Cost of battery losses',
    'What the energy lost in the battery would have been worth.',
    'Σ by day of losses × what a kWh was worth on it',
  ),
  idleCost: entry(
    'idleCost',
    'currency',
    'Cost of the idle draw',
    'What the energy that the equipment draws for itself would have been worth.',
    'idle draw × hours × mean worth of a kWh by day',
  ),
  batterySavingPerYear: entry(
    'batterySavingPerYear',
    'currency',
    'Saving of the battery, a year',
    'What the battery alone saves beside solar.',
    '(without the battery − bill) ÷ days × 365.25',
  ),
  payback: entry(
    'payback',
    'years',
    'Payback',
    'Years in which the saving pays the price.',
    '(paid − incentives) ÷ (saving a year − upkeep)',
  ),
  'payback.discounted': entry(
    'payback.discounted',
    'years',
    'Payback, discounted',
    'The same with later savings worth less and prices that rise.',
    'years n with Σ saving × (1 + rise)^(k − 1) ÷ (1 + discount)^k = price',
    'Present value of a growing annuity, any textbook of finance (from memory).',
  ),
  paidBackShare: entry(
    'paidBackShare',
    'share',
    'Paid back so far',
    'Share of the price that savings have paid since it was paid.',
    'savings since then ÷ (paid − incentives)',
  ),
  'costPerStoredKWh.warranted': entry(
    'costPerStoredKWh.warranted',
    'currency/kWh',
    'A kWh stored, to the warranty’s end',
    'What a kWh through the battery costs up to the first limit of its warranty.',
    'price of the battery ÷ throughput to the first warranted limit',
  ),
  'costPerStoredKWh.projected': entry(
    'costPerStoredKWh.projected',
    'currency/kWh',
    'A kWh stored, to its projected end',
    'The same up to 70 % of the capacity.',
    'price of the battery ÷ throughput to 70 % of the reference',
  ),
} as const;
export type MoneyKey = keyof typeof MONEY;
