import type { CsvTable, Field } from '../model/csvTable.js';
import type { Report } from '../report/reportFormat.js';

const field =
  (type: Field['type']) =>
  (name: string, description: string): Field => ({ name, type, description });
const [text, number, day, instant, truth] = [
  field('string'),
  field('number'),
  field('date'),
  field('datetime'),
  field('boolean'),
];
const kWh = (name: string, description: string) => number(name, `${description}, kWh`);

/** What the figures of a report rest on, as tables by name. */
export function evidenceTables(report: Report): Readonly<Record<string, CsvTable>> {
  return {
    days: {
      fields: [
        day('date', 'day of the site'),
        kWh('solar', 'made by the panels'),
        kWh('load', 'used by the home'),
        kWh('import', 'taken from the grid'),
        kWh('export', 'given to the grid'),
        kWh('charge', 'into the battery'),
        kWh('discharge', 'out of the battery'),
        number('soc_min', 'lowest state of charge, share'),
        number('soc_max', 'highest state of charge, share'),
        number('coverage', 'share of the day that is measured'),
        truth('grid_free', 'whether the day did without the grid'),
      ],
      rows: report.days.map((one) => [
        one.date,
        one.solar,
        one.load,
        one.import,
        one.export,
        one.charge,
        one.discharge,
        one.socMin,
        one.socMax,
        one.coverage,
        one.gridFree,
      ]),
    },
    outages: {
      fields: [
        instant('from', 'when the grid went'),
        instant('to', 'when it came back'),
        number('hours', 'how long'),
        text('evidence', 'what tells of it'),
        truth('planned', 'whether it was a run on purpose'),
        number('soc_start', 'state of charge at first, share'),
        number('soc_end', 'state of charge at last, share'),
        number('soc_lowest', 'lowest state of charge, share'),
        kWh('load', 'used meanwhile'),
        kWh('solar', 'made meanwhile'),
        kWh('battery', 'out of the battery meanwhile'),
        number('peak_kw', 'highest load, kW'),
        number('unserved_hours', 'hours without power in the home'),
      ],
      rows: report.outages.map((one) => [
        one.from,
        one.to,
        one.hours,
        one.evidence,
        one.planned,
        one.socStart,
        one.socEnd,
        one.socLowest,
        one.load,
        one.solar,
        one.battery,
        one.peakKW,
        one.unservedHours,
      ]),
    },
    capacity: {
      fields: [
        instant('at', 'end of the run it is read from'),
        kWh('kwh', 'capacity'),
        kWh('low', 'lower bound'),
        kWh('high', 'upper bound'),
        number('depth', 'swing of the state of charge, share'),
        text('side', 'ac or dc: where it is measured'),
        text('kind', 'segment, full run or trial'),
        text('direction', 'discharge or charge'),
      ],
      rows: report.capacity.map((one) => [
        one.at,
        one.kWh,
        one.low,
        one.high,
        one.depth,
        one.side,
        one.kind,
        one.direction,
      ]),
    },
    rainflow: {
      fields: [
        instant('from', 'one end of the cycle'),
        instant('to', 'the other end'),
        number('depth', 'range of the state of charge, share'),
        number('mean', 'mean state of charge, share'),
        number('count', '0.5 or 1'),
      ],
      rows: report.rainflow.map((one) => [one.from, one.to, one.depth, one.mean, one.count]),
    },
    figures: {
      fields: [
        text('figure', 'key of the figure'),
        number('value', 'its value'),
        number('low', 'lower bound, about 95 %'),
        number('high', 'upper bound'),
        text('unit', 'unit of the three'),
        text('status', 'measured, estimated, insufficient or not-measured'),
        text('reason', 'why there is no value'),
        text('method', 'how it is computed'),
        text('source', 'where the method comes from'),
      ],
      rows: Object.entries(report.figures).map(([key, one]) => [
        key,
        one.value,
        one.low,
        one.high,
        one.unit,
        one.status,
        one.reason ?? '',
        one.method,
        one.source,
      ]),
    },
  };
}
