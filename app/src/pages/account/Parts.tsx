import type { PartView } from '@long-tally/core';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import { atOf, usePartsQuery } from '../../store/api.js';
import { dateText, decimal } from '../../ui/format.js';
import { RadioChoice } from '../../ui/RadioChoice.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly home: Home;
  readonly from: string;
  readonly to: string;
}

type Month = PartView['months'][number];
type Measured = Pick<Month, 'kWh' | 'share' | 'ofClearSky'>;
type Measure = 'energy' | 'share' | 'yield' | 'sky';

const MEASURES: readonly (readonly [measure: Measure, says: string, isOfArrays: boolean])[] = [
  ['energy', 'kWh', false],
  ['share', 'share of the whole', false],
  ['yield', 'kWh per kWp', true],
  ['sky', 'of a clear sky', true],
];

/** Arrays and loads that are logged by their own name, by month; nothing where there are none. */
export function Parts({ home, from, to }: Props) {
  const { data: parts = [] } = usePartsQuery({ at: atOf(home), from, to });
  const arrays = parts.filter(({ quantity }) => quantity.startsWith('solar:'));
  const loads = parts.filter(({ quantity }) => quantity.startsWith('load:'));
  return (
    <>
      {arrays.length > 0 && <ByMonth title="Arrays by month" parts={arrays} hasSky />}
      {loads.length > 0 && <ByMonth title="Named loads by month" parts={loads} hasSky={false} />}
      {loads.length > 0 && <Uses home={home} loads={loads} />}
    </>
  );
}

interface ByMonthProps {
  readonly title: string;
  readonly parts: readonly PartView[];
  readonly hasSky: boolean;
}

function ByMonth({ title, parts, hasSky }: ByMonthProps) {
  const [measure, setMeasure] = useState<Measure>(hasSky ? 'sky' : 'energy');
  const months = [...new Set(parts.flatMap((part) => part.months.map(({ month }) => month)))].sort();
  const text = (part: PartView, of: Measured | undefined) => {
    const value = of && valueOf(measure, part, of);
    if (value == null) return '–';
    return measure === 'energy' || measure === 'yield'
      ? decimal(value, value < 100 ? 1 : 0)
      : `${decimal(100 * value, measure === 'sky' ? 1 : 0)} %`;
  };
  const hasEarlier =
    measure === 'sky' && parts.some((part) => part.months.some((m) => m.yearBefore !== null));
  return (
    <section aria-label={title} className="mt-5 max-w-5xl">
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="text-[16px]">{title}</h2>
        <RadioChoice
          label={`What is shown of ${hasSky ? 'arrays' : 'loads'}`}
          value={measure}
          choices={MEASURES.filter(([, , isOfArrays]) => hasSky || !isOfArrays).map(
            ([one, says]) => [one, says] as const,
          )}
          onChange={setMeasure}
        />
      </div>
      {measure === 'sky' && (
        <p className="mt-1 max-w-3xl text-[13px] text-faint">
          What each array gave of the sun that a cloudless sky sends on its tilt and azimuth. Clouds and heat
          act on all arrays alike, so a share that falls behind the others’, or behind the year before, points
          to shade, dirt or a fault. {parts.some((part) => part.ofClearSky === null) && LACKING}
        </p>
      )}
      <div className="overflow-x-auto" role="region" aria-label={`${title}, table`} tabIndex={0}>
        <Table className="mt-1 max-w-3xl min-w-80 text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th className="pr-4 text-left font-normal">month</th>
              {parts.map(({ quantity, name, kWp }) => (
                <th key={quantity} className="pl-5 font-normal">
                  {name}
                  {kWp !== null && `, ${decimal(kWp, 1)} kWp`}
                  {hasEarlier && <span className="block text-[12px]">the year before</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {months.map((month) => (
              <tr key={month} className="border-b border-rule text-right align-top">
                <th scope="row" className="pr-4 text-left font-normal whitespace-nowrap">
                  {dateText(`${month}-01`, 'month')}
                </th>
                {parts.map((part) => {
                  const own = part.months.find((one) => one.month === month);
                  return (
                    <td key={part.quantity} className="pl-5">
                      {text(part, own)}
                      {hasEarlier && (
                        <span className="ml-2 inline-block w-14 text-faint">
                          {own?.yearBefore == null ? '' : `${decimal(100 * own.yearBefore, 1)} %`}
                        </span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
            <tr className="text-right font-semibold">
              <th scope="row" className="pr-4 text-left font-semibold">
                all of the range
              </th>
              {parts.map((part) => (
                <td key={part.quantity} className="pl-5">
                  {text(part, part)}
                  {hasEarlier && <span className="ml-2 inline-block w-14" />}
                </td>
              ))}
            </tr>
          </tbody>
        </Table>
      </div>
    </section>
  );
}

const LACKING =
  'For an array without a share, describe the place of the home, and under System an array of the same name with its tilt and azimuth.';

function valueOf(measure: Measure, { kWp }: PartView, { kWh, share, ofClearSky }: Measured): number | null {
  switch (measure) {
    case 'energy':
      return kWh;
    case 'share':
      return share;
    case 'yield':
      return kWp === null ? null : kWh / kWp;
    case 'sky':
      return ofClearSky;
  }
}

/** What a load took for each kilometre or litre that was noted beside it. */
function Uses({ home, loads }: { readonly home: Home; readonly loads: readonly PartView[] }) {
  const uses = loads.flatMap(({ name, uses: own }) => own.map((use) => ({ name, ...use })));
  const day = (ms: number) =>
    dateText(new Intl.DateTimeFormat('en-CA', { timeZone: home.system.timeZone }).format(ms), 'plain');
  return (
    <div className="mt-2 max-w-3xl text-[13px]">
      <ul>
        {uses.map(({ name, unit, units, kWh, perUnit, coverage, fromMs, toMs }) => (
          <li key={`${name} ${unit}`}>
            {name}: {decimal(units, 0)} {unit} from {day(fromMs)} to {day(toMs)} with {decimal(kWh, 1)} kWh
            {perUnit ? (
              <>
                ,{' '}
                <b>
                  {perUnit.value.toPrecision(3)} kWh per {unit}
                </b>{' '}
                ({perUnit.low.toPrecision(3)} to {perUnit.high.toPrecision(3)})
              </>
            ) : (
              `; the log lacks ${decimal(100 * (1 - coverage), 0)} % of that time, so what each ${unit} took is not given`
            )}
            .
          </li>
        ))}
      </ul>
      <p className="text-faint">
        Note what a counter of a load shows (kilometres of a car, litres of a pump) among the{' '}
        <Link className="quiet" to={`/h/${home.id}/readings`}>
          readings
        </Link>
        ; from the second one on, this tells what each unit took.
      </p>
    </div>
  );
}
