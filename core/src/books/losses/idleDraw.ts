import { counted } from '../../model/counted.js';
import { lackOf } from '../shared/lacking.js';
import type { Basis } from '../../model/basis.js';
import { drawnShare, toldApart } from '../shared/idleDraw.js';
import { insufficient, notMeasured, type Figure, type Method, type WorkingLine } from '../../model/figure.js';
import { combined, percent, zeroOf, type Uncertainty, uncertaintyLines } from '../shared/uncertainty.js';
import { configurationNames, gradeOf, type RangeData } from '../../passes/rangeData.js';
import { DIRECTION_SHARE, nettingShare } from './roundTrip.js';
import { LEAST_SPREAD, LEAST_WINDOWS, type IdleStretch } from '../../passes/idleFit.js';

const FIT_SOURCE =
  'Regression of window losses on time and discharge, Huber 1964; interval: bootstrap over windows, Efron & Tibshirani 1993 (from memory).';

export const IDLE: Method = {
  id: 'losses.idle-battery',
  formula: 'charge − discharge of each full-to-full window = P × time + λ × discharge; P is the idle draw',
  source: FIT_SOURCE,
};
export const CONVERSION: Method = {
  id: 'losses.conversion-discharge',
  formula:
    'charge − discharge of each full-to-full window = P × time + λ × discharge; λ is the conversion loss',
  source: FIT_SOURCE,
};
/** Steps hide charge and discharge that alternate within them: in simulation 15 to 30 minutes bias the draw by 1 to 2 W. */
const STEP_W_PER_MINUTE = 0.07;

/** The battery's own draw and its conversion loss, from the losses of full-to-full windows. */
export function idleAndConversion(view: RangeData): Record<string, Figure> {
  const refusal = refused(view);
  if (refusal)
    return {
      'losses.idle.battery': refusal('W', IDLE),
      'losses.conversion.discharge': refusal('share', CONVERSION),
    };
  return {
    'losses.idle.battery': idleFigure(view),
    'losses.conversion.discharge': conversionFigure(view),
  };
}

function refused(view: RangeData): ((unit: 'W' | 'share', method: Method) => Figure) | null {
  const lack = lackOf(view, ['battery', 'soc']);
  if (lack) return (unit, method) => notMeasured(unit, method, lack);
  if (toldApart(view).length > 0) return null;
  const windows = view.windows.length;
  const lossWh = view.windows.reduce((sum, { chargeWh, dischargeWh }) => sum + chargeWh - dischargeWh, 0);
  const together =
    windows > 0 ? ` Idle draw and conversion together lost ${(lossWh / 1000).toFixed(1)} kWh in them.` : '';
  const most = view.stretches.reduce((best, { windows: own }) => Math.max(best, own.length), 0);
  const reason =
    most < LEAST_WINDOWS
      ? `This range has ${counted(windows, 'window')} between full charges, at most ${most} of one kind; ${LEAST_WINDOWS} are needed. A longer range would supply them.${together}`
      : `The windows are too much alike to tell idle draw from conversion: their mean discharge varies by less than ${percent(LEAST_SPREAD)}. A range with light and heavy days would supply it.${together}`;
  return (unit, method) => insufficient(unit, method, reason, { windows });
}

function idleFigure(view: RangeData): Figure {
  const told = toldApart(view);
  const hours = told.reduce((sum, stretch) => sum + stretch.hours, 0);
  const value = told.reduce((sum, { fit, hours: own }) => sum + fit.first * own, 0) / hours;
  const fitHalf = (side: 0 | 1) =>
    Math.hypot(
      ...told.map(({ fit, hours: own }) => (Math.abs(fit.firstInterval[side] - fit.first) * own) / hours),
    );
  const zeroW = zeroOf(view, 'battery');
  const doubts: Uncertainty[] = [
    { label: `battery meter, ±${Number(zeroW.toPrecision(2))} W zero`, half: zeroW },
    { label: 'battery meter, gain', half: view.accuracy.battery * value },
    { label: 'netting within a step', half: (STEP_W_PER_MINUTE * view.log.stepMs) / 60_000 },
  ];
  const systematic = combined(doubts);
  const hidden = hiddenBelowFloor(view);
  return gradeOf(view, 'battery')(
    {
      value,
      low: Math.min(value, Math.max(0, value - Math.hypot(fitHalf(0), systematic, hidden / 2))),
      high: value + Math.hypot(fitHalf(1), systematic) + hidden,
    },
    {
      unit: 'W',
      method: IDLE,
      basis: basisOf(view, told, {
        kWhADay: (value * 24 * drawnShare(told)) / 1000,
        kWhAYear: (value * 8766 * drawnShare(told)) / 1000,
        ...shareOfNight(view, value),
      }),
      working: [
        ...told.flatMap((stretch) => stretchLines(stretch, told)),
        ...told.map((stretch): WorkingLine => ({
          label: `P, robust fit, not below 0${named(stretch, told)}`,
          value: stretch.fit.first,
          unit: 'W',
          role: 'step',
        })),
        { label: 'idle draw on the battery’s side', value, unit: 'W', role: 'result' },
        {
          label: 'bootstrap over windows',
          value: (fitHalf(0) + fitHalf(1)) / 2,
          unit: 'W',
          role: 'uncertainty',
        },
        ...uncertaintyLines(doubts, 1, 'W'),
        ...(hidden > 0
          ? [
              {
                label: `charge that a meter with a floor of ${view.floorW.toFixed(0)} W does not see (adds only)`,
                value: hidden,
                unit: 'W',
                role: 'uncertainty',
              } as const,
            ]
          : []),
      ],
      assumptions: [
        'Everything the battery’s meter sees is in it: cells, battery monitor and, on the AC side, the converter.',
        ...standingEmpty(told),
        ...comparison(told),
      ],
    },
  );
}

function conversionFigure(view: RangeData): Figure {
  const told = toldApart(view);
  const dischargeWh = told.reduce((sum, stretch) => sum + stretch.dischargeWh, 0);
  const value = told.reduce((sum, { fit, dischargeWh: own }) => sum + fit.second * own, 0) / dischargeWh;
  const fitHalf = (side: 0 | 1) =>
    Math.hypot(
      ...told.map(
        ({ fit, dischargeWh: own }) => (Math.abs(fit.secondInterval[side] - fit.second) * own) / dischargeWh,
      ),
    );
  const doubts: Uncertainty[] = [
    {
      label: 'battery meter, charge against discharge',
      half: DIRECTION_SHARE * view.accuracy.battery * (1 + value),
    },
    { label: 'netting within a step', half: nettingShare(view.log.stepMs) },
  ];
  const systematic = combined(doubts);
  return gradeOf(view, 'battery')(
    {
      value,
      low: Math.min(value, Math.max(0, value - Math.hypot(fitHalf(0), systematic))),
      high: value + Math.hypot(fitHalf(1), systematic),
    },
    {
      unit: 'share',
      method: CONVERSION,
      basis: basisOf(view, told, {}),
      working: [
        ...told.flatMap((stretch) => stretchLines(stretch, told)),
        ...told.map((stretch): WorkingLine => ({
          label: `λ, robust fit, not below 0${named(stretch, told)}`,
          value: stretch.fit.second,
          unit: 'share',
          role: 'step',
        })),
        { label: 'lost for each kWh discharged', value, unit: 'share', role: 'result' },
        {
          label: 'bootstrap over windows',
          value: (fitHalf(0) + fitHalf(1)) / 2,
          unit: 'share',
          role: 'uncertainty',
        },
        ...uncertaintyLines(doubts, 1, 'share'),
      ],
      assumptions: ['Charging and discharging together: the loss of both ways, set against what came out.'],
    },
  );
}

function stretchLines(stretch: IdleStretch, all: readonly IdleStretch[]): WorkingLine[] {
  const of = named(stretch, all);
  return [
    { label: `full-to-full windows${of}`, value: stretch.windows.length, unit: 'count', role: 'input' },
    { label: `their time${of}`, value: stretch.hours, unit: 'h', role: 'input' },
    { label: `their discharge${of}`, value: stretch.dischargeWh / 1000, unit: 'kWh', role: 'input' },
    { label: `their loss${of}`, value: stretch.lossWh / 1000, unit: 'kWh', role: 'input' },
  ];
}

/** Which of several stretches it is. */
function named(stretch: IdleStretch, all: readonly IdleStretch[]): string {
  return all.length > 1 ? `, from ${new Date(stretch.windows[0]!.fromMs).toISOString().slice(0, 10)}` : '';
}

function basisOf(view: RangeData, told: readonly IdleStretch[], more: Basis) {
  return {
    windows: told.reduce((sum, { windows }) => sum + windows.length, 0),
    spread: Math.min(...told.map(({ spread }) => spread)),
    spreadNeeded: LEAST_SPREAD,
    batterySide: view.batterySide,
    configurations: configurationNames(view),
    ...more,
  };
}

/**
 * Below its floor a meter reads zero: so much may flow unseen while it does, W of the whole time. Mostly it is charge that
 * tops a resting battery up, which hides the draw itself.
 */
function hiddenBelowFloor({ floorW, total: { batteryS, chargeOnS, dischargeOnS } }: RangeData): number {
  if (floorW === 0 || batteryS === 0) return 0;
  return floorW * Math.max(0, 1 - (chargeOnS + dischargeOnS) / batteryS);
}

/** What twelve hours of it take of the usable capacity. */
function shareOfNight(view: RangeData, watts: number): Basis {
  const usableWh = view.parts.at(-1)?.configuration.usableWh;
  return usableWh ? { shareOfCapacityANight: (watts * 12) / usableWh } : {};
}

/** Time left out, since the losses tell that an empty battery fed nothing. */
function standingEmpty(told: readonly IdleStretch[]): string[] {
  const hours = told.reduce((sum, { emptyHours }) => sum + emptyHours, 0);
  return hours === 0
    ? []
    : [
        `For ${hours.toFixed(0)} h the battery stood empty. The losses show that nothing was drawn from it then: that time is left out.`,
      ];
}

/** What each configuration's data sheet says, against what was measured under it. */
function comparison(told: ReturnType<typeof toldApart>): string[] {
  return told.flatMap(({ configuration, fit }) => {
    const stated = configuration.described?.inverter?.statedIdleW;
    const where = told.length > 1 ? ` of ${configuration.name}` : '';
    return stated === undefined
      ? []
      : [
          `The data sheet's idle draw of the inverter${where} is ${stated} W; measured on the battery's side it is ${fit.first.toFixed(0)} W.`,
        ];
  });
}
