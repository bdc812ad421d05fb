import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Basis,
  type Figure,
  type Method,
  type Unit,
  type WorkingLine,
} from '../figure.js';
import { percent } from '../uncertainty.js';
import { channelOf, type View } from '../view.js';
import { fadeOf, judge, type Judgement } from './judge.js';
import { yearOnYear, type Bounded } from './trend.js';
import { YEAR_MS } from '../time/days.js';

const NAMES = 'State-of-health parameters of stationary storage: EU Regulation 2023/1542, Annex VII.';
const NOW: Method = {
  id: 'capacity.level',
  formula: '(∫ discharge + idle draw × time) ÷ fall of SOC; level of their course at the end of the range',
  source: `${NAMES} Estimate from partial discharges: common practice, no published source.`,
};
const HEALTH: Method = {
  id: 'capacity.state-of-health',
  formula: 'capacity now ÷ reference',
  source: NAMES,
};
const FADE: Method = {
  id: 'capacity.theil-sen',
  formula:
    '− slope of the capacity ÷ reference; Theil–Sen over monthly medians, season or temperature taken off',
  source:
    'P. K. Sen, Journal of the American Statistical Association 63 (1968); interval by bootstrap over months.',
};
const YEARS: Method = {
  id: 'capacity.year-on-year',
  formula: '− median of the slopes between months one year apart ÷ reference',
  source: 'Year-on-year method: common practice, no published source.',
};
const END = (percentLeft: number): Method => ({
  id: `capacity.end-of-life-${percentLeft}`,
  formula: `date at which ${percentLeft} % of the reference is left: linear, and with the square root of time`,
  source:
    'Linear and square-root fade: common practice; calendar ageing with √time as in Wang (2011), from memory.',
});
const ENDS = [80, 70, 60] as const;
/** Nothing is said of what lies further ahead. */
const HORIZON_YEARS = 50;

/** Capacity, state of health, fade and the dates it leads to. */
export function capacity(view: View): Record<string, Figure> {
  const judgement = judge(view);
  const missing = judgement ? null : lacking(view);
  const all: readonly (readonly [
    key: string,
    unit: Unit,
    method: Method,
    make: (of: Judgement) => Figure,
  ])[] = [
    ['now', 'kWh', NOW, (of) => now(view, of)],
    ['stateOfHealth', 'share', HEALTH, health],
    ['fadePerYear', 'share/year', FADE, fade],
    ['fadePerYear.yearOnYear', 'share/year', YEARS, fadeByYears],
    ...ENDS.map(
      (left) =>
        [`endOfLife.${left}`, 'date', END(left), (of: Judgement) => endOfLife(view, of, left)] as const,
    ),
  ];
  return Object.fromEntries(
    all.map(([key, unit, method, make]) => [
      `capacity.${key}`,
      judgement ? make(judgement) : missing!(unit, method),
    ]),
  );
}

function lacking(view: View): (unit: Unit, method: Method) => Figure {
  const lacks = [
    ...(channelOf(view, 'battery') ? [] : ['battery power']),
    ...(view.log.channels.has('soc') ? [] : ['state of charge']),
  ];
  if (lacks.length > 0)
    return (unit, method) =>
      notMeasured(
        unit,
        method,
        `The log has no ${lacks.join(' and no ')}; a column of it would supply this.`,
      );
  if (view.parts.at(-1)!.configuration.usableWh === null)
    return (unit, method) =>
      notMeasured(unit, method, 'The battery’s capacity is not described; the system file would supply it.');
  const reason =
    'No discharge of this range takes the battery down by 30 % without a pause. One evening and night on the battery, from full, would give an estimate.';
  return (unit, method) => insufficient(unit, method, reason);
}

function basisOf(of: Judgement): Basis {
  const { estimates, trend, configuration, resets, deepRuns, isAnchored } = of;
  return {
    estimates: estimates.length,
    fullRuns: estimates.filter(({ kind }) => kind === 'full-run').length,
    fromFull: estimates.filter(({ isFromFull }) => isFromFull).length,
    months: trend.blocks.length,
    configurations: [configuration.name],
    season: trend.season,
    scale: isAnchored ? 'held to the cells' : 'the monitor’s own',
    recalibrations: resets,
    runsToTheCutOff: deepRuns,
  };
}

const SCALE =
  'On the monitor’s own scale: nothing shows that its state of charge is held to the cells, and a monitor that does not relearn hides fade. A drawdown from full to the cut-off would tell.';

function assumptionsOf(of: Judgement): string[] {
  const { trend, step, estimates } = of;
  return [
    ...(of.isAnchored ? [] : [SCALE]),
    ...(trend.season === 'temperature' ? ['Brought to 20 °C by the battery’s logged temperature.'] : []),
    ...(trend.season === 'calendar' ? ['The season is taken off as one wave a year.'] : []),
    ...(step ? ['Only what lies after the step of the capacity is counted.'] : []),
    ...(estimates.every(({ hasDraw }) => hasDraw)
      ? []
      : ['The battery’s own draw is taken as usual (5 to 55 W) where its windows do not tell it.']),
  ];
}

/** Figures that lean on a scale or a draw nobody has checked are estimates. */
function grade(of: Judgement): typeof measured {
  return of.isAnchored && of.estimates.every(({ hasDraw }) => hasDraw) ? measured : estimated;
}

function now(view: View, of: Judgement): Figure {
  const { trend, systematic } = of;
  const { value, low, high } = trend.level;
  const own = systematic * value;
  return grade(of)(
    {
      value: value / 1000,
      low: (value - Math.hypot(value - low, own)) / 1000,
      high: (value + Math.hypot(high - value, own)) / 1000,
    },
    {
      unit: 'kWh',
      method: NOW,
      basis: { ...basisOf(of), side: view.batterySide },
      working: [
        { label: 'estimates', value: of.estimates.length, unit: 'count', role: 'input' },
        { label: 'months with estimates', value: trend.blocks.length, unit: 'count', role: 'input' },
        { label: 'level at the end of the range', value: value / 1000, unit: 'kWh', role: 'result' },
        {
          label: 'bootstrap over months',
          value: (high - low) / 2000,
          unit: 'kWh',
          role: 'uncertainty',
        },
        {
          label: `battery meter, and SOC ±${percent(view.accuracy.soc)} of full`,
          value: own / 1000,
          unit: 'kWh',
          role: 'uncertainty',
        },
      ],
      assumptions: [
        view.batterySide === 'ac'
          ? 'Delivered capacity: what reaches the AC side, conversion already lost.'
          : 'Capacity on the battery’s DC side.',
        ...assumptionsOf(of),
      ],
    },
  );
}

function health(of: Judgement): Figure {
  const { trend, reference, systematic } = of;
  if (!reference)
    return insufficient(
      'share',
      HEALTH,
      'There is no reference on this side of the battery yet: 90 days with five estimates after the configuration began, or a log of the DC side, would supply one.',
      basisOf(of),
    );
  const value = trend.level.value / reference.wh;
  const own = Math.hypot(reference.off, reference.isNameplate ? systematic : 0) * value;
  const side = (bound: number) => Math.abs(bound - trend.level.value) / reference.wh;
  return grade(of)(
    {
      value,
      low: value - Math.hypot(side(trend.level.low), own),
      high: value + Math.hypot(side(trend.level.high), own),
    },
    {
      unit: 'share',
      method: HEALTH,
      basis: { ...basisOf(of), reference: reference.says },
      working: [
        { label: 'capacity now', value: trend.level.value / 1000, unit: 'kWh', role: 'input' },
        { label: `÷ ${reference.says}`, value: reference.wh / 1000, unit: 'kWh', role: 'input' },
        { label: 'state of health', value, unit: 'share', role: 'result' },
        { label: 'both levels', value: own, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: assumptionsOf(of),
    },
  );
}

function fade(of: Judgement): Figure {
  const { trend } = of;
  const rate = fadeOf(of);
  if (!rate) return insufficient('share/year', FADE, trend.reason ?? NO_BASE, basisOf(of));
  const base = baseOf(of)!;
  const rank = trend.rank ? { rankLow: -trend.rank[1] / base, rankHigh: -trend.rank[0] / base } : {};
  return grade(of)(rate, {
    unit: 'share/year',
    method: FADE,
    basis: { ...basisOf(of), years: trend.years, ...rank, mannKendallP: trend.p ?? 1 },
    working: rateLines(trend.slope!, rate, base),
    assumptions: assumptionsOf(of),
  });
}

const NO_BASE = 'There is neither a reference nor a described capacity to set the slope against.';

function baseOf({ reference, configuration }: Judgement): number | null {
  return reference?.wh ?? configuration.usableWh;
}

function rateLines(slope: Bounded, rate: Bounded, base: number): WorkingLine[] {
  return [
    { label: 'slope, a year', value: slope.value / 1000, unit: 'kWh', role: 'input' },
    { label: '÷ reference', value: base / 1000, unit: 'kWh', role: 'input' },
    { label: 'fade', value: rate.value, unit: 'share/year', role: 'result' },
    {
      label: 'bootstrap over months',
      value: (rate.high - rate.low) / 2,
      unit: 'share/year',
      role: 'uncertainty',
    },
  ];
}

function fadeByYears(of: Judgement): Figure {
  const slope = yearOnYear(of.trend.blocks);
  const base = baseOf(of);
  if (!slope || base === null)
    return insufficient(
      'share/year',
      YEARS,
      'Months one year apart are needed, six pairs of them. A range of eighteen months or more would supply them.',
      basisOf(of),
    );
  const rate = { value: -slope.value / base, low: -slope.high / base, high: -slope.low / base };
  return grade(of)(rate, {
    unit: 'share/year',
    method: YEARS,
    basis: basisOf(of),
    working: rateLines(slope, rate, base),
    assumptions: assumptionsOf(of),
  });
}

function endOfLife(view: View, of: Judgement, left: number): Figure {
  const method = END(left);
  const rate = fadeOf(of);
  const { trend, reference } = of;
  if (!rate || !reference)
    return insufficient('date', method, trend.reason ?? 'There is no reference yet.', basisOf(of));
  if (rate.low <= 0)
    return insufficient(
      'date',
      method,
      `No fade can be measured yet: at most ${percent(Math.max(0, rate.high))} a year. A longer range, or a drawdown each year, would narrow it.`,
      basisOf(of),
    );
  const health = trend.level.value / reference.wh;
  const toLose = health - left / 100;
  const years = (a: number) => Math.min(HORIZON_YEARS, Math.max(0, toLose / a));
  const rooted = rootYears(view, of, health, left / 100);
  const all = [years(rate.low), years(rate.high), years(rate.value), rooted ?? years(rate.value)];
  const dateOf = (ahead: number) => view.range.toMs + ahead * YEAR_MS;
  return estimated(
    {
      value: dateOf(years(rate.value)),
      low: dateOf(Math.min(...all)),
      high: dateOf(Math.max(...all)),
    },
    {
      unit: 'date',
      method,
      basis: {
        ...basisOf(of),
        yearsAhead: years(rate.value),
        ...(rooted === null ? {} : { yearsAheadByRoot: rooted }),
      },
      working: [
        { label: 'state of health', value: health, unit: 'share', role: 'input' },
        { label: `− ${left} % left`, value: left / 100, unit: 'share', role: 'input' },
        { label: '÷ fade', value: rate.value, unit: 'share/year', role: 'input' },
        { label: 'reached', value: dateOf(years(rate.value)), unit: 'date', role: 'result' },
      ],
      assumptions: [
        'The battery is used and kept as it was in this range; nothing further than 50 years ahead is told.',
        ...assumptionsOf(of),
      ],
    },
  );
}

/** Years from now by the square-root course through the reference and the present level; null where it does not fall. */
function rootYears(view: View, of: Judgement, health: number, left: number): number | null {
  const since = Number.isFinite(of.configuration.fromMs)
    ? of.configuration.fromMs
    : of.estimates[0]!.atMs - YEAR_MS / 8;
  const age = (view.range.toMs - since) / YEAR_MS;
  if (health >= 1 || age <= 0) return null;
  return Math.min(HORIZON_YEARS, Math.max(0, age * (((1 - left) / (1 - health)) ** 2 - 1)));
}
