import {
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Interval,
  type Method,
  type WorkingLine,
} from '../../model/figure.js';
import type { Configuration } from '../../system/configuration.js';
import { lackOf } from '../shared/lacking.js';
import {
  cancelledWithin,
  combined,
  energyUncertainty,
  halfDigit,
  withCancelled,
} from '../shared/uncertainty.js';
import { coverageOf, gradeOf, hoursOf, unshapedOf, perYear, type RangeData } from '../../passes/rangeData.js';
import type { Part } from '../../passes/dayEntries.js';

const NAMES = 'Energy throughput and full equivalent cycles as named in EU Regulation 2023/1542, Annex VII.';
export const THROUGHPUT: Method = { id: 'wear.throughput', formula: 'Σ discharge', source: NAMES };
const DEPTH = 'Common practice, no published source.';
export const DEPTH_MEAN: Method = {
  id: 'wear.depth.night',
  formula: 'mean over nights of (highest SOC − following lowest SOC), noon to noon',
  source: DEPTH,
};
export const SOC_MEAN: Method = {
  id: 'wear.soc-mean',
  formula: 'Σ SOC × length of the interval ÷ time known',
  source: DEPTH,
};

const MISSING = 'The battery’s power is missing throughout this range.';

/** Throughput, equivalent full cycles by each reference, depth of discharge and mean SOC. */
export function use(data: RangeData): Record<string, Figure> {
  return {
    'wear.throughput': throughput(data),
    'wear.efc.nameplate': cycles(data, 'nameplate'),
    'wear.efc.usable': cycles(data, 'usable'),
    'wear.efc.warranty': cycles(data, 'warranty'),
    'wear.efc.both': cycles(data, 'both'),
    'wear.depth.mean': depthMean(data),
    'wear.soc.mean': socMean(data),
  };
}

function throughput(data: RangeData): Figure {
  const { dischargeOnS } = data.total;
  const shapeless = unshapedOf(data.lumps, 'discharge');
  const dischargeWh = data.total.dischargeWh + shapeless.wh;
  const batteryS = data.total.batteryS + shapeless.seconds;
  if (batteryS === 0) return notMeasured('kWh', THROUGHPUT, lackOf(data, ['battery']) ?? MISSING);
  const doubts = energyUncertainty(data, 'battery', dischargeWh, dischargeOnS);
  const half = combined(doubts) / 1000;
  const cancelled = cancelledWithin(data, 'battery');
  const value = dischargeWh / 1000;
  return gradeOf(data, 'battery')(
    { value, low: Math.max(0, value - half), high: value + Math.hypot(half, cancelled.half / 1000) },
    {
      unit: 'kWh',
      method: THROUGHPUT,
      basis: {
        coverage: coverageOf(data, batteryS),
        side: data.batterySide,
        aYear: perYear(value, batteryS),
      },
      working: [
        { label: 'discharge', value, unit: 'kWh', role: 'result' },
        ...withCancelled(doubts, cancelled).map(
          ({ label, half: h }) => ({ label, value: h / 1000, unit: 'kWh', role: 'uncertainty' }) as const,
        ),
      ],
    },
  );
}

type School = 'nameplate' | 'usable' | 'warranty' | 'both';

const FORMULAS: Readonly<Record<School, string>> = {
  nameplate: 'Σ discharge ÷ nameplate capacity',
  usable: 'Σ discharge ÷ usable capacity',
  warranty: 'Σ discharge ÷ the capacity that the warranty names',
  both: '(Σ charge + Σ discharge) ÷ 2 ÷ nameplate capacity',
};

const CAPACITIES: Readonly<Record<School, string>> = {
  nameplate: 'nameplate capacity',
  usable: 'usable capacity',
  warranty: 'capacity named by the warranty',
  both: 'nameplate capacity',
};

function capacityOf(configuration: Configuration, school: School): number | null {
  if (school === 'usable') return configuration.usableWh;
  if (school !== 'warranty') return configuration.nameplateWh;
  const named = configuration.warranty?.terms.capacityKWh;
  return named === undefined ? null : named * 1000;
}

/** How full cycles are counted by a capacity. */
export function efcMethod(school: School): Method {
  return { id: `wear.efc.${school}`, formula: FORMULAS[school], source: NAMES };
}

function cycles(data: RangeData, school: School): Figure {
  const method = efcMethod(school);
  const parts = partsWithLumps(data).filter(({ sums }) => sums.batteryS > 0);
  if (parts.length === 0) return notMeasured('cycles', method, lackOf(data, ['battery']) ?? MISSING);
  const name = CAPACITIES[school];
  if (parts.some(({ configuration }) => capacityOf(configuration, school) === null)) {
    const reason =
      school === 'warranty'
        ? 'No capacity is described as the one that the warranty names, in every configuration of this range; the System view takes it.'
        : `The ${name} is not described for every configuration of this range.`;
    return notMeasured('cycles', method, reason);
  }
  let value = 0;
  let [half, cancelled] = [0, 0];
  const working: WorkingLine[] = [];
  for (const part of parts) {
    const capacityWh = capacityOf(part.configuration, school)!;
    const { throughWh, onS } = through(part, school);
    value += throughWh / capacityWh;
    // One meter for the whole range: its errors add up along, they do not average out.
    half += combined(energyUncertainty(data, 'battery', throughWh, onS)) / capacityWh;
    cancelled += cancelledWithin(data, 'battery', part.sums).half / capacityWh;
    const of = parts.length > 1 ? `, ${part.configuration.name}` : '';
    working.push(
      {
        label: `${school === 'both' ? '(charge + discharge) ÷ 2' : 'discharge'}${of}`,
        value: throughWh / 1000,
        unit: 'kWh',
        role: 'input',
      },
      {
        label: `÷ ${name}${of}`,
        value: capacityWh / 1000,
        unit: 'kWh',
        role: 'input',
      },
      ...(parts.length > 1
        ? [{ label: `cycles${of}`, value: throughWh / capacityWh, unit: 'cycles', role: 'step' } as const]
        : []),
    );
  }
  return gradeOf(data, 'battery')(
    { value, low: Math.max(0, value - half), high: value + Math.hypot(half, cancelled) },
    {
      unit: 'cycles',
      method,
      basis: {
        coverage: coverageOf(
          data,
          parts.reduce((sum, { sums }) => sum + sums.batteryS, 0),
        ),
        configurations: parts.map(({ configuration }) => configuration.name),
        side: data.batterySide,
        aYear: perYear(
          value,
          parts.reduce((sum, { sums }) => sum + sums.batteryS, 0),
        ),
      },
      working: [
        ...working,
        { label: 'equivalent full cycles', value, unit: 'cycles', role: 'result' },
        { label: 'battery meter, gain and zero', value: half, unit: 'cycles', role: 'uncertainty' },
      ],
      assumptions: parts.length > 1 ? ['Each configuration by its own capacity, then added.'] : [],
    },
  );
}

/** The parts of the range with what counters say of the battery's gaps; an unshaped energy belongs to the configuration it begins in. */
function partsWithLumps(data: RangeData): Part[] {
  const { lumps } = data;
  if (!lumps.some(({ flow }) => flow === 'charge' || flow === 'discharge')) return [...data.parts];
  return data.parts.map(({ configuration, sums }) => {
    const own = lumps.filter(({ fromMs }) => fromMs >= configuration.fromMs && fromMs < configuration.toMs);
    const [charge, discharge] = [unshapedOf(own, 'charge'), unshapedOf(own, 'discharge')];
    return {
      configuration,
      sums: {
        ...sums,
        chargeWh: sums.chargeWh + charge.wh,
        dischargeWh: sums.dischargeWh + discharge.wh,
        batteryS: sums.batteryS + discharge.seconds,
      },
    };
  });
}

function through({ sums }: Part, school: School): { throughWh: number; onS: number } {
  return school === 'both'
    ? { throughWh: (sums.chargeWh + sums.dischargeWh) / 2, onS: (sums.chargeOnS + sums.dischargeOnS) / 2 }
    : { throughWh: sums.dischargeWh, onS: sums.dischargeOnS };
}

/** A share of full with its interval, held to what is possible. */
export function shareOfFull(value: number, half: number): Interval {
  return {
    value,
    low: Math.min(value, Math.max(0, value - half)),
    high: Math.max(value, Math.min(1, value + half)),
  };
}

/** SOC differences within a night share the monitor's slow error; its last digit remains at both ends. */
/** How far a depth may be off: SOC at both ends and their last digit. */
export function depthHalf(data: RangeData): number {
  return Math.hypot(data.accuracy.soc, Math.SQRT2 * halfDigit(data.log.channels.get('soc')));
}

function depthMean(data: RangeData): Figure {
  const lack = lackOf(data, ['soc']);
  if (lack) return notMeasured('share', DEPTH_MEAN, lack);
  const { nights } = data;
  if (nights.length === 0) {
    return insufficient(
      'share',
      DEPTH_MEAN,
      'No night of this range has its state of charge known for half the time. One full night would supply it.',
    );
  }
  const value = nights.reduce((sum, { depth }) => sum + depth, 0) / nights.length;
  const half = depthHalf(data);
  return measured(shareOfFull(value, half), {
    unit: 'share',
    method: DEPTH_MEAN,
    basis: { nights: nights.length },
    working: [
      { label: 'falls of all nights, added', value: value * nights.length, unit: 'share', role: 'input' },
      { label: '÷ nights', value: nights.length, unit: 'count', role: 'input' },
      { label: 'mean depth', value, unit: 'share', role: 'result' },
      { label: 'SOC accuracy and last digit', value: half, unit: 'share', role: 'uncertainty' },
    ],
    assumptions: ['A night belongs to the day on which it begins.'],
  });
}

function socMean(data: RangeData): Figure {
  const lack = lackOf(data, ['soc']);
  if (lack) return notMeasured('share', SOC_MEAN, lack);
  const { socTime, socS } = data.total;
  if (socS === 0) return insufficient('share', SOC_MEAN, 'State of charge is missing throughout this range.');
  const value = socTime / socS;
  const half = Math.hypot(data.accuracy.soc, halfDigit(data.log.channels.get('soc')));
  return measured(shareOfFull(value, half), {
    unit: 'share',
    method: SOC_MEAN,
    basis: { coverage: coverageOf(data, socS) },
    working: [
      { label: 'time known', value: hoursOf(socS), unit: 'h', role: 'input' },
      { label: 'mean SOC', value, unit: 'share', role: 'result' },
      { label: 'SOC accuracy and last digit', value: half, unit: 'share', role: 'uncertainty' },
    ],
  });
}
