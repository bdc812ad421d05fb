import { counted } from '../../model/counted.js';
import { estimated, insufficient, notMeasured, type Figure, type WorkingLine } from '../../model/figure.js';
import type { Basis } from '../../model/basis.js';
import { coverageOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { WHOLE_YEAR_DAYS, YEAR_DAYS } from '../../time/days.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import { seededRandom } from '../../statistics/random.js';
import { quantile } from '../../statistics/quantile.js';
import { totalsOf, type MoneyAccount, type NoMoney } from './account.js';
import { billedTotals } from './billedTotals.js';
import type { Bill } from './drawnBills.js';
import { MONEY, type MoneyKey } from './methods.js';
import { payback, type Amount } from './payback.js';
import { totalsFigures } from './totalsFigures.js';
import { drawnShare, toldApart } from '../shared/idleDraw.js';
import { hiddenParts, uncertaintyLines, type Hidden } from '../shared/uncertainty.js';

/** Of what is bought so much may be without a price before nothing is told. */
const MOST_UNPRICED = 0.05;
/** A saving of less than a year speaks for its season: the rest of the year may differ by this share of it. */
const SEASON_OFF = 0.5;
const RESAMPLES = 400;
const LEAST_MONTHS = 6;
/** Solar behind an inverter whose efficiency is taken as usual. */
const CONVERSION_OFF = 0.02;

/** The origin of what is stored is traced from meters of sun and battery: so much of it may be the other's. */
const ORIGIN_OFF = 0.04;

/** A mean rate depends on when energy was bought, which a meter's gain does not move, but its floor and step do. */
const SHAPE_OFF = 0.005;

/**
 * What a range cost and saved.
 * @param account of the range, or why there is none
 * @param known figures that were made before: losses and the end of the battery's life
 */
export function moneyFigures(
  data: RangeData,
  system: System,
  account: MoneyAccount | NoMoney,
  known: Readonly<Record<string, Figure>>,
): Record<string, Figure> {
  const billed = billedTotals(data, system);
  if (billed) return totalsFigures(data, billed);
  if ('reason' in account)
    return all((key) => notMeasured(MONEY[key].unit, MONEY[key].method, account.reason));
  const { totals, firstUnpricedMs } = account;
  if (firstUnpricedMs !== null && totals.unpricedKWh > MOST_UNPRICED * totals.importKWh) {
    const first = siteTimeOf(zoneOf(data.log.zone), firstUnpricedMs);
    return all((key) =>
      insufficient(
        MONEY[key].unit,
        MONEY[key].method,
        `${totals.unpricedKWh.toFixed(0)} of ${totals.importKWh.toFixed(0)} kWh that were bought have no price, first at ${first}. Add an import rate without a window to the tariff of that time, or the hour to the price list.`,
      ),
    );
  }
  return figuresOf(data, system, account, known);
}

function all(make: (key: MoneyKey) => Figure): Record<string, Figure> {
  return Object.fromEntries((Object.keys(MONEY) as MoneyKey[]).map((key) => [`money.${key}`, make(key)]));
}

function figuresOf(
  data: RangeData,
  system: System,
  account: MoneyAccount,
  known: Readonly<Record<string, Figure>>,
): Record<string, Figure> {
  const { totals, parts, loadKWh, withoutSystemTotal, withoutBatteryTotal, costOfAWatt, hidden } = account;
  const { accuracy, range } = data;
  const days = account.bills.reduce((sum, bill) => sum + bill.days, 0);
  const covered = coverageOf(data, data.total.gridS);
  const basis: Basis = {
    days,
    coverage: covered,
    bills: account.bills.length,
    unpricedKWh: totals.unpricedKWh,
  };
  const meter = Math.hypot(
    accuracy.grid * (totals.importCost + totals.exportIncome),
    accuracy.offsetW * costOfAWatt * 0.5,
  );
  // A meter's zero counts for all of the time in which the load flows.
  const zeroOff = accuracy.offsetW * costOfAWatt;
  const loadOff = Math.hypot(accuracy.load * withoutSystemTotal, zeroOff);
  const saving: Amount = { value: withoutSystemTotal - totals.total, half: Math.hypot(loadOff, meter) };
  // A bill is a difference of what is paid and earned: meters err on either, not on what is left.
  const alone = account.withoutBattery && totalsOf(account.withoutBattery);
  const aloneOff = alone
    ? Math.hypot(
        Math.hypot(accuracy.load, accuracy.solar, data.batterySide === 'dc' ? CONVERSION_OFF : 0) *
          Math.max(alone.importCost, alone.exportIncome),
        zeroOff,
      )
    : 0;
  const battery: Amount | null =
    withoutBatteryTotal === null
      ? null
      : {
          value: withoutBatteryTotal - totals.total,
          half: Math.hypot(aloneOff, meter),
          ...hidden.withoutBattery,
        };
  const tell = (
    key: MoneyKey,
    { value, half, below = 0, above = 0 }: Amount,
    lines: readonly WorkingLine[] = [],
    assumptions: readonly string[] = [],
  ) => {
    const { unit } = MONEY[key];
    return estimated(
      { value, low: value - half - below, high: value + half + above },
      {
        unit,
        method: MONEY[key].method,
        basis,
        working: [
          ...lines,
          { label: MONEY[key].label, value, unit, role: 'result' },
          ...uncertaintyLines(
            [{ label: 'meters, and what is assumed', half }, ...hiddenParts({ below, above })],
            1,
            unit,
          ),
        ],
        assumptions,
      },
    );
  };
  const none = (key: MoneyKey, reason: string) => notMeasured(MONEY[key].unit, MONEY[key].method, reason);
  const few = (key: MoneyKey, reason: string) =>
    insufficient(MONEY[key].unit, MONEY[key].method, reason, basis);
  const currency = (label: string, value: number): WorkingLine => ({
    label,
    value,
    unit: 'currency',
    role: 'input',
  });
  const noLoad = 'The log has no load; a column load_w would supply it.';
  const noParts = 'Solar, load, grid and battery are needed together; the missing columns would supply it.';
  const hasLoad = loadKWh > 0;
  const yearly = hasLoad ? perYear(saving, account.withoutSystem, account.bills, days) : null;
  const yearlyBattery =
    battery && account.withoutBattery ? perYear(battery, account.withoutBattery, account.bills, days) : null;
  const yearNote = yearly?.isWhole
    ? []
    : [
        `From ${counted(Math.round(days), 'day')}: less than a year speaks for its season, and the rest of the year may differ.`,
      ];
  const part = (
    key: 'solarDirect' | 'solarStored' | 'shifted' | 'export' | 'other',
    half: number,
    sides: Partial<Hidden> = {},
  ) =>
    parts ? tell(`saving.${key}`, { value: parts[key], half, ...sides }) : none(`saving.${key}`, noParts);
  const gains = Math.hypot(accuracy.load, accuracy.solar);
  const draws = [
    [known['losses.idle.battery'], drawnShare(toldApart(data))],
    [known['losses.idle.inverter'], 1],
  ] as const;
  const idle = draws.flatMap(([figure, share]) => (figure?.value == null ? [] : [figure.value * share]));
  const idleOff = draws.flatMap(([figure, share]) =>
    figure?.value == null ? [] : [(share * (figure.high! - figure.low!)) / 2],
  );
  const hours = (range.toMs - range.fromMs) / 3_600_000;
  return {
    'money.bill': tell('bill', { value: totals.total, half: meter }, [
      currency('import', totals.importCost),
      ...(totals.demandCost > 0 ? [currency('+ demand', totals.demandCost)] : []),
      currency('− export', totals.exportIncome),
    ]),
    'money.standing': tell('standing', { value: totals.standing, half: 0 }),
    'money.importCost': tell('importCost', {
      value: totals.importCost,
      half: Math.hypot(
        accuracy.grid * totals.importCost,
        totals.importKWh > 0
          ? (totals.importCost / totals.importKWh) * (accuracy.offsetW / 1000) * hoursOf(data.total.importOnS)
          : 0,
      ),
    }),
    'money.exportIncome': tell('exportIncome', {
      value: totals.exportIncome,
      half: accuracy.grid * totals.exportIncome,
    }),
    'money.withoutSystem': hasLoad
      ? tell('withoutSystem', { value: withoutSystemTotal, half: loadOff })
      : none('withoutSystem', noLoad),
    'money.withoutBattery':
      withoutBatteryTotal === null
        ? none('withoutBattery', noParts)
        : tell('withoutBattery', {
            value: withoutBatteryTotal,
            half: aloneOff,
            ...hidden.withoutBattery,
          }),
    'money.saving': hasLoad
      ? tell('saving', saving, [
          currency('without the system', withoutSystemTotal),
          currency('− bill', totals.total),
        ])
      : none('saving', noLoad),
    'money.savingPerYear': yearly
      ? tell('savingPerYear', yearly, [currency('saving', saving.value)], yearNote)
      : none('savingPerYear', noLoad),
    'money.saving.solarDirect': part('solarDirect', gains * Math.abs(parts?.solarDirect ?? 0), {
      below: hidden.solarDirect,
    }),
    'money.saving.solarStored': part(
      'solarStored',
      Math.hypot(accuracy.battery, accuracy.load) * Math.abs(parts?.solarStored ?? 0),
      // What the sun did not serve at once, the store may have.
      { above: hidden.solarDirect },
    ),
    // A difference of what came out and what went in: each errs by itself, and a part of the origin does too.
    'money.saving.shifted': part(
      'shifted',
      Math.hypot(
        accuracy.battery * (parts?.shiftedWorth ?? 0),
        accuracy.battery * (parts?.shiftedCost ?? 0),
        ORIGIN_OFF * (parts?.shiftedWorth ?? 0),
        (parts?.mixedWorth ?? 0) / 2,
      ),
    ),
    'money.saving.export': part('export', accuracy.grid * Math.abs(parts?.export ?? 0)),
    'money.saving.other': part('other', saving.half),
    'money.pricePerKWh': hasLoad
      ? tell('pricePerKWh', {
          value: totals.total / loadKWh,
          half: Math.hypot(meter / loadKWh, (accuracy.load * Math.abs(totals.total)) / loadKWh),
        })
      : none('pricePerKWh', noLoad),
    'money.pricePerImportedKWh':
      totals.importKWh > 0
        ? tell('pricePerImportedKWh', {
            value: totals.importCost / totals.importKWh,
            half: (SHAPE_OFF * totals.importCost) / totals.importKWh,
          })
        : few('pricePerImportedKWh', 'Nothing was bought in this range.'),
    'money.lossCost':
      account.lossKWh === null || account.lostKWhWorth === null
        ? none('lossCost', 'The battery’s power is needed; a column battery_w would supply it.')
        : tell(
            'lossCost',
            lossCost(data, account),
            [{ label: 'lost in the battery', value: account.lossKWh, unit: 'kWh', role: 'input' }],
            ['On days that bought, a kWh lost is worth what was paid; on others what it would have earned.'],
          ),
    'money.idleCost':
      idle.length === 0 || account.idleKWhWorth === null
        ? few('idleCost', known['losses.idle.battery']?.reason ?? 'The idle draw is not known.')
        : tell(
            'idleCost',
            {
              value: (idle.reduce((sum, watts) => sum + watts, 0) / 1000) * hours * account.idleKWhWorth,
              half: (Math.hypot(...idleOff) / 1000) * hours * Math.abs(account.idleKWhWorth),
            },
            [
              {
                label: 'idle draw, mean of the range',
                value: idle.reduce((sum, watts) => sum + watts, 0),
                unit: 'W',
                role: 'input',
              },
            ],
          ),
    'money.batterySavingPerYear': yearlyBattery
      ? tell('batterySavingPerYear', yearlyBattery, [], yearNote)
      : none('batterySavingPerYear', noParts),
    ...payback(data, system, account, saving, yearly, known, { tell, none, few }),
  };
}

function lossCost({ accuracy, total }: RangeData, { lossKWh, lostKWhWorth }: MoneyAccount): Amount {
  const value = lossKWh! * lostKWhWorth!;
  return {
    value,
    half: ((0.25 * accuracy.battery * (total.chargeWh + total.dischargeWh)) / 1000) * Math.abs(lostKWhWorth!),
  };
}

/** A saving a year with the scatter of its months, by bootstrap; less than a year is held less surely. */
function perYear(
  saving: Amount,
  without: readonly Bill[],
  bills: readonly Bill[],
  days: number,
): Amount & { readonly isWhole: boolean } {
  const value = (saving.value * YEAR_DAYS) / days;
  const isWhole = days >= WHOLE_YEAR_DAYS;
  const months = bills.map((bill, b) => ({ days: bill.days, saved: without[b]!.total - bill.total }));
  const aYear = (amount = 0) => (amount * YEAR_DAYS) / days;
  const meter = aYear(saving.half);
  const sides = { below: aYear(saving.below), above: aYear(saving.above) };
  if (months.length < LEAST_MONTHS || !isWhole)
    return {
      value,
      half: Math.hypot(
        meter,
        SEASON_OFF * Math.abs(value) * Math.max(0, 1 - days / YEAR_DAYS),
        0.1 * Math.abs(value),
      ),
      ...sides,
      isWhole,
    };
  // Years are drawn of their own months: a January of any year stands for a January.
  const random = seededRandom(0x5a7e);
  const byMonth = new Map<number, { days: number; saved: number }[]>();
  bills.forEach(({ month }, b) => byMonth.set(month, [...(byMonth.get(month) ?? []), months[b]!]));
  const drawn = Float64Array.from({ length: RESAMPLES }, () => {
    let [sum, length] = [0, 0];
    for (const own of byMonth.values())
      for (let k = 0; k < own.length; k++) {
        const one = own[Math.floor(random() * own.length)]!;
        sum += one.saved;
        length += one.days;
      }
    return (sum * YEAR_DAYS) / length;
  }).sort();
  const spread = (quantile(drawn, 0.975) - quantile(drawn, 0.025)) / 2;
  return { value, half: Math.hypot(meter, spread, 0.02 * Math.abs(value)), ...sides, isWhole };
}
