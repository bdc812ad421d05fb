import { figureEntry, type TrialResult, type TypedBesideLogged } from '@long-tally/core';
import { StatusMark } from '../../ui/StatusMark.js';
import { clockText, intervalText, unitText, valueText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { labelOf, localized } from '../../ui/localized.js';

/** What a trial gave: the verdict, its figures with their intervals, and the checks with what each weighs. */
export function Outcome({ result, timeZone }: { readonly result: TrialResult; readonly timeZone: string }) {
  const { figures, checks, verdict, advice = [], compared } = result;
  const told = Object.entries(figures).filter(([, { value }]) => value !== null);
  const open = Object.entries(figures).filter(([, { value }]) => value === null);
  return (
    <section aria-label="Result" className="mt-4">
      <h2 className="text-[16px]">Result so far</h2>
      <p className="my-1 text-[15px]">{localized(verdict.message)}</p>
      {advice.length > 0 && (
        <ul className="mb-1 list-disc pl-5" aria-label="From here on">
          {advice.map((text) => (
            <li key={text}>{localized(text)}</li>
          ))}
        </ul>
      )}
      <Table className="w-full max-w-3xl text-[13.5px]">
        <thead className="sr-only">
          <tr>
            <th scope="col">figure</th>
            <th scope="col">value</th>
            <th scope="col">interval</th>
          </tr>
        </thead>
        <tbody>
          {told.map(([key, figure]) => (
            <tr key={key} className="border-b border-rule">
              <th scope="row" className="text-left font-normal" title={figureEntry(key).meaning}>
                {labelOf(key)}
              </th>
              <td className="text-right font-semibold">
                {valueText(figure.value!, figure.unit)} {unitText(figure.unit)}
              </td>
              <td className="pl-3 text-faint">
                <StatusMark status={figure.status} /> {intervalText(figure)}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {open.length > 0 && (
        <p className="mt-1 text-[13px] text-faint">
          Not yet: {open.map(([key]) => labelOf(key).toLowerCase()).join(', ')}.{' '}
          {open.find(([, { reason }]) => reason)?.[1].reason}
        </p>
      )}
      {compared.length > 0 && <Compared compared={compared} timeZone={timeZone} />}
      <ul className="mt-2 max-w-3xl text-[13.5px]" aria-label="Checks">
        {checks.map(({ code, ok, weight, message }) => (
          <li key={code} className={ok === false ? 'text-red' : ok === null ? 'text-faint' : ''}>
            <b className="inline-block w-6">
              {ok === null ? '–' : ok ? '✓' : weight === 'invalid' ? '✗' : '!'}
            </b>
            {localized(message)}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What was typed beside what the log has of the same hours: whether they agree, and which of them counts. */
function Compared({
  compared,
  timeZone,
}: {
  readonly compared: readonly TypedBesideLogged[];
  readonly timeZone: string;
}) {
  return (
    <div
      className="relative mt-2 max-w-3xl overflow-x-auto"
      role="region"
      aria-label="Typed beside logged"
      tabIndex={0}
    >
      <Table className="w-full text-[13px]">
        <caption className="text-left text-faint">
          Typed beside the log of the same hours; values where they differ most
        </caption>
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            <th className="text-left font-normal">of</th>
            <th className="font-normal">readings</th>
            <th className="font-normal">typed</th>
            <th className="font-normal">logged</th>
            <th className="pl-3 text-left font-normal">they</th>
          </tr>
        </thead>
        <tbody>
          {compared.map(({ what, unit, readings, typed, logged, at, agrees, leads }) => (
            <tr key={what} className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                {what}
              </th>
              <td>{readings}</td>
              <td>
                {valueText(typed, unit)} {unitText(unit)}
              </td>
              <td>
                {valueText(logged, unit)} {unitText(unit)}
              </td>
              <td className={`pl-3 text-left ${agrees ? '' : 'text-red'}`}>
                {agrees ? 'agree' : 'differ'}
                {at !== null && !agrees && ` at ${clockText(Date.parse(at), timeZone)}`}
                {leads !== null && (leads === 'log' ? '; the log counts' : '; the readings count')}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}
