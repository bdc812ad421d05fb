import type { MoneyView } from '@long-tally/core';
import { extent, scaleLinear } from 'd3';
import { apart } from '../../charts/apart.js';
import { Marks } from '../../charts/Marks.js';
import { cross, disc } from '../../charts/symbols.js';
import { decimal, temperatureText } from '../../ui/format.js';
import { useWidth } from '../../ui/useSize.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

type Like = MoneyView['like'];
type ByWeather = Extract<Like['weather'], { readonly kind: string }>;

const HEIGHT = 220;
const [LEFT, RIGHT, TOP, BOTTOM] = [40, 96, 10, 34];

/** This range beside others of its length and of the year before, and by degree days what weather does not explain. */
export function LikeWithLike({ like: { stretches, weather } }: { readonly like: Like }) {
  const value = (of: number | null, digits: number) => (of === null ? '–' : decimal(of, digits));
  const hasWeather = stretches.some(({ heatingK }) => heatingK !== null);
  return (
    <section aria-label="Like with like" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Like with like</h2>
      <Table className="w-full text-[13.5px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            {[
              '',
              'days',
              'used, kWh a day',
              'bought, kWh a day',
              ...(hasWeather ? ['heating, K', 'cooling, K'] : []),
            ].map((name, k) => (
              <th key={k} scope="col" className="pl-3 font-normal">
                {name || <span className="sr-only">stretch</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {stretches.map(({ label, days, loadKWh, importKWh, heatingK, coolingK }) => (
            <tr key={label} className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                {label}
              </th>
              <td>{decimal(days, 0)}</td>
              <td>{value(loadKWh, 1)}</td>
              <td>{value(importKWh, 1)}</td>
              {hasWeather && (
                <>
                  <td>{value(heatingK, 1)}</td>
                  <td>{value(coolingK, 1)}</td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </Table>
      {'reason' in weather ? (
        <p className="mt-1 text-faint">{localized(weather.reason)}</p>
      ) : (
        <Weather weather={weather} />
      )}
    </section>
  );
}

function Weather({ weather }: { readonly weather: ByWeather }) {
  const { kind, thresholdC, difference, before, now } = weather;
  const [ref, width] = useWidth<HTMLDivElement>();
  const isSure = difference.low > 0 || difference.high < 0;
  const size = `${decimal(Math.abs(difference.value), 1)} kWh a day`;
  const bounds = `${decimal(difference.low, 1)} to ${decimal(difference.high, 1)}`;
  return (
    <>
      <p className="mt-2">
        {isSure
          ? `Beside the weather, ${size} ${difference.value > 0 ? 'more' : 'less'} than the year before (${bounds}).`
          : `What the weather does not explain, ${size}, may be nothing (${bounds}).`}{' '}
        A degree {kind === 'heating' ? 'below' : 'above'} {temperatureText(thresholdC, 1)} took{' '}
        {decimal(before.slope, 2)} kWh then and {decimal(now.slope, 2)} now.
      </p>
      <div ref={ref} className="mt-1">
        {width > 0 && <Scatter weather={weather} width={width} />}
      </div>
    </>
  );
}

function Scatter({
  weather: { kind, days, before, now },
  width,
}: {
  readonly weather: ByWeather;
  readonly width: number;
}) {
  const [, mostK = 1] = extent(days, ({ degreeK }) => degreeK);
  const [, mostKWh = 1] = extent(days, ({ loadKWh }) => loadKWh);
  const x = scaleLinear([0, mostK], [LEFT, width - RIGHT]).nice();
  const end = x.domain()[1]!;
  const lines = [
    { name: '+ year before', colour: 'var(--faint)', dash: '4 3', ...before },
    { name: '● this range', colour: 'var(--home)', dash: undefined, ...now },
  ]
    .filter(({ base }) => !Number.isNaN(base))
    .map((one) => ({ ...one, kWh: one.base + one.slope * end }));
  const y = scaleLinear(
    [0, Math.max(mostKWh, ...lines.map(({ kWh }) => kWh))],
    [HEIGHT - BOTTOM, TOP],
  ).nice();
  const names = apart(
    lines.map(({ name, colour, kWh }) => ({ name, colour, at: y(kWh) })),
    HEIGHT - BOTTOM,
  );
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`Use of each day against its ${kind} degree days, this range and the year before, with their lines`}
      fontSize="12"
    >
      {y.ticks(4).map((kWh) => (
        <g key={kWh}>
          <path d={`M${LEFT} ${y(kWh)}H${width - RIGHT}`} stroke="var(--rule)" />
          <text x={LEFT - 6} y={y(kWh) + 4} textAnchor="end" fill="var(--faint)">
            {decimal(kWh, 0)}
          </text>
        </g>
      ))}
      {x.ticks(6).map((k) => (
        <text key={k} x={x(k)} y={HEIGHT - BOTTOM + 15} textAnchor="middle" fill="var(--faint)">
          {decimal(k, 0)}
        </text>
      ))}
      <text x={width - RIGHT} y={HEIGHT - 4} textAnchor="end" fill="var(--faint)">
        {kind} degree days of a day, K
      </text>
      <text x={LEFT + 4} y={TOP + 6} fill="var(--faint)">
        kWh a day
      </text>
      <Marks
        points={days.filter(({ isNow }) => !isNow)}
        mark={({ degreeK, loadKWh }) => cross(x(degreeK), y(loadKWh), 2.5)}
        look={{ stroke: 'var(--faint)' }}
      />
      <Marks
        points={days.filter(({ isNow }) => isNow)}
        mark={({ degreeK, loadKWh }) => disc(x(degreeK), y(loadKWh), 2.6)}
        look={{ fill: 'var(--home)', fillOpacity: 0.7 }}
      />
      {lines.map(({ name, colour, dash, base, kWh }) => (
        <path
          key={name}
          d={`M${x(0)} ${y(base)}L${x(end)} ${y(kWh)}`}
          stroke={colour}
          strokeWidth="1.8"
          strokeDasharray={dash}
        />
      ))}
      {names.map(({ name, colour, at }) => (
        <text key={name} x={width - RIGHT + 6} y={at + 4} fill={colour}>
          {name}
        </text>
      ))}
    </svg>
  );
}
