import type { Figure } from '../../model/figure.js';
import { answeringUnits } from '../shared/answeringUnits.js';
import {
  counterCheck,
  gridCheck,
  logCheck,
  overLimitCheck,
  solarCheck,
  temperatureCheck,
} from './commonChecks.js';
import { drawdownVerdict, paceAdvice } from './drawdownWords.js';
import { line, read, reckoned, untold, voided } from './evaluated.js';
import type { TrialFigureKey } from './trialFigures.js';
import {
  energyOf,
  loggedCourse,
  swingOf,
  type ChargeSwing,
  type TrialEnergy,
  type TrialMaterial,
} from './trialMaterial.js';
import { check, isVoid, type TrialCheck, type TrialOutcome } from './trialResult.js';

const FULL = 0.99;
/** A charge counter that moved by no more than this share of what came out only topped up. */
const TOPPED_UP = 0.01;
const CHARGED = 0.05;
const SMALL = 0.3;
const TOO_SMALL = 0.1;
/** The charge at a true full is set anew by the monitor: known to this share. */
const SET_AT_FULL = 0.005;
/** What battery and inverter draw for themselves where nothing tells, W for each unit, and how far it may lie off. */
const USUAL_DRAW = { value: 30, half: 25 } as const;
/** A stated idle draw is met within this share. */
const STATED_OFF = 0.3;
/** Share of what is charged that comes out again, and how far it may lie off. */
const CHARGED_BACK = { value: 0.92, half: 0.06 } as const;
/** Power of a charge that has died down, as a share of the battery's rating. */
const TAPERED = 0.05;

/** A drawdown: what came out, against what the units should give over the fall of the charge. */
export function drawdown(material: TrialMaterial): TrialOutcome {
  const delivered = energyOf(material, 'dischargeKWh');
  const swing = swingOf(material);
  const checks = checksOf(material, delivered, swing);
  if (!delivered || !swing)
    return {
      figures: all((key) =>
        untold(
          key,
          'The discharge counter and the charge, each read at the start and at the end, or a log of both, would supply it.',
        ),
      ),
      checks,
      verdict: {
        code: 'cannot-tell',
        message: 'Discharge counter and charge are needed at the start and at the end.',
      },
    };
  if (isVoid(checks)) {
    const reasons = checks.flatMap(({ ok, weight, message }) =>
      ok === false && weight === 'invalid' ? [message] : [],
    );
    return {
      figures: all((key) => voided(key, reasons.join(' '))),
      checks,
      verdict: { code: 'invalid', message: reasons.join(' ') },
    };
  }
  return evaluated(material, delivered, swing, checks);
}

const KEYS: readonly TrialFigureKey[] = [
  'deltaSoc',
  'delivered',
  'expected',
  'ratio',
  'shortfall',
  'shortfallModules',
  'capacity',
  'power.mean',
  'hours',
];

function all(make: (key: TrialFigureKey) => Figure): Record<string, Figure> {
  return Object.fromEntries(KEYS.map((key) => [`trial.${key}`, make(key)]));
}

function checksOf(
  material: TrialMaterial,
  delivered: TrialEnergy | null,
  swing: ChargeSwing | null,
): TrialCheck[] {
  const charged = energyOf(material, 'chargeKWh');
  const most = delivered ? Math.max(TOPPED_UP * delivered.kWh, 2 * (charged?.half ?? 0)) : Infinity;
  const isMuch = charged !== null && delivered !== null && charged.kWh > CHARGED * delivered.kWh;
  const tapered = isTruly(material);
  const fall = swing ? swing.from - swing.to : NaN;
  const end = material.configuration.cutOff;
  return [
    counterCheck(material),
    logCheck(material, 'dischargeKWh'),
    check(
      'charged-during-test',
      charged === null ? null : charged.kWh <= most,
      isMuch ? 'invalid' : 'weakens',
      [
        'The charge counter did not move.',
        `The battery was charged with ${charged?.kWh.toFixed(1) ?? ''} kWh during the test, so its fall is not all that came out. Begin after sunset, with grid charging off.`,
        'Nothing shows whether the battery was charged meanwhile; the charge counter at both ends would.',
      ],
    ),
    check('not-truly-full', swing && swing.from < FULL ? false : tapered, 'weakens', [
      'It began truly full: the charging had died down.',
      swing && swing.from < FULL
        ? 'It did not begin full, so the charge at its start is known less well. Charge to full and wait until the charging dies down.'
        : 'The display said full, but the charging had not died down: wait for the taper.',
      'Nothing shows whether the charging had died down at the start.',
    ]),
    check('small-swing', swing ? fall >= SMALL : null, fall < TOO_SMALL ? 'invalid' : 'weakens', [
      'The charge fell by 30 % or more.',
      'The charge fell by less than 30 %, so its last digit weighs much. Let it fall further: to 40 % is enough for a check, to 1 to 5 % above the cut-off is best.',
      'The charge is not known at both ends.',
    ]),
    overLimitCheck(material),
    temperatureCheck(material),
    solarCheck(material, 'weakens'),
    gridCheck(material),
    check('below-cut-off', end === null || !swing ? null : swing.to >= end - swing.digit / 2, 'weakens', [
      'It stayed above the cut-off.',
      'It went below the cut-off that the maker sets. Recharge now, and stop above it the next time.',
      'The cut-off is not described.',
    ]),
  ];
}

/** Whether the charging had died down at the start: as somebody noted it, or as the log has it. */
function isTruly(material: TrialMaterial): boolean | null {
  const noted = material.trial.readings.find(({ isTapered }) => isTapered !== undefined)?.isTapered;
  if (noted !== undefined) return noted;
  const rated = material.configuration.maxChargeW ?? (material.configuration.nameplateWh ?? NaN) / 2;
  const before = loggedCourse(
    { ...material, fromMs: material.fromMs - 3_600_000, toMs: material.fromMs },
    'battery',
  );
  if (before.length === 0 || Number.isNaN(rated)) return null;
  return Math.max(0, -before.at(-1)!.value) < TAPERED * rated;
}

function evaluated(
  material: TrialMaterial,
  delivered: TrialEnergy,
  swing: ChargeSwing,
  checks: readonly TrialCheck[],
): TrialOutcome {
  const { configuration, accuracy, side, hours } = material;
  const fall = swing.from - swing.to;
  const isFull =
    swing.from >= FULL && checks.some(({ code, ok }) => code === 'not-truly-full' && ok === true);
  // From a true full the monitor has counted all the way: its error grows with what it counted.
  const fallHalf = Math.hypot(
    isFull ? SET_AT_FULL : accuracy.soc,
    swing.digit * Math.SQRT1_2,
    isFull ? accuracy.soc * fall : accuracy.soc,
  );
  const deliveredHalf = Math.hypot(delivered.half, accuracy.battery * delivered.kWh);
  const draw = drawOf(material);
  const ownKWh = (draw.value * hours) / 1000;
  const ownHalf = (draw.half * hours) / 1000;
  // What went in meanwhile came out again, less what a charge usually loses.
  const charged = energyOf(material, 'chargeKWh');
  const backKWh = charged ? CHARGED_BACK.value * charged.kWh : 0;
  const backHalf = charged
    ? Math.hypot(CHARGED_BACK.value * charged.half, CHARGED_BACK.half * charged.kWh)
    : 0;
  const fromCellsKWh = delivered.kWh + ownKWh - backKWh;
  const fromCellsHalf = Math.hypot(deliveredHalf, ownHalf, charged && charged.kWh > 0 ? backHalf : 0);
  const capacity = fromCellsKWh / fall;
  const capacityHalf = capacity * Math.hypot(fallHalf / fall, fromCellsHalf / fromCellsKWh);
  const basis = { hours, side, source: delivered.source };
  const own = {
    'trial.deltaSoc': read('deltaSoc', {
      value: fall,
      half: fallHalf,
      least: 0,
      most: 1,
      basis: { source: swing.source },
      lines: [line('charge at the start', swing.from, 'share'), line('− at the end', swing.to, 'share')],
    }),
    'trial.delivered': read('delivered', { value: delivered.kWh, half: deliveredHalf, least: 0, basis }),
    'trial.capacity': reckoned('capacity', {
      value: capacity,
      half: capacityHalf,
      least: 0,
      basis,
      lines: [
        line('delivered', delivered.kWh, 'kWh'),
        line(`+ own draw of ${Math.round(draw.value)} W`, ownKWh, 'kWh'),
        ...(backKWh > 0 ? [line('− charged meanwhile, less its loss', backKWh, 'kWh')] : []),
        line('÷ fall of the charge', fall, 'share'),
      ],
      assumptions: [draw.says],
    }),
    'trial.power.mean': read('power.mean', {
      value: (1000 * delivered.kWh) / hours,
      half: (1000 * deliveredHalf) / hours,
      least: 0,
    }),
    'trial.hours': read('hours', { value: hours, half: 0 }),
  };
  const { usableWh, nameplateWh, described } = configuration;
  const units = described?.battery?.modules;
  if (usableWh === null || nameplateWh === null || !units) {
    const reason =
      'The battery is not described; modules, kWh each and usable share in the system would supply it.';
    const missing = (['expected', 'ratio', 'shortfall', 'shortfallModules'] as const).map(
      (key) => [`trial.${key}`, untold(key, reason)] as const,
    );
    return {
      figures: { ...own, ...Object.fromEntries(missing) },
      checks,
      verdict: { code: 'cannot-tell', message: reason },
    };
  }
  const usableKWh = usableWh / 1000;
  const expected = usableKWh * fall;
  const expectedHalf = usableKWh * fallHalf;
  const ratio = delivered.kWh / expected;
  const ratioHalf = ratio * Math.hypot(deliveredHalf / delivered.kWh, fallHalf / fall);
  const shortfall = expected - delivered.kWh;
  const shortfallHalf = Math.hypot(deliveredHalf, ratio * expectedHalf);
  const partKWh = (usableKWh / units) * fall;
  const answer = answeringUnits({
    deliveredWh: 1000 * fromCellsKWh,
    deliveredHalfWh: 1000 * fromCellsHalf,
    units,
    unitWh: usableWh / units,
    swing: fall,
    swingHalf: fallHalf,
    side,
  });
  const lines = [
    line('delivered', delivered.kWh, 'kWh'),
    line(
      `${units} × ${Number((usableKWh / units).toPrecision(6))} kWh usable × fall of the charge`,
      expected,
      'kWh',
    ),
  ];
  return {
    figures: {
      ...own,
      'trial.expected': reckoned('expected', {
        value: expected,
        half: expectedHalf,
        least: 0,
        basis: { reference: 'usable', nameplate: (nameplateWh / 1000) * fall },
        lines: [line('usable capacity', usableKWh, 'kWh'), line('× fall of the charge', fall, 'share')],
      }),
      'trial.ratio': reckoned('ratio', {
        value: ratio,
        half: ratioHalf,
        least: 0,
        lines,
        basis: { reference: 'usable' },
      }),
      'trial.shortfall': reckoned('shortfall', { value: shortfall, half: shortfallHalf, lines }),
      'trial.shortfallModules': reckoned('shortfallModules', {
        value: shortfall / partKWh,
        half: shortfallHalf / partKWh,
        lines: [
          line('short by', shortfall, 'kWh'),
          line('÷ what one module gives over the fall', partKWh, 'kWh'),
        ],
      }),
    },
    checks,
    verdict: { code: answer.verdict, message: drawdownVerdict(answer, units, ratio, shortfall, partKWh) },
    advice: paceAdvice(material, swing),
  };
}

/** What battery and inverter draw for themselves during the trial. */
function drawOf({ configuration }: TrialMaterial): {
  readonly value: number;
  readonly half: number;
  readonly says: string;
} {
  const stated = configuration.described?.inverter?.statedIdleW;
  const units = configuration.described?.inverter?.units ?? 1;
  return stated === undefined
    ? {
        value: USUAL_DRAW.value * units,
        half: USUAL_DRAW.half * units,
        says: `The equipment's own draw is not stated: ${USUAL_DRAW.value} W for each unit is taken, from 5 to 55.`,
      }
    : {
        value: stated,
        half: STATED_OFF * stated,
        says: `The equipment's own draw is taken as stated, ${stated} W, within a third of it.`,
      };
}
