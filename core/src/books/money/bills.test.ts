import { expect, test } from '@jest/globals';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { endMs } from '../../model/log.js';
import { logOf, systemOf, TEN_KWH, testData } from '../../testing/logs.js';
import { parseSystem } from '../../system/parse.js';
import { moneyAccount } from './account.js';
import type { Bill } from './drawnBills.js';

/** Computed apart, in Python: core/test-data/make_bills.py. */
const EXPECTED = testData('bills.json') as Record<
  string,
  { readonly tariff: object; readonly bills: readonly Partial<Bill>[] }
>;

/** The same invented hours as there. */
function rows() {
  let x = 42n;
  return Array.from({ length: 24 * 122 - 1 }, () => {
    x = (1103515245n * x + 12345n) % 2n ** 31n;
    return { grid_w: (Number(x >> 8n) % 6000) - 2500 };
  });
}

test.each(Object.entries(EXPECTED))(
  'bills by %s are those of an independent computation',
  async (_, { tariff, bills }) => {
    const system = parseSystem(
      JSON.stringify({
        ...systemOf(TEN_KWH, 'Europe/Madrid'),
        currency: 'EUR',
        tariffs: [{ from: '2024-01-01', ...tariff }],
      }),
      'system.json',
    );
    const prepared = prepare(system, [await logOf(rows(), '2024-02-29T23:00:00Z', 3600)]);
    const { log } = prepared;
    const data = rangeDataOf(prepared, { fromMs: log.startMs, toMs: endMs(log) });
    const account = moneyAccount(data, system, prepared.columns);
    if ('reason' in account) throw new Error(account.reason);
    expect(account.bills).toHaveLength(bills.length);
    account.bills.forEach((bill, b) => {
      for (const [key, value] of Object.entries(bills[b]!))
        expect([key, bill[key as keyof Bill]]).toEqual([key, expect.closeTo(value as number, 6)]);
    });
  },
);
