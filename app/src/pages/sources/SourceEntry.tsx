import { useState } from 'react';
import type { Source } from '../../db/database.js';
import { deleteSource, setRemoved } from '../../db/sources.js';
import { download } from '../../ui/download.js';
import { counted, decimal, localDateText, columnText } from '../../ui/format.js';
import { useWrite } from '../../ui/useWrite.js';
import { localized } from '../../ui/localized.js';

interface Props {
  readonly source: Source;
  readonly timeZone: string;
}

/** A source that is here: what it holds, how it was read and what was met; taken out, back in, or deleted for good. */
export function SourceEntry({ source, timeZone }: Props) {
  const { write, failure } = useWrite();
  const [asked, setAsked] = useState(false);
  const { name, mapping, findings, lumps, removedAt } = source;
  const alone = lumps.filter(({ leads }) => !leads).length;
  const date = (ms: number) => localDateText(ms, timeZone);
  return (
    <article className="mt-2 border-t border-rule pt-2" aria-label={name}>
      <h3 className={`font-sans text-[14.5px] ${removedAt === null ? '' : 'text-faint'}`}>{name}</h3>
      <p className={removedAt === null ? '' : 'text-faint'}>
        {counted(source.rows, 'row')}
        {source.columns.length > 0 &&
          ` every ${decimal(source.stepMs / 60_000, source.stepMs % 60_000 ? 1 : 0)} min`}
        , {date(source.startMs)} to {date(source.startMs + source.count * source.stepMs - 1)};{' '}
        {[
          ...source.columns.map(({ quantity }) => columnText(quantity)),
          ...(alone > 0
            ? [counted(alone, 'energy without its course', 'energies without their course')]
            : []),
        ].join(', ')}
        ; {decimal(source.bytes / 1e6, 1)} MB.
        {lumps.length > alone && ' A utility meter: its totals of import and export lead.'}
      </p>
      {findings.length === 0 ? (
        <p className="text-faint">No problems were found while reading.</p>
      ) : (
        findings.map(({ code, message }) => (
          <p key={code + message} className="text-faint">
            {localized(message)}
          </p>
        ))
      )}
      {failure}
      <p className="flex flex-wrap gap-x-4">
        {removedAt !== null && (
          <>
            <span>Taken out: it counts in no figure.</span>
            <button
              type="button"
              className="quiet"
              onClick={() => void write(() => setRemoved(source, null))}
            >
              Restore {name}
            </button>
            {asked ? (
              <span>
                Delete this log and its file from this browser for good?{' '}
                <button
                  type="button"
                  className="quiet text-red"
                  onClick={() => void write(() => deleteSource(source))}
                >
                  Delete {name}
                </button>{' '}
                <button type="button" className="quiet" onClick={() => setAsked(false)}>
                  Keep it
                </button>
              </span>
            ) : (
              <button type="button" className="quiet text-faint" onClick={() => setAsked(true)}>
                delete for good …
              </button>
            )}
          </>
        )}
        {removedAt === null && (
          <button
            type="button"
            className="quiet text-faint"
            onClick={() =>
              void write(() => setRemoved(source, Date.now()), {
                says: `${source.name} no longer counts.`,
                undo: () => setRemoved(source, null),
              })
            }
          >
            take out {name}
          </button>
        )}
        {mapping && (
          <button
            type="button"
            className="quiet text-faint"
            onClick={() => download(`${name.replace(/[^\w.-]+/g, '-')}.mapping.json`, mapping)}
          >
            save its mapping
          </button>
        )}
      </p>
    </article>
  );
}
