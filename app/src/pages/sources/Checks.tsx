import { correctionText, type Comparison, type Correction, type Finding } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import {
  addCorrection,
  dismiss,
  putBackCorrection,
  removeCorrection,
  showAgain,
  showDismissed,
} from '../../db/corrections.js';
import { db, type Home } from '../../db/database.js';
import { checkedRows, correctionRow } from '../../db/rows.js';
import { atOf, useChecksQuery } from '../../store/api.js';
import { columnText, decimal, localDateText, momentText } from '../../ui/format.js';
import { useWrite, type Write } from '../../ui/useWrite.js';
import { CoverageMap } from '../../charts/CoverageMap.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

/** What is known on which day, what looks wrong with what would mend it, what lies over the logs, and how two of them agree. */
export function Checks({ home }: { readonly home: Home }) {
  const { write, failure } = useWrite();
  const { data } = useChecksQuery(atOf(home));
  const rows =
    useLiveQuery(() => db.corrections.where('homeId').equals(home.id).sortBy('id'), [home.id]) ?? [];
  const corrections = checkedRows(correctionRow, rows).good;
  const dismissed =
    useLiveQuery(() => db.dismissals.where('homeId').equals(home.id).toArray(), [home.id]) ?? [];
  if (!data || data.coverage.length === 0) return null;
  const { timeZone } = home.system;
  const hidden = new Set(dismissed.map(({ key }) => key));
  const open = data.findings.filter(
    (finding) => (finding.proposal ?? finding.code === 'implausible') && !hidden.has(keyOf(finding)),
  );
  return (
    <>
      {failure}
      {data.damaged.map((name) => (
        <p key={name} role="alert" className="mt-3 border-l-4 border-red pl-3">
          What is stored of {name} is damaged: it counts in no figure. Bring its file again; everything else
          stands.
        </p>
      ))}
      <h2 className="mt-6 text-[16px]">What looks wrong</h2>
      {open.length === 0 && <p className="text-faint">Nothing that could be mended was found.</p>}
      <ul>
        {open.map((finding) => (
          <li key={keyOf(finding)} className="border-t border-rule py-1.5">
            <p>
              <b className={`font-semibold ${finding.severity === 'error' ? 'text-red' : ''}`}>
                {finding.kWh === null ? '' : `${decimal(finding.kWh, 1)} kWh. `}
              </b>
              {finding.source && `${finding.source}: `}
              {localized(finding.message)}
              {finding.fromMs !== null && (
                <span className="text-faint">
                  {' '}
                  {momentText(finding.fromMs, timeZone)} to {momentText(finding.toMs!, timeZone)}.
                </span>
              )}
            </p>
            <p className="flex flex-wrap gap-x-4 text-[13px]">
              {finding.proposal && (
                <Mend home={home} finding={finding} proposal={finding.proposal} write={write} />
              )}
              <button
                type="button"
                className="quiet text-faint"
                aria-label={`Dismiss: ${localized(finding.message)}`}
                onClick={() =>
                  void write(() => dismiss(home.id, keyOf(finding)), {
                    says: 'A finding is set aside.',
                    undo: () => showAgain(home.id, keyOf(finding)),
                  })
                }
              >
                Dismiss
              </button>
            </p>
          </li>
        ))}
      </ul>
      {hidden.size > 0 && (
        <p className="text-faint">
          {hidden.size} dismissed.{' '}
          <button type="button" className="quiet" onClick={() => void write(() => showDismissed(home.id))}>
            Show them again
          </button>
        </p>
      )}
      {corrections.length > 0 && (
        <>
          <h2 className="mt-5 text-[16px]">Corrections</h2>
          <p className="text-faint">They lie over the logs; the files stay as they came.</p>
          <ul>
            {corrections.map((stored) => (
              <li key={stored.id} className="flex flex-wrap gap-x-4 border-t border-rule py-1">
                <span>
                  {localDateText(stored.madeAt, timeZone)}: {localized(correctionText(stored.correction))}
                </span>
                <button
                  type="button"
                  className="quiet text-faint"
                  aria-label={`Remove the correction: ${localized(correctionText(stored.correction))}`}
                  onClick={() =>
                    void write(() => removeCorrection(stored), {
                      says: 'A correction is taken back.',
                      undo: () => putBackCorrection(stored),
                    })
                  }
                >
                  remove
                </button>
                <span className="basis-full text-[12.5px] text-faint">{localized(stored.reason)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {data.comparisons.length > 0 && (
        <Comparisons
          comparisons={data.comparisons}
          onLead={(correction) => void write(() => addCorrection(home.id, correction, 'Chosen by hand.'))}
        />
      )}
      <h2 className="mt-5 text-[16px]">What is known on which day</h2>
      {data.coverage.map((coverage) => (
        <CoverageMap key={coverage.source} coverage={coverage} />
      ))}
    </>
  );
}

interface MendProps {
  readonly home: Home;
  readonly finding: Finding;
  readonly proposal: Correction;
  readonly write: Write['write'];
}

function Mend({ home, finding, proposal, write }: MendProps) {
  return (
    <>
      <span className="text-faint">Would mend it: {localized(correctionText(proposal))}</span>
      <button
        type="button"
        className="quiet"
        aria-label={`Apply: ${localized(correctionText(proposal))}`}
        onClick={() => void write(() => addCorrection(home.id, proposal, finding.message))}
      >
        Apply
      </button>
    </>
  );
}

/** What a finding is told apart by, so that a dismissed one stays dismissed. */
function keyOf({ code, source, fromMs, proposal }: Finding): string {
  return [code, source, fromMs, proposal && 'quantity' in proposal ? proposal.quantity : ''].join(' ');
}

interface ComparisonsProps {
  readonly comparisons: readonly Comparison[];
  readonly onLead: (correction: Correction) => void;
}

function Comparisons({ comparisons, onLead }: ComparisonsProps) {
  return (
    <>
      <h2 className="mt-5 text-[16px]">The same from two sources</h2>
      <Table className="mt-1 w-full max-w-5xl border-collapse text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-left text-faint">
            {[
              'quantity',
              'first',
              'second',
              'hours both know',
              'first, net kWh',
              'second, net kWh',
              'ratio',
              'days apart',
              'self-sufficiency',
              'clocks',
              'leads',
            ].map((name, i) => (
              <th key={name} className={`py-1 pr-3 font-normal ${i > 2 ? 'text-right' : ''}`}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {comparisons.map(
            ({ quantity, a, b, hours, aWh, bWh, ratio, lagMs, daysApart, selfSufficiency }) => (
              <tr key={`${quantity}${a}${b}`} className="border-b border-rule">
                <th scope="row" className="py-1 pr-3 text-left font-semibold">
                  {columnText(quantity)}
                </th>
                <td className="py-1 pr-3">{a}</td>
                <td className="py-1 pr-3">{b}</td>
                <td className="py-1 pr-3 text-right">{decimal(hours, 0)}</td>
                <td className="py-1 pr-3 text-right">{quantity === 'soc' ? '–' : decimal(aWh / 1000, 1)}</td>
                <td className="py-1 pr-3 text-right">{quantity === 'soc' ? '–' : decimal(bWh / 1000, 1)}</td>
                <td className="py-1 pr-3 text-right">{decimal(ratio, 3)}</td>
                <td className="py-1 pr-3 text-right">{daysApart}</td>
                <td className="py-1 pr-3 text-right whitespace-nowrap">
                  {selfSufficiency === null
                    ? '–'
                    : `${decimal(100 * selfSufficiency[0], 1)} or ${decimal(100 * selfSufficiency[1], 1)} %`}
                </td>
                <td className="py-1 pr-3 text-right">
                  {lagMs === null
                    ? 'not known'
                    : lagMs === 0
                      ? 'agree'
                      : `second ${decimal(Math.abs(lagMs) / 60_000, 0)} min ${lagMs > 0 ? 'late' : 'early'}`}
                </td>
                <td className="py-1 text-right">
                  first;{' '}
                  <button
                    type="button"
                    className="quiet"
                    aria-label={`Let ${b} lead ${columnText(quantity)}`}
                    onClick={() => onLead({ kind: 'lead', source: b, quantity })}
                  >
                    use the second
                  </button>
                </td>
              </tr>
            ),
          )}
        </tbody>
      </Table>
    </>
  );
}
