import { insufficient, notMeasured, type Figure, type Method } from '../../model/figure.js';
import { stepText } from '../../model/hoursText.js';
import { lackOf } from '../shared/lacking.js';
import { isoOf } from '../../time/instant.js';
import { halfDigit, hiddenByDigit } from '../shared/uncertainty.js';
import { channelOf, gradeOf, type RangeData } from '../../passes/rangeData.js';

const PRACTICE = 'Common practice, no published source.';
export const PEAK: Method = {
  id: 'peak.load',
  formula: 'highest mean load of one interval',
  source: PRACTICE,
};
export const HEADROOM: Method = {
  id: 'peak.headroom',
  formula: 'battery-only continuous rating − highest load, smallest over the configurations',
  source: PRACTICE,
};

/** The highest load, and what it leaves of the inverter's battery-only rating. */
export function peaks(data: RangeData): Record<string, Figure> {
  const load = channelOf(data, 'load');
  const { peakLoadW, peakLoadMs } = data.total;
  if (!load || Number.isNaN(peakLoadW)) {
    const reason = lackOf(data, ['load']) ?? 'The load is missing throughout this range.';
    return {
      'peak.load': notMeasured('kW', PEAK, reason),
      'peak.headroom.batteryOnly': notMeasured('kW', HEADROOM, reason),
    };
  }
  const hiddenPeak = hiddenByDigit(data, 'load', peakLoadW);
  if (hiddenPeak)
    return {
      'peak.load': insufficient('kW', PEAK, hiddenPeak),
      'peak.headroom.batteryOnly': insufficient('kW', HEADROOM, hiddenPeak),
    };
  const half = (w: number) =>
    (data.accuracy.load * Math.abs(w) + data.accuracy.offsetW + halfDigit(load)) / 1000;
  const step = stepText(data.log.stepMs);
  const hidden = `Means over ${step} hide motor starts, which can be several times higher.`;
  const graded = gradeOf(data, 'load');
  const kW = peakLoadW / 1000;
  const peak = graded(
    { value: kW, low: kW - half(peakLoadW), high: kW + half(peakLoadW) },
    {
      unit: 'kW',
      method: PEAK,
      basis: { at: isoOf(peakLoadMs), stepSeconds: data.log.stepMs / 1000 },
      working: [
        { label: `highest mean of ${step}`, value: kW, unit: 'kW', role: 'result' },
        { label: 'load meter', value: half(peakLoadW), unit: 'kW', role: 'uncertainty' },
      ],
      assumptions: [hidden],
    },
  );
  return { 'peak.load': peak, 'peak.headroom.batteryOnly': headroom(data, half, hidden, graded) };
}

function headroom(
  data: RangeData,
  half: (w: number) => number,
  hidden: string,
  graded: ReturnType<typeof gradeOf>,
): Figure {
  const parts = data.parts.flatMap(({ configuration, sums }) => {
    const limitW = configuration.limits.batteryOnlyW;
    return limitW === null || Number.isNaN(sums.peakLoadW)
      ? []
      : [{ configuration, limitKW: limitW / 1000, peakW: sums.peakLoadW }];
  });
  if (parts.length === 0) {
    return notMeasured(
      'kW',
      HEADROOM,
      'The inverter’s battery-only continuous rating is not described in the system.',
    );
  }
  const tightest = parts.reduce((tight, part) =>
    part.limitKW * 1000 - part.peakW < tight.limitKW * 1000 - tight.peakW ? part : tight,
  );
  const value = tightest.limitKW - tightest.peakW / 1000;
  const doubt = half(tightest.peakW);
  return graded(
    { value, low: value - doubt, high: value + doubt },
    {
      unit: 'kW',
      method: HEADROOM,
      basis: {
        configuration: tightest.configuration.name,
        configurations: parts.map((part) => part.configuration.name),
      },
      working: [
        {
          label: `battery-only rating, ${tightest.configuration.name}`,
          value: tightest.limitKW,
          unit: 'kW',
          role: 'input',
        },
        { label: '− highest load', value: tightest.peakW / 1000, unit: 'kW', role: 'input' },
        { label: 'headroom', value, unit: 'kW', role: 'result' },
        { label: 'load meter', value: doubt, unit: 'kW', role: 'uncertainty' },
      ],
      assumptions: [
        hidden,
        'Negative headroom means that the home would not have been carried on the battery alone at that moment.',
      ],
    },
  );
}
