import {
  insufficient,
  notMeasured,
  type Figure,
  type Method,
  type WorkingLine,
  estimated,
  measured,
} from '../../model/figure.js';
import { hoursOf, type RangeData } from '../../passes/rangeData.js';
import { drawnShare, toldApart } from '../shared/idleDraw.js';

const BUDGET = 'Loss budget: what the fits explain, and what remains; common practice, no published source.';
const PART = (what: string, formula: string): Method => ({
  id: `losses.part-${what}`,
  formula,
  source: BUDGET,
});
export const MEAN: Method = {
  id: 'losses.mean',
  formula: 'losses ÷ time of the account',
  source: 'Energy balance of the AC bus: common practice, no published source.',
};
export const PARTS = {
  idle: PART('idle', 'idle draw of the battery × time of the account'),
  conversion: PART('conversion', 'λ × discharge in the account'),
  inverter: PART('inverter', 'idle draw of the inverter × time of the account'),
  unexplained: PART('unexplained', 'losses − idle draw − conversion − inverter'),
} as const;

/** A part of the losses, kWh, with its bounds. */
interface Portion {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/**
 * The losses of the account as a mean power.
 * @param figures those of the account
 */
export function meanLoss(figures: Readonly<Record<string, Figure>>): Record<string, Figure> {
  const losses = figures['account.losses']!;
  const { value, low, high, basis } = losses;
  if (value === null)
    return {
      'losses.mean': (losses.status === 'insufficient' ? insufficient : notMeasured)(
        'W',
        MEAN,
        losses.reason!,
      ),
    };
  const hours = basis.hours as number;
  const watts = (kWh: number) => (1000 * kWh) / hours;
  return {
    'losses.mean': (losses.status === 'measured' ? measured : estimated)(
      { value: watts(value), low: watts(low!), high: watts(high!) },
      {
        unit: 'W',
        method: MEAN,
        basis: { hours },
        working: [
          { label: 'losses', value, unit: 'kWh', role: 'input' },
          { label: '÷ time of the account', value: hours, unit: 'h', role: 'input' },
          { label: 'mean loss', value: watts(value), unit: 'W', role: 'result' },
          { label: 'losses', value: watts((high! - low!) / 2), unit: 'W', role: 'uncertainty' },
        ],
      },
    ),
  };
}

/**
 * Where the losses of the account went: what the fits explain, and the rest, which is shown and never spread.
 * @param figures those of the account and the fits
 */
export function budget(data: RangeData, figures: Readonly<Record<string, Figure>>): Record<string, Figure> {
  const losses = figures['account.losses']!;
  const absent = (reason: string, make: typeof notMeasured) =>
    Object.fromEntries(
      Object.entries(PARTS).map(([key, method]) => [nameOf(key), make('kWh', method, reason)]),
    );
  if (losses.value === null)
    return absent(losses.reason!, losses.status === 'insufficient' ? insufficient : notMeasured);
  const told = toldApart(data);
  if (told.length === 0) {
    const reason = `Idle draw and conversion cannot be told apart in this range. ${figures['losses.idle.battery']!.reason ?? ''}`;
    return absent(reason.trim(), insufficient);
  }
  const hours = hoursOf(data.total.storeS);
  const idleW = figures['losses.idle.battery']!;
  const lambda = figures['losses.conversion.discharge']!;
  const dischargeKWh = dischargeInAccount(data) / 1000;
  const drawnHours = hours * drawnShare(told);
  const idle = scaled(idleW, drawnHours / 1000);
  const conversion = scaled(lambda, dischargeKWh);
  const inverterW = figures['losses.idle.inverter']!;
  const inverter = inverterW.value !== null ? scaled(inverterW, hours / 1000) : null;
  const explained = [idle, conversion, ...(inverter ? [inverter] : [])];
  const value = losses.value - explained.reduce((sum, part) => sum + part.value, 0);
  const unexplained = {
    value,
    low: value - Math.hypot(losses.value - losses.low!, together(explained, 'high')),
    high: value + Math.hypot(losses.high! - losses.value, together(explained, 'low')),
  };
  const basis = { hours, dischargeKWh, batterySide: data.batterySide };
  const figure = (
    method: Method,
    part: Portion,
    working: readonly WorkingLine[],
    assumptions: string[] = [],
  ) => estimated(part, { unit: 'kWh', method, basis, working, assumptions });
  const kWh = (label: string, amount: number, role: WorkingLine['role'] = 'input'): WorkingLine => ({
    label,
    value: amount,
    unit: 'kWh',
    role,
  });
  return {
    [nameOf('idle')]: figure(PARTS.idle, idle, [
      { label: 'idle draw on the battery’s side', value: idleW.value!, unit: 'W', role: 'input' },
      {
        label:
          drawnHours < hours ? '× time of the account in which it is not empty' : '× time of the account',
        value: drawnHours,
        unit: 'h',
        role: 'input',
      },
      kWh('idle draw', idle.value, 'result'),
    ]),
    [nameOf('conversion')]: figure(PARTS.conversion, conversion, [
      { label: 'lost for each kWh discharged', value: lambda.value!, unit: 'share', role: 'input' },
      kWh('× discharge in the account', dischargeKWh),
      kWh('conversion', conversion.value, 'result'),
    ]),
    [nameOf('inverter')]: inverter
      ? figure(PARTS.inverter, inverter, [
          { label: 'idle draw of the inverter', value: inverterW.value!, unit: 'W', role: 'input' },
          { label: '× time of the account', value: hours, unit: 'h', role: 'input' },
          kWh('inverter, idle', inverter.value, 'result'),
        ])
      : notMeasured('kWh', PARTS.inverter, inverterW.reason ?? 'There is no tare line.'),
    [nameOf('unexplained')]: figure(
      PARTS.unexplained,
      unexplained,
      [
        kWh('losses of the account', losses.value),
        kWh('− idle draw, battery side', idle.value),
        kWh('− conversion', conversion.value),
        ...(inverter ? [kWh('− inverter, idle', inverter.value)] : []),
        kWh('unexplained', value, 'result'),
      ],
      [
        'What remains holds the errors of all meters and every draw that no fit sees; it is shown, never spread.',
        ...(data.batterySide === 'dc' ||
        data.parts.some(({ configuration: c }) => c.described?.coupling === 'dc')
          ? ['Solar or battery is measured on the DC side: the inverter’s conversion of it is in here too.']
          : []),
      ],
    ),
  };
}

function nameOf(key: string): string {
  return key === 'unexplained' ? 'losses.unexplained' : `losses.part.${key}`;
}

/** Discharge over the time of the account; where the battery is not logged all the time, in proportion. */
function dischargeInAccount({ total }: RangeData): number {
  return total.cellS > 0 ? (total.dischargeCell * total.storeS) / total.cellS : 0;
}

function scaled({ value, low, high }: Figure, factor: number): Portion {
  return { value: value! * factor, low: low! * factor, high: high! * factor };
}

/**
 * How far the explained parts may be off together. Idle draw and conversion come from one fit and lean against each other:
 * what is taken from one goes to the other, so their sum is known better than either.
 */
function together(parts: readonly Portion[], side: 'low' | 'high'): number {
  const [idle, conversion, inverter] = parts.map((part) => Math.abs(part[side] - part.value));
  return Math.hypot(Math.max(idle!, conversion!), inverter ?? 0);
}
