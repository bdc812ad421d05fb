import { lackOf } from '../shared/lacking.js';
import { counted } from '../../model/counted.js';
import {
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Method,
  type WorkingLine,
} from '../../model/figure.js';
import { isTold, LEAST_NIGHTS, LEAST_POINTS, tareLines, type TareLine } from '../shared/tareLine.js';
import { combined, zeroOf, type Uncertainty, uncertaintyLines } from '../shared/uncertainty.js';
import { type RangeData } from '../../passes/rangeData.js';

export const TARE: Method = {
  id: 'losses.idle-inverter',
  formula: 'battery’s DC discharge = a + (load − import) ÷ η, by night; a is the idle draw of the inverter',
  source:
    'Tare line of a converter: common practice, no published source; Huber 1964; bootstrap over nights.',
};
/** The inverter's idle draw by the tare line. */
export function inverterIdle(data: RangeData): Record<string, Figure> {
  return { 'losses.idle.inverter': tareFigure(data) };
}

function tareFigure(data: RangeData): Figure {
  const lack = data.tare ? null : lackOf(data, ['battery', 'load', 'grid']);
  if (lack) return notMeasured('W', TARE, lack);
  if (!data.tare) {
    return notMeasured(
      'W',
      TARE,
      'The tare line needs the battery’s DC power (battery_dc_w), the load and the grid, each logged by a meter of its own, in steps of 30 minutes or less.',
    );
  }
  const lines = tareLines(data);
  const told = lines.filter(isTold);
  if (told.length === 0) {
    const found = lines.map(
      ({ points, nights, spread }) =>
        `${counted(points, 'half hour')} in ${counted(nights, 'night')}, their load varying by ${Math.round(100 * spread)} %`,
    );
    return insufficient(
      'W',
      TARE,
      `The tare line needs ${LEAST_POINTS} half hours by night in ${LEAST_NIGHTS} nights with the battery carrying the home and the load varying by 15 %; here: ${found.join('; ') || 'none'}.`,
    );
  }
  // Over a change each configuration has its own line, and counts for its own time.
  const shares = sharesOfTime(data, told);
  const mean = (of: (line: TareLine) => number) =>
    told.reduce((sum, line, k) => sum + shares[k]! * of(line), 0);
  const spreadOf = (of: (line: TareLine) => number) =>
    Math.hypot(...told.map((line, k) => shares[k]! * of(line)));
  const first = mean(({ fit }) => fit.first);
  const second = mean(({ fit }) => fit.second);
  const below = spreadOf(({ fit }) => fit.first - fit.firstInterval[0]);
  const above = spreadOf(({ fit }) => fit.firstInterval[1] - fit.first);
  const doubts: Uncertainty[] = [
    { label: 'battery meter, zero', half: zeroOf(data, 'battery') },
    { label: 'load meter, zero', half: zeroOf(data, 'load') * second },
    { label: 'grid meter, zero', half: zeroOf(data, 'grid') * second },
  ];
  const systematic = combined(doubts);
  return measured(
    {
      value: first,
      low: Math.min(first, Math.max(0, first - Math.hypot(systematic, below))),
      high: first + Math.hypot(systematic, above),
    },
    {
      unit: 'W',
      method: TARE,
      basis: {
        points: told.reduce((sum, { points }) => sum + points, 0),
        nights: told.reduce((sum, { nights }) => sum + nights, 0),
        spread: mean(({ spread }) => spread),
        dischargeEfficiency: 1 / second,
        kWhADay: (first * 24) / 1000,
        kWhAYear: (first * 8766) / 1000,
      },
      working: [
        ...told.flatMap((line, k) =>
          linesOf(line, told.length > 1 ? ` (${line.configuration.name})` : '', shares[k]!),
        ),
        { label: 'foot of the line: idle draw', value: first, unit: 'W', role: 'result' },
        {
          label: 'bootstrap over nights',
          value: (below + above) / 2,
          unit: 'W',
          role: 'uncertainty',
        },
        ...uncertaintyLines(doubts, 1, 'W'),
      ],
      assumptions: [
        'Import is taken from the load first, so that the standby trickle does not pass for the battery’s.',
        ...lines
          .filter((line) => !isTold(line))
          .map(
            ({ configuration }) =>
              `In ${configuration.name} it cannot be determined and is not in this figure.`,
          ),
      ],
    },
  );
}

/** Shares of the range's time that configurations have among those that are told. */
function sharesOfTime({ range }: RangeData, told: readonly TareLine[]): number[] {
  const times = told.map(
    ({ configuration: { fromMs, toMs } }) => Math.min(range.toMs, toMs) - Math.max(range.fromMs, fromMs),
  );
  const all = times.reduce((sum, ms) => sum + ms, 0);
  return times.map((ms) => ms / all);
}

function linesOf({ points, nights, fit }: TareLine, of: string, share: number): WorkingLine[] {
  return [
    { label: `half hours by night on the battery${of}`, value: points, unit: 'count', role: 'input' },
    { label: `nights${of}`, value: nights, unit: 'days', role: 'input' },
    { label: `slope of the line, 1 ÷ η${of}`, value: fit.second, unit: 'share', role: 'step' },
    ...(of === ''
      ? []
      : [
          { label: `foot of the line${of}`, value: fit.first, unit: 'W', role: 'step' } as const,
          { label: `its share of the time${of}`, value: share, unit: 'share', role: 'step' } as const,
        ]),
  ];
}
