import { MONEY_FIGURES } from '../books/money/figures.js';
import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import { seededRandom } from '../statistics/random.js';
import { analyse } from './report.js';
import type { System } from '../system/schema.js';
import { csvOf, logOf, read, reportOf, systemOf, TEN_KWH, type Row } from '../testing/logs.js';
import { longTest } from '../testing/long.js';

const START = '2024-03-01T00:00:00Z';
const UNITS = [
  'kWh',
  'kWh/day',
  'W',
  'kW',
  'share',
  'cycles',
  'h',
  'days',
  'share/year',
  'date',
  'C-rate',
  '°C',
  'kWh/kWp',
  'currency',
  'count',
  'Hz',
  'V',
  'years',
  'K·d',
  'currency/kWh',
] as const;
const KEYS = [
  ...[
    'solar',
    'load',
    'import',
    'export',
    'charge',
    'discharge',
    'storeChange',
    'losses',
    'closingError',
    'closingShare',
    'trickle',
  ],
  ...[
    'selfSufficiency.grid',
    'selfSufficiency.supply',
    'selfSufficiency.solar',
    'selfConsumption',
    'gridFreeDays',
    'gridFreeShare',
  ],
  ...['solarToLoad', 'solarToStore', 'solarToExport'].map((key) => `flow.${key}`),
  ...['storeToLoad', 'storeToExport', 'gridToLoad', 'gridToStore'].map((key) => `flow.${key}`),
].map((key) => `account.${key}`);
const OTHER_KEYS = [
  ...[
    'losses.mean',
    ...MONEY_FIGURES.map(({ key }) => key),
    'peak.stops',
    'peak.headroom.leg',
    'peak.leg.held',
    'peak.leg.tripped',
    'solar.clipped',
    'solar.heldBack',
    'solar.dcGain',
    'solar.surplus',
    'account.gridFreeDays.beyondTrickle',
    'capacity.trial.delivered',
    'capacity.trial.modules',
    'solar.specificYield',
    'load.baseLoad',
    'losses.roundTrip.fullToFull',
    'losses.roundTrip.counter',
    'losses.idle.battery',
    'losses.conversion.discharge',
    'losses.idle.inverter',
    'losses.idle.rest',
    'losses.idle.gridStandby',
    'losses.unexplained',
    'wear.throughput',
    'wear.efc.nameplate',
    'wear.efc.usable',
    'wear.efc.warranty',
    'wear.efc.both',
  ],
  ...['losses.part.idle', 'losses.part.conversion', 'losses.part.inverter'],
  ...['wear.depth.mean', 'wear.depth.max', 'wear.soc.mean', 'peak.load', 'peak.headroom.batteryOnly'],
  ...[
    'wear.cycles.rainflow',
    'wear.cycles.rainflowDepth',
    'wear.damage',
    'wear.timeAbove95',
    'wear.timeBelow10',
  ],
  ...['wear.rate.p50', 'wear.rate.p95', 'wear.rate.max', 'wear.rate.hoursAboveHalf'],
  ...['wear.coldCharge', 'wear.hotHours'],
  ...['capacity.now', 'capacity.stateOfHealth', 'capacity.fadePerYear', 'capacity.fadePerYear.yearOnYear'],
  ...['trial', 'firstDays', 'nameplate'].map((school) => `capacity.stateOfHealth.${school}`),
  'capacity.now.fromCharge',
  ...['capacity.cutOff', 'capacity.cutOff.drift'],
  ...['capacity.endOfLife.80', 'capacity.endOfLife.70', 'capacity.endOfLife.60'],
  ...['outage.count', 'outage.hours', 'outage.carriedShare', 'outage.unservedHours', 'outage.runtime.now'],
  ...['peak.load.p999', 'peak.leg.load', 'peak.leg.imbalance', 'peak.transfers'],
  ...['continuous', 'batteryOnly', 'leg'].map((limit) => `peak.hoursAbove.${limit}`),
  ...['outage.replay.p10', 'outage.replay.p50', 'outage.replay.p90'],
  ...['outage.survive.12h', 'outage.survive.24h', 'outage.reserve.12h90'],
  ...['warranty.years', 'warranty.throughput', 'warranty.cycles', 'warranty.first'],
];

/** The contract of `long-tally/report@1`, written down independently of the code that makes it. */
const instant = z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$/);
const number = z.number().nullable();
const figure = z
  .object({
    value: number,
    low: number,
    high: number,
    unit: z.enum(UNITS),
    status: z.enum(['measured', 'estimated', 'insufficient', 'not-measured']),
    reason: z.string().min(10).nullable(),
    method: z.string().min(3),
    basis: z.record(z.string(), z.union([z.number(), z.string(), z.array(z.string())])),
  })
  .refine(({ value, low, high, status, reason }) => {
    const absent = status === 'insufficient' || status === 'not-measured';
    return absent
      ? value === null && low === null && high === null && reason !== null
      : low! <= value! && value! <= high! && reason === null;
  });
const contract = z.object({
  schema: z.literal('long-tally/report@1'),
  range: z.object({ from: instant, to: instant, timeZone: z.string(), days: z.number().int() }),
  coverage: z.object({
    stepSeconds: z.number().positive(),
    share: z.number().min(0).max(1),
    gaps: z.array(
      z.object({ from: instant, to: instant, hours: z.number().positive(), quantities: z.array(z.string()) }),
    ),
  }),
  findings: z.array(
    z.object({
      code: z.string(),
      severity: z.enum(['note', 'warning', 'error']),
      from: instant.nullable(),
      to: instant.nullable(),
      message: z.string().regex(/^[A-Z0-9].*\.$/s),
      source: z.string().nullable(),
      kWh: number,
    }),
  ),
  figures: z.record(z.string(), figure),
  days: z.array(
    z.object({
      date: z.iso.date(),
      solar: number,
      load: number,
      import: number,
      export: number,
      charge: number,
      discharge: number,
      socMin: number,
      socMax: number,
      coverage: z.number().min(0).max(1),
      gridFree: z.boolean().nullable(),
    }),
  ),
});

/** Any log at all, with the quantities chosen by a seed. */
function anyRows(seed: number): Row[] {
  const random = seededRandom(seed);
  const has = {
    solar_w: random() < 0.7,
    load_w: random() < 0.8,
    grid_w: random() < 0.8,
    battery_w: random() < 0.6,
    battery_dc_w: random() < 0.3,
    soc_pct: random() < 0.7,
    grid_v: random() < 0.3,
  };
  const rows = Array.from({ length: 300 }, (_, i): Row => {
    const value = {
      solar_w: 3000 * random(),
      load_w: 2000 * random(),
      grid_w: 4000 * random() - 2000,
      battery_w: 8000 * random() - 4000,
      battery_dc_w: 8000 * random() - 4000,
      soc_pct: 100 * random(),
      grid_v: random() < 0.1 ? 0 : 230,
    };
    return Object.fromEntries(
      Object.entries(value).filter(([key]) => has[key as keyof typeof has] && (random() < 0.95 || i < 2)),
    );
  });
  return Object.values(has).some(Boolean) ? rows : [{ load_w: 1 }, { load_w: 1 }];
}

describe('the report keeps its contract', () => {
  const systems: readonly System[] = [
    systemOf(TEN_KWH, 'Pacific/Auckland'),
    { schema: 'long-tally/system@1', name: 'Bare', timeZone: 'Australia/Lord_Howe' },
    {
      ...systemOf({ modules: 2, moduleKWh: 5 }),
      configurations: [
        {
          from: '2024-03-02T00:00:00Z',
          grid: 'none',
          battery: { modules: 2, moduleKWh: 5, maxChargeKW: 1, maxDischargeKW: 1 },
        },
      ],
    },
  ];

  longTest('for every log and system, through JSON and back', async () => {
    for (let seed = 1; seed <= 40; seed++) {
      const system = systems[seed % systems.length]!;
      const report = await reportOf(system, anyRows(seed), START, [300, 900, 3600][seed % 3]!);
      const printed: unknown = JSON.parse(JSON.stringify(report));
      const result = contract.safeParse(printed);
      expect([seed, result.error?.issues]).toEqual([seed, undefined]);
      // Nothing that JSON cannot hold: what was printed is what was computed.
      expect(printed).toEqual(report);
      expect(Object.keys(report.figures).sort()).toEqual([...KEYS, ...OTHER_KEYS].sort());
    }
  });

  test('for a range before, after and across the log', async () => {
    const log = await logOf(anyRows(3), START, 900);
    const ms = Date.parse(START);
    for (const [from, to] of [
      [-9e8, -5e8],
      [-5e7, 5e7],
      [1e8, 9e8],
      [8e8, 9e8],
      [0, 1],
    ] as const) {
      const report = analyse(systems[0]!, [log], { fromMs: ms + from, toMs: ms + to });
      expect(contract.safeParse(report).error?.issues).toBeUndefined();
      expect(Date.parse(report.range.to) - Date.parse(report.range.from)).toBe(to - from);
    }
  });
});

test('reading back what was written changes nothing: units convert there and back', async () => {
  const rows = anyRows(7).map(
    (row) =>
      Object.fromEntries(
        Object.entries(row).map(([key, value]) => [key, Math.round(value * 10) / 10]),
      ) as Row,
  );
  const first = (await read(csvOf(rows, START, 300))).log;
  const soc = first.columns.get('soc')?.values ?? [];
  const again = (
    await read(
      csvOf(
        rows.map((row, i) =>
          soc[i] === undefined || Number.isNaN(soc[i])
            ? row
            : { ...row, soc_pct: Number((soc[i] * 100).toFixed(1)) },
        ),
        START,
        300,
      ),
    )
  ).log;
  expect(again).toEqual(first);
});
