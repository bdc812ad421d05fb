import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Method,
} from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { warrantyState, type Clock, type WarrantyState } from './warrantyState.js';

const PRACTICE = 'Used ÷ limit: common practice, no published source. The warranty document itself decides.';
export const YEARS: Method = {
  id: 'warranty.years',
  formula: 'time since it began ÷ its years',
  source: PRACTICE,
};
export const WARRANTED_THROUGHPUT: Method = {
  id: 'warranty.throughput',
  formula: 'Σ discharge since it began ÷ warranted throughput',
  source: PRACTICE,
};
export const CYCLES: Method = {
  id: 'warranty.cycles',
  formula: '(Σ count × depth ÷ the stated depth) ÷ warranted cycles',
  source: `${PRACTICE} Rainflow: ASTM E1049-85.`,
};
export const FIRST: Method = {
  id: 'warranty.first',
  formula: 'the earliest date at which a limit is reached at the rate of the last 365 days',
  source: PRACTICE,
};

/** The warranty's clocks as figures. */
export function warranty(data: RangeData): Record<string, Figure> {
  const state = warrantyState(data);
  const method = { years: YEARS, throughput: WARRANTED_THROUGHPUT, cycles: CYCLES } as const;
  const stated = { years: 'years', throughput: 'throughputKWh', cycles: 'cycles' } as const;
  const figures = (['years', 'throughput', 'cycles'] as const).map((limit) => {
    const key = `warranty.${limit}`;
    if (state?.terms[stated[limit]] === undefined)
      return [
        key,
        notMeasured(
          'share',
          method[limit],
          `The system describes no warranty with a limit of ${limit}; the System view takes its terms.`,
        ),
      ] as const;
    const clock = state.clocks.find((one) => one.limit === limit);
    if (!clock)
      return [
        key,
        insufficient(
          'share',
          method[limit],
          limit === 'cycles'
            ? 'The state of charge is not known for a day of the warranty’s time; a column soc_pct would supply it.'
            : 'Battery power is not known for a day of the warranty’s time; a column battery_w would supply it.',
        ),
      ] as const;
    return [key, clockFigure(state, clock, method[limit])] as const;
  });
  return { ...Object.fromEntries(figures), 'warranty.first': firstFigure(state) };
}

function clockFigure(state: WarrantyState, clock: Clock, method: Method): Figure {
  return (clock.isFilled ? estimated : measured)(clock.used, {
    unit: 'share',
    method,
    basis: {
      configurations: [state.configuration.name],
      began: new Date(state.beginsMs).toISOString(),
      terms: state.isOffGrid ? 'off-grid' : 'grid-tied',
      ...(clock.rate ? { shareAYear: clock.rate.value } : {}),
      ...(clock.runsOutMs ? { runsOut: new Date(clock.runsOutMs.value).toISOString().slice(0, 10) } : {}),
      ...(clock.limit === 'throughput' && state.allowedADayKWh !== null
        ? { staysInsideKWhADay: state.allowedADayKWh }
        : {}),
    },
    working: clock.working,
    assumptions: [
      ...(clock.isFilled
        ? [
            'Time of the warranty without a log is filled in at the log’s mean rate, which is taken to be right within a third.',
          ]
        : []),
      ...(clock.limit === 'cycles'
        ? ['Shallower cycles count by their depth against the stated one; terms differ, read the document.']
        : []),
    ],
  });
}

function firstFigure(state: WarrantyState | null): Figure {
  const ending =
    state?.clocks.flatMap(({ limit, runsOutMs }) => (runsOutMs ? [{ limit, runsOutMs }] : [])) ?? [];
  if (!state)
    return notMeasured(
      'date',
      FIRST,
      'The system describes no warranty; the System view takes its years, throughput and cycles.',
    );
  if (ending.length === 0)
    return insufficient(
      'date',
      FIRST,
      'No limit of the warranty is reached within a hundred years, or none can be counted.',
    );
  const first = ending.reduce((soon, one) => (one.runsOutMs.value < soon.runsOutMs.value ? one : soon));
  const low = Math.min(...ending.map(({ runsOutMs }) => runsOutMs.low));
  // The first of several is reached no later than the earliest latest date.
  const high = Math.max(first.runsOutMs.value, Math.min(...ending.map(({ runsOutMs }) => runsOutMs.high)));
  return estimated(
    { value: first.runsOutMs.value, low, high },
    {
      unit: 'date',
      method: FIRST,
      basis: {
        limit: first.limit,
        configurations: [state.configuration.name],
        terms: state.isOffGrid ? 'off-grid' : 'grid-tied',
      },
      working: ending.map(({ limit, runsOutMs }) => ({
        label: `${limit} reached`,
        value: runsOutMs.value,
        unit: 'date',
        role: limit === first.limit ? 'result' : 'input',
      })),
      assumptions: [
        'The battery goes on being used as in the last 365 days. The warranty document itself decides.',
      ],
    },
  );
}
