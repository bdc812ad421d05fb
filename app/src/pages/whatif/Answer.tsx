import { figureEntry, type Whatif } from '@long-tally/core';
import { decimal, unitText, valueText } from '../../ui/format.js';

const ROWS = [
  'account.selfSufficiency.supply',
  'account.selfSufficiency.grid',
  'account.import',
  'account.export',
  'account.gridFreeDays',
  'solar.heldBack',
  'wear.efc.nameplate',
  'outage.survive.12h',
  'outage.survive.24h',
  'peak.hoursAbove.batteryOnly',
  'money.bill',
  'money.saving',
] as const;

interface AnswerProps {
  readonly result: Whatif;
  readonly modules: number;
  readonly currency: string;
}

/** What the scenarios would have changed, and how many modules are worth having. */
export function Answer({
  result: { base, scenarios, sweep, knee, reach, grid },
  modules,
  currency,
}: AnswerProps) {
  const rows = ROWS.filter((key) => base.modelled[key]?.value != null);
  const supply = base.errors['account.selfSufficiency.supply'];
  const signed = (value: number, unit: Parameters<typeof valueText>[1]) =>
    `${value > 0 ? '+' : ''}${valueText(value, unit)}`;
  return (
    <>
      <p className="my-2 max-w-4xl text-[15px]">
        {supply == null
          ? 'What the model is worth cannot be held against the log here.'
          : `The home as it is, modelled: self-sufficiency lies ${decimal(Math.abs(100 * supply), 1)} points ${supply >= 0 ? 'above' : 'below'} the log. A what-if is only as good as that; what to trust are the differences.`}
      </p>
      {base.causes.map((cause) => (
        <p key={cause} className="my-2 max-w-4xl">
          {cause}
        </p>
      ))}
      <section aria-label="Scenarios" className="mt-3">
        <h2 className="text-[16px]">What would have changed</h2>
        <div className="overflow-x-auto" role="region" aria-label="Differences of scenarios" tabIndex={0}>
          <table className="w-full text-[13px]">
            <thead>
              <tr className="border-b border-rule-2 text-right align-bottom text-faint">
                <th scope="col" className="text-left font-normal">
                  figure
                </th>
                {['logged', 'modelled', ...scenarios.map(({ name }) => name)].map((name) => (
                  <th key={name} scope="col" className="max-w-40 pl-3 font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((key) => {
                const own = base.modelled[key]!;
                const logged = base.logged[key];
                return (
                  <tr key={key} className="border-b border-rule text-right align-top">
                    <th scope="row" className="text-left font-normal">
                      {figureEntry(key).label},{' '}
                      {own.unit === 'currency' ? currency : unitText(own.unit) || 'count'}
                    </th>
                    <td className="pl-3 text-faint">
                      {logged?.value == null ? '–' : valueText(logged.value, logged.unit)}
                    </td>
                    <td className="pl-3">{valueText(own.value!, own.unit)}</td>
                    {scenarios.map(({ name, figures }) => {
                      const figure = figures[key]!;
                      const difference = figure.basis.difference;
                      return (
                        <td key={name} className="pl-3">
                          {figure.value === null || !difference ? (
                            '–'
                          ) : (
                            <>
                              <b>{signed(difference.value, figure.unit)}</b>
                              <span className="block text-[12px] text-faint">
                                {valueText(difference.low, figure.unit)} to{' '}
                                {valueText(difference.high, figure.unit)}
                              </span>
                            </>
                          )}
                        </td>
                      );
                    })}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
        {scenarios.map(
          ({ name, payback }) =>
            payback && (
              <p key={name} className="mt-1 max-w-4xl">
                <b>{name}</b>: {payback.says}
              </p>
            ),
        )}
      </section>
      <section aria-label="How many modules" className="mt-5">
        <h2 className="text-[16px]">How many modules</h2>
        {reach && <p>{reach.says}</p>}
        {knee && <p className="text-faint">{knee.reason}</p>}
        <table className="mt-1 w-full max-w-3xl text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-left text-faint">
              <th scope="col" className="font-normal">
                modules
              </th>
              <th scope="col" className="font-normal">
                self-sufficiency, by supply
              </th>
              <th scope="col" className="text-right font-normal">
                import, kWh
              </th>
            </tr>
          </thead>
          <tbody>
            {sweep.map(({ at, figures }) => {
              const share = figures['account.selfSufficiency.supply']?.value ?? 0;
              const bought = figures['account.import']?.value;
              return (
                <tr key={at} className={`border-b border-rule ${at === modules ? 'bg-selected' : ''}`}>
                  <th scope="row" className="w-24 text-left font-normal">
                    {at}
                    {at === modules && ', as it is'}
                    {at === knee?.at && ' ·'}
                  </th>
                  <td>
                    <span className="inline-block w-14 text-right">{decimal(100 * share, 1)} %</span>
                    <span
                      aria-hidden
                      className="ml-2 inline-block h-[10px] bg-battery"
                      style={{ width: `${Math.max(0, 60 * share)}%` }}
                    />
                  </td>
                  <td className="text-right">{bought == null ? '–' : decimal(bought, 0)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </section>
      {grid.length > 0 && <Crossed grid={grid} />}
    </>
  );
}

/** Self-sufficiency by modules and reserve: what is kept for outages serves no evening. */
function Crossed({ grid }: { readonly grid: Whatif['grid'] }) {
  const [modules, reserves] = [0, 1].map((k) => [...new Set(grid.map(({ at }) => at[k]!))]) as [
    number[],
    number[],
  ];
  const share = (count: number, reserve: number) =>
    grid.find(({ at }) => at[0] === count && at[1] === reserve)?.figures['account.selfSufficiency.supply']
      ?.value;
  return (
    <section aria-label="Modules and reserve" className="mt-5">
      <h2 className="text-[16px]">Modules and reserve</h2>
      <p className="text-faint">Self-sufficiency by supply, %: what is kept for outages serves no evening.</p>
      <div className="overflow-x-auto" role="region" aria-label="Modules and reserve, table" tabIndex={0}>
        <table className="mt-1 text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th scope="col" className="pr-4 text-left font-normal">
                modules
              </th>
              {reserves.map((reserve) => (
                <th key={reserve} scope="col" className="pl-4 font-normal">
                  reserve {decimal(100 * reserve, 0)} %
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {modules.map((count) => (
              <tr key={count} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  {count}
                </th>
                {reserves.map((reserve) => {
                  const value = share(count, reserve);
                  return (
                    <td
                      key={reserve}
                      className="pl-4"
                      style={{
                        background: `color-mix(in srgb, var(--battery) ${Math.round(25 * (value ?? 0))}%, var(--paper))`,
                      }}
                    >
                      {value == null ? '–' : decimal(100 * value, 1)}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
