import { STATEMENT_PARTS } from '@long-tally/core';
import { useState } from 'react';
import { counted, decimal, localDateText } from '../../ui/format.js';
import { StatusMark } from '../../ui/StatusMark.js';
import { CapacityCourse, Energies } from './Charts.js';
import { Capacity, Files, Limits, Measured, SystemTable } from './EvidenceParts.js';
import { Lasts, NeverTogether } from './OutageParts.js';
import { KIND_NAMES, PARTS } from './parts.js';
import { KeptScenarios } from './ScenarioParts.js';
import { Days, Figures, Findings, Journal, Outages, Trials } from './StatementParts.js';
import type { WrittenProps } from './writtenProps.js';
import { Table } from '../../ui/Table.js';

/** The report as it is printed. */
export function Written(props: WrittenProps) {
  const { home, statement, layout, title } = props;
  const { timeZone } = home.system;
  const [drawnAtMs] = useState(() => Date.now());
  return (
    <article className="report max-w-3xl text-[13.5px] print:max-w-none">
      <h1 className="text-xl">{layout.heading.trim() || home.system.name}</h1>
      <p className="text-faint">
        {KIND_NAMES[layout.kind]} · {title} · {decimal(100 * statement.coverage, 1)} % of it measured · times
        in {timeZone} · drawn up {localDateText(drawnAtMs, timeZone)} with Long Tally
      </p>
      {layout.remarks.trim() !== '' && <p className="mt-2 whitespace-pre-wrap">{layout.remarks}</p>}
      {PARTS[layout.kind]
        .filter(([id]) => !layout.without.includes(id))
        .map(([id, name]) => (
          <Part key={id} id={id} name={name} {...props} />
        ))}
      <p className="mt-3 border-t border-rule pt-1 text-[12px] text-faint">
        Every value stands with its interval at about 95 %. <StatusMark status="measured" /> measured,{' '}
        <StatusMark status="estimated" /> estimated. How each is computed, and from which source, the handbook
        of the application says.
      </p>
    </article>
  );
}

function Part({ id, name, ...props }: WrittenProps & { readonly id: string; readonly name: string }) {
  const { home, statement, layout } = props;
  const { timeZone } = home.system;
  const figures = STATEMENT_PARTS.find((one) => one.id === id);
  const body = figures ? (
    <Figures keys={figures.keys} statement={statement} currency={home.system.currency ?? ''} />
  ) : (
    contentOf(id, props)
  );
  if (body === null) return null;
  return (
    <section aria-label={name} className="mt-3 break-inside-avoid-page">
      <h2 className="border-b border-rule-2 text-[15px]">{name}</h2>
      {body}
      {id === 'account' && <Energies {...props} />}
      {id === 'battery' && layout.kind !== 'statement' && (
        <p className="text-faint">
          By {counted(statement.capacity.length, 'estimate')} of the capacity in this range; configurations:{' '}
          {statement.configurations
            .map(({ name: one, fromMs }) => `${one} from ${localDateText(fromMs, timeZone)}`)
            .join(', ')}
          .
        </p>
      )}
    </section>
  );
}

/** What stands under a heading that is no table of figures; null where there is nothing. */
function contentOf(id: string, props: WrittenProps): React.ReactNode {
  switch (id) {
    case 'findings':
      return <Findings {...props} />;
    case 'days':
      return <Days {...props} />;
    case 'outage-list':
      return props.statement.outages.length > 0 ? <Outages {...props} /> : null;
    case 'trials':
      return <Trials {...props} />;
    case 'journal':
      return props.statement.journal.length > 0 ? <Journal {...props} /> : null;
    case 'claim':
      return (
        <p className="whitespace-pre-wrap">
          {props.layout.claim.trim() ||
            'Write beside this page what is claimed, and on which clauses it rests.'}
        </p>
      );
    case 'system':
      return <SystemTable {...props} />;
    case 'measured':
      return <Measured {...props} />;
    case 'capacity':
      return (
        <>
          <CapacityCourse {...props} />
          <Capacity {...props} />
        </>
      );
    case 'lasts':
      return <Lasts {...props} />;
    case 'combinations':
      return <NeverTogether {...props} />;
    case 'scenarios':
      return <KeptScenarios {...props} />;
    case 'files':
      return <Files {...props} />;
    case 'limits':
      return <Limits {...props} />;
    case 'settings':
      return (
        <Blanks names={['Reserve', 'Cut-off', 'Charge windows', 'Export limit', 'Firmware', 'Remarks']} />
      );
    case 'signatures':
      return <Blanks names={['Installer, name and licence', 'Owner', 'Date']} />;
    default:
      return null;
  }
}

function Blanks({ names }: { readonly names: readonly string[] }) {
  return (
    <Table className="w-full">
      <tbody>
        {names.map((name) => (
          <tr key={name}>
            <th scope="row" className="w-56 pt-4 text-left font-normal">
              {name}
            </th>
            <td className="border-b border-ink pt-4" />
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
