import {
  contactsOf,
  CAUSES,
  correctionText,
  daysBy,
  figureEntry,
  STATEMENT_PARTS,
  type DayRange,
  type Figure,
  type ReportLayout,
  type RollDay,
  type Statement,
} from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import type { Home } from '../../db/database.js';
import { sourcesOf } from '../../db/sources.js';
import {
  clockText,
  counted,
  dateText,
  decimal,
  hoursText,
  intervalText,
  localDateText,
  unitText,
  valueText,
} from '../../ui/format.js';
import { StatusMark } from '../../ui/StatusMark.js';
import { DayNotes } from '../days/DayNotes.js';
import { KIND_NAMES, PARTS } from './parts.js';

interface Props {
  readonly home: Home;
  readonly days: readonly RollDay[];
  readonly range: DayRange;
  readonly statement: Statement;
  readonly layout: ReportLayout;
  readonly title: string;
}

/** The report as it is printed. */
export function Written(props: Props) {
  const { home, statement, layout, title } = props;
  const { timeZone } = home.system;
  return (
    <article className="report max-w-3xl text-[13.5px] print:max-w-none">
      <h1 className="text-xl">{layout.heading.trim() || home.system.name}</h1>
      <p className="text-faint">
        {KIND_NAMES[layout.kind]} · {title} · {decimal(100 * statement.coverage, 1)} % of it measured · times
        in {timeZone} · drawn up {localDateText(Date.now(), timeZone)} with Long Tally
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

function Part({ id, name, ...props }: Props & { readonly id: string; readonly name: string }) {
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
function contentOf(id: string, props: Props): React.ReactNode {
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
      return <Capacity {...props} />;
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

interface FiguresProps {
  readonly keys: readonly string[];
  readonly statement: Statement;
  readonly currency: string;
}

function Figures({ keys, statement: { now, yearBefore, toDate }, currency }: FiguresProps) {
  const told = keys.filter((key) => now[key]?.value != null);
  const absent = keys.filter((key) => now[key]?.value == null);
  const cell = (figure: Figure | undefined) =>
    figure?.value == null
      ? '–'
      : `${valueText(figure.value, figure.unit)} ${figure.unit === 'currency' ? '' : unitText(figure.unit)}`.trim();
  return (
    <>
      {told.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="text-right text-[12px] text-faint">
              <td />
              <th scope="col" className="font-normal">
                {currency && keys.some((key) => now[key]?.unit === 'currency') ? currency : 'value'}
              </th>
              <th scope="col" className="pl-3 text-left font-normal">
                about 95 %
              </th>
              {yearBefore && (
                <th scope="col" className="font-normal">
                  a year before
                </th>
              )}
              {toDate && (
                <th scope="col" className="font-normal">
                  year to date
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {told.map((key) => (
              <tr key={key} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  {figureEntry(key).label}
                </th>
                <td className="font-semibold whitespace-nowrap">{cell(now[key])}</td>
                <td className="pl-3 text-left whitespace-nowrap text-faint">
                  <StatusMark status={now[key]!.status} /> {intervalText(now[key]!)}
                </td>
                {yearBefore && (
                  <td className="whitespace-nowrap text-faint">{cell(yearBefore.figures[key])}</td>
                )}
                {toDate && <td className="whitespace-nowrap text-faint">{cell(toDate.figures[key])}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {absent.length > 0 && (
        <p className="text-[12px] text-faint">
          Not told: {absent.map((key) => figureEntry(key).label.toLowerCase()).join(', ')}.{' '}
          {absent.map((key) => now[key]?.reason).find((reason) => reason)}
        </p>
      )}
    </>
  );
}

function Findings({ statement: { findings } }: Props) {
  if (findings.length === 0) return <p>Nothing out of the ordinary was found.</p>;
  return (
    <ul className="list-disc pl-5">
      {findings.map(({ code, message }, i) => (
        <li key={`${code} ${i}`}>{message}</li>
      ))}
    </ul>
  );
}

function Days({ home, days, range }: Props) {
  const { timeZone } = home.system;
  const solar = daysBy(days, 'solar', range);
  const bought = daysBy(days, 'import', range);
  const contacts = contactsOf(days, range);
  const lines = [
    ['Most sun', solar.at(-1)],
    ['Least sun', solar[0]],
    ['Most bought', bought.at(-1)],
  ] as const;
  const causes = CAUSES.flatMap(([cause, words]) => {
    const count = contacts.filter((one) => one.causes.includes(cause)).length;
    return count > 0 ? [`${words} ${count}`] : [];
  });
  return (
    <>
      <table className="w-full">
        <tbody>
          {lines.map(([name, ranked]) => {
            const day = ranked && days[ranked.index];
            return day ? (
              <tr key={name} className="border-b border-rule align-top">
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {name}
                </th>
                <td className="px-3 whitespace-nowrap">{dateText(day.date, 'plain')}</td>
                <td className="pr-3 text-right font-semibold whitespace-nowrap">
                  {decimal(ranked.kWh, 1)} kWh
                </td>
                <td className="w-full text-faint">
                  <DayNotes notes={day.notes} timeZone={timeZone} />
                </td>
              </tr>
            ) : null;
          })}
        </tbody>
      </table>
      {contacts.length > 0 && (
        <p className="mt-1">
          {counted(contacts.length, 'day')} bought more than 0.5 kWh; by cause: {causes.join(', ')}.
        </p>
      )}
    </>
  );
}

function Outages({ home, statement: { outages } }: Props) {
  const { timeZone } = home.system;
  return (
    <table className="w-full">
      <thead>
        <tr className="text-left text-[12px] text-faint">
          {['from', 'lasted', 'charge', 'without power', 'evidence'].map((name) => (
            <th key={name} scope="col" className="font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {outages.map(({ from, hours, socStart, socEnd, unservedHours, evidence, planned }) => (
          <tr key={from} className="border-b border-rule">
            <td>
              {localDateText(Date.parse(from), timeZone)}, {clockText(Date.parse(from), timeZone)}
            </td>
            <td>{hoursText(hours)}</td>
            <td>
              {socStart === null || socEnd === null
                ? '–'
                : `${decimal(100 * socStart, 0)} → ${decimal(100 * socEnd, 0)} %`}
            </td>
            <td>{unservedHours > 0 ? hoursText(unservedHours) : 'none'}</td>
            <td>
              {evidence}
              {planned && ', planned'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Trials({ home, statement: { trials } }: Props) {
  if (trials.length === 0) return <p className="text-faint">No trial in this range.</p>;
  return (
    <ul>
      {trials.map(({ fromMs, name, verdict }) => (
        <li key={fromMs} className="border-b border-rule">
          {localDateText(fromMs, home.system.timeZone)}: {name}. {verdict}
        </li>
      ))}
    </ul>
  );
}

function Journal({ home, statement: { journal } }: Props) {
  return (
    <ul>
      {journal.map(({ fromMs, kind, text }) => (
        <li key={`${fromMs} ${text}`} className="border-b border-rule">
          {localDateText(fromMs, home.system.timeZone)}: {text || kind}
        </li>
      ))}
    </ul>
  );
}

/** A word for a key of the system file: `maxDischargeKW` becomes "max discharge kW". */
function keyText(key: string): string {
  const unit = /k(?:Wh|Wp)$|K(?:Wh|W)$|W$/.exec(key)?.[0] ?? '';
  const words = key.slice(0, key.length - unit.length).replace(/([a-z])([A-Z])/g, '$1 $2');
  return `${words.toLowerCase()} ${unit.replace(/^K/, 'k')}`.trim();
}

function SystemTable({ home }: Props) {
  const configurations = home.system.configurations ?? [];
  if (configurations.length === 0) return <p>The system is not described.</p>;
  const plain = (part: object | undefined) =>
    Object.entries(part ?? {})
      .filter(([, value]) => typeof value === 'number' || typeof value === 'string')
      .map(([key, value]) => `${keyText(key)} ${String(value)}`)
      .join(', ');
  return (
    <table className="w-full">
      <tbody>
        {configurations.map(({ from, name, battery, inverter, arrays, coupling, warranty }) => (
          <tr key={from} className="border-b border-rule align-top">
            <th scope="row" className="pr-3 text-left font-normal whitespace-nowrap">
              {name ?? 'from'} {localDateText(Date.parse(from), home.system.timeZone)}
            </th>
            <td>
              Battery: {plain(battery) || 'not described'}. Inverter: {plain(inverter) || 'not described'}
              {coupling && `, ${coupling.toUpperCase()}-coupled`}. Panels:{' '}
              {arrays?.map((one) => plain(one)).join('; ') || 'not described'}.
              {warranty && ` Warranty: ${plain(warranty)}.`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Measured({ statement: { accuracy, coverage, corrections } }: Props) {
  const share = (value: number) => `${decimal(100 * value, 1)} %`;
  return (
    <>
      <p>
        Meters taken to {share(accuracy.solar)} (solar), {share(accuracy.load)} (load), {share(accuracy.grid)}{' '}
        (grid), {share(accuracy.battery)} (battery), each with a zero of {decimal(accuracy.offsetW, 0)} W, and
        the state of charge to {share(accuracy.soc)} of full. {share(coverage)} of the range is measured;
        nothing is scaled up.
      </p>
      <p>
        {corrections.length === 0
          ? 'No correction lies over the logs.'
          : `Corrections over the logs, which stay as they came: ${corrections.map(correctionText).join(' ')}`}
      </p>
    </>
  );
}

/** So many of the latest estimates are listed. */
const LISTED = 24;

function Capacity({ home, statement: { capacity } }: Props) {
  if (capacity.length === 0)
    return <p className="text-faint">No discharge of this range measures the capacity.</p>;
  return (
    <>
      <table className="w-full">
        <thead>
          <tr className="text-left text-[12px] text-faint">
            {['on', 'kWh from full to empty', 'about 95 %', 'depth', 'from'].map((name) => (
              <th key={name} scope="col" className="font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {capacity.slice(-LISTED).map(({ at, kWh, low, high, depth, kind, direction }, i) => (
            <tr key={`${at} ${i}`} className="border-b border-rule">
              <td>{localDateText(Date.parse(at), home.system.timeZone)}</td>
              <td className="font-semibold">{decimal(kWh, 2)}</td>
              <td className="text-faint">
                {decimal(low, 2)} – {decimal(high, 2)}
              </td>
              <td>{decimal(100 * depth, 0)} %</td>
              <td>
                {kind}, {direction}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {capacity.length > LISTED && (
        <p className="text-faint">
          The latest {LISTED} of {capacity.length}; all of them are in evidence/capacity.csv of the book.
        </p>
      )}
    </>
  );
}

function Files({ home }: Props) {
  const sources = useLiveQuery(() => sourcesOf(home.id), [home.id]) ?? [];
  return (
    <table className="w-full">
      <tbody>
        {sources
          .filter(({ removedAt }) => removedAt === null)
          .map(({ id, name, rows, bytes, hash }) => (
            <tr key={id} className="border-b border-rule align-top">
              <th scope="row" className="pr-3 text-left font-normal">
                {name}
              </th>
              <td className="pr-3 text-right whitespace-nowrap">
                {counted(rows, 'row')}, {decimal(bytes / 1e6, 1)} MB
              </td>
              <td className="text-[11px] break-all text-faint">
                {hash ? `SHA-256 ${hash}` : 'no checksum was taken'}
              </td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}

function Limits({ statement: { now, coverage, capacity } }: Props) {
  const health = now['capacity.stateOfHealth'];
  return (
    <ul className="list-disc pl-5">
      <li>
        The meters are the equipment’s own; none was checked against a calibrated one unless a remark says so.
      </li>
      <li>
        What a log shows is how the battery was used. A test under the maker’s own conditions may come out
        otherwise.
      </li>
      {capacity.length < 20 && (
        <li>Few discharges measure the capacity here; a drawdown trial would say more.</li>
      )}
      {coverage < 0.98 && <li>{decimal(100 * (1 - coverage), 1)} % of the range is not measured.</li>}
      {health?.status === 'estimated' && (
        <li>The state of health rests on assumptions, which its working names.</li>
      )}
      <li>It does not say why the battery is as it is, nor who is liable for it.</li>
    </ul>
  );
}

function Blanks({ names }: { readonly names: readonly string[] }) {
  return (
    <table className="w-full">
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
    </table>
  );
}
