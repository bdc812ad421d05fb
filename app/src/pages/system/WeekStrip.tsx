import { dayNumberOfDate, ratesOfDay, systemSchema } from '@long-tally/core';
import { useFormContext, useWatch } from 'react-hook-form';
import { decimal } from '../../ui/format.js';
import type { SystemForm } from './form.js';
import { tariffOf, tariffSchema } from './tariffForm.js';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
/** Monday, 1 January 2024, and 1 July 2024, as numbers of days: a week of winter and one of summer. */
const WEEKS = [
  ['January', 19_723],
  ['July', 19_905],
] as const;
const HALF_HOURS = 48;
const SLOTS = 6;
const LETTERS = 'abcdefghijklmnopqrstuvwxyz';

/** Which price of a tariff holds in each half hour of a week; hours without one stand out. */
export function WeekStrip({ tariff: index }: { readonly tariff: number }) {
  const { control } = useFormContext<SystemForm>();
  const form = useWatch({ control, name: `tariffs.${index}` });
  const typed = tariffSchema.safeParse(form);
  const described = typed.success && systemSchema.shape.tariffs.safeParse([tariffOf(typed.data, null)]);
  const tariff = described && described.success ? described.data?.[0] : undefined;
  if (!tariff?.import?.length) return null;
  const ratesOn = (day: number) => {
    const rates = ratesOfDay(tariff, 'import', day);
    return Array.from({ length: HALF_HOURS }, (_, k) => rates[k * SLOTS]!);
  };
  const weeks = WEEKS.map(([name, first]) => ({
    name,
    rows: DAYS.map((label, day) => ({ label, rates: ratesOn(first + day) })),
  }));
  const [winter, summer] = weeks;
  const isSame = JSON.stringify(winter!.rows) === JSON.stringify(summer!.rows);
  const announced = Object.entries(tariff.dayClasses ?? {}).flatMap(([label, [date]]) =>
    date === undefined ? [] : [{ label, rates: ratesOn(dayNumberOfDate(date)) }],
  );
  const shown = [
    ...(isSame ? [{ ...winter!, name: 'every month' }] : weeks),
    ...(announced.length > 0 ? [{ name: 'announced days', rows: announced }] : []),
  ];
  const prices = [...new Set(shown.flatMap(({ rows }) => rows.flatMap(({ rates }) => rates)))]
    .filter((rate) => !Number.isNaN(rate))
    .sort((a, b) => a - b);
  const bare = weeks
    .flatMap(({ rows }) => rows.flatMap(({ rates }) => rates))
    .filter((rate) => Number.isNaN(rate)).length;
  const shade = (rate: number) => 0.12 + (0.6 * prices.indexOf(rate)) / Math.max(1, prices.length - 1);
  return (
    <div className="mt-2" role="group" aria-label={`Hours of tariff ${index + 1}`}>
      <p className="text-[12.5px] text-faint">
        What is bought, by half hours:{' '}
        {prices.map((rate, k) => `${LETTERS[k % LETTERS.length]} ${decimal(rate, 4)}`).join(' · ')}
      </p>
      {bare > 0 && (
        <p className="text-[12.5px] text-red">
          {bare / 2 / weeks.length === 168
            ? 'No hour of the week has a price.'
            : `${decimal(bare / 2 / weeks.length, 1)} hours of a week have no price; add a line without a window for them.`}
        </p>
      )}
      <div className="mt-1 flex flex-wrap gap-6">
        {shown.map(({ name, rows }) => (
          <svg
            key={name}
            width={330}
            height={rows.length * 12 + 26}
            role="img"
            aria-label={name === 'announced days' ? 'Prices of announced days' : `Prices of a week, ${name}`}
            fontSize="10"
          >
            <text x="28" y="9" fill="var(--faint)">
              {name}
            </text>
            {rows.map(({ label, rates }, day) => (
              <g key={label} transform={`translate(28,${14 + day * 12})`}>
                <text x="-4" y="9" textAnchor="end" fill="var(--faint)">
                  {label.slice(0, 5)}
                </text>
                {spans(rates).map(({ rate, from, to }) => (
                  <g key={from}>
                    <rect
                      x={from * 6}
                      width={(to - from) * 6}
                      height="11"
                      fill={Number.isNaN(rate) ? 'url(#hatch-missing)' : 'var(--ink)'}
                      fillOpacity={Number.isNaN(rate) ? 1 : shade(rate)}
                      stroke="var(--paper)"
                    />
                    {!Number.isNaN(rate) && (
                      <text
                        x={(from + to) * 3}
                        y="9"
                        textAnchor="middle"
                        fill={shade(rate) > 0.45 ? 'var(--paper)' : 'var(--ink)'}
                      >
                        {LETTERS[prices.indexOf(rate) % LETTERS.length]}
                      </text>
                    )}
                  </g>
                ))}
              </g>
            ))}
            {[0, 6, 12, 18, 24].map((hour) => (
              <text
                key={hour}
                x={28 + hour * 12}
                y={rows.length * 12 + 24}
                textAnchor="middle"
                fill="var(--faint)"
              >
                {hour}
              </text>
            ))}
          </svg>
        ))}
      </div>
    </div>
  );
}

/** Half hours of one price after each other. */
function spans(rates: readonly number[]) {
  const found: { rate: number; from: number; to: number }[] = [];
  for (const [k, rate] of rates.entries()) {
    const last = found.at(-1);
    if (last && Object.is(last.rate, rate)) last.to = k + 1;
    else found.push({ rate, from: k, to: k + 1 });
  }
  return found;
}
