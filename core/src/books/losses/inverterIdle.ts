import { insufficient, measured, notMeasured, type Figure, type Method } from '../../model/figure.js';
import { isTold, LEAST_NIGHTS, LEAST_POINTS, tareLine } from '../shared/tareLine.js';
import { combined, zeroOf, type Doubt, doubtLines } from '../shared/uncertainty.js';
import { type View } from '../../passes/rangeData.js';

export const TARE: Method = {
  id: 'losses.idle-inverter',
  formula: 'battery’s DC discharge = a + (load − import) ÷ η, by night; a is the idle draw of the inverter',
  source:
    'Tare line of a converter: common practice, no published source; Huber 1964; bootstrap over nights.',
};
/** The inverter's idle draw by the tare line. */
export function inverterIdle(view: View): Record<string, Figure> {
  return { 'losses.idle.inverter': tareFigure(view) };
}

function tareFigure(view: View): Figure {
  if (!view.tare) {
    return notMeasured(
      'W',
      TARE,
      'The tare line needs the battery’s DC power (battery_dc_w), the load and the grid, each logged by a meter of its own, in steps of 30 minutes or less.',
    );
  }
  const line = tareLine(view);
  if (!line || !isTold(line)) {
    const found = line
      ? `${line.points} half hours in ${line.nights} nights, their load varying by ${Math.round(100 * line.spread)} %`
      : 'none';
    return insufficient(
      'W',
      TARE,
      `The tare line needs ${LEAST_POINTS} half hours by night in ${LEAST_NIGHTS} nights with the battery carrying the home and the load varying by 15 %; here: ${found}.`,
    );
  }
  const { first, firstInterval, second } = line.fit;
  const doubts: Doubt[] = [
    { label: 'battery meter, zero', half: zeroOf(view, 'battery') },
    { label: 'load meter, zero', half: zeroOf(view, 'load') * second },
    { label: 'grid meter, zero', half: zeroOf(view, 'grid') * second },
  ];
  const systematic = combined(doubts);
  return measured(
    {
      value: first,
      low: Math.min(first, Math.max(0, first - Math.hypot(systematic, first - firstInterval[0]))),
      high: first + Math.hypot(systematic, firstInterval[1] - first),
    },
    {
      unit: 'W',
      method: TARE,
      basis: {
        points: line.points,
        nights: line.nights,
        spread: line.spread,
        dischargeEfficiency: 1 / second,
        kWhADay: (first * 24) / 1000,
        kWhAYear: (first * 8766) / 1000,
      },
      working: [
        { label: 'half hours by night on the battery', value: line.points, unit: 'count', role: 'input' },
        { label: 'nights', value: line.nights, unit: 'days', role: 'input' },
        { label: 'slope of the line, 1 ÷ η', value: second, unit: 'share', role: 'step' },
        { label: 'foot of the line: idle draw', value: first, unit: 'W', role: 'result' },
        {
          label: 'bootstrap over nights',
          value: (firstInterval[1] - firstInterval[0]) / 2,
          unit: 'W',
          role: 'uncertainty',
        },
        ...doubtLines(doubts, 1, 'W'),
      ],
      assumptions: [
        'Import is taken from the load first, so that the standby trickle does not pass for the battery’s.',
      ],
    },
  );
}
