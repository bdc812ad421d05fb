import type { RollDay } from '@long-tally/core';
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
  DialogTitle,
} from '@headlessui/react';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { searchChosen } from '../store/preferences.js';
import { workingOpened } from '../store/selection.js';
import { useAppDispatch, useAppSelector } from '../store/store.js';
import { counted } from './format.js';
import { dayEntries, found, standingEntries, type SearchEntry, type ViewName } from './searchEntries.js';

const MOST = 20;
const KINDS: Readonly<Record<SearchEntry['kind'], string>> = {
  view: 'view',
  action: 'do',
  figure: 'figure',
  day: 'day',
};

interface Props {
  readonly homeId: string;
  readonly timeZone: string;
  readonly days: readonly RollDay[];
  readonly views: readonly ViewName[];
  /** The range that goes along to another view, as its address has it. */
  readonly search: string;
  readonly onClose: () => void;
}

/** One search over the days of a home with what explains them, its figures, the views and what can be done in them. */
export function Search({ homeId, timeZone, days, views, search, onClose }: Props) {
  const [query, setQuery] = useState('');
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const recent = useAppSelector(({ preferences }) => preferences.recent);
  const standing = useMemo(() => standingEntries(views), [views]);
  const daysOfHome = useMemo(() => dayEntries(days, timeZone), [days, timeZone]);
  const hits = useMemo(
    () => found(query, standing, daysOfHome, days, recent),
    [query, standing, daysOfHome, days, recent],
  );
  const choose = (entry: SearchEntry | null) => {
    if (!entry) return;
    dispatch(searchChosen(entry.id));
    if (entry.kind === 'figure') dispatch(workingOpened(entry.id.slice('figure '.length)));
    const [path, hash = ''] = entry.path.split('#');
    const address = path!.includes('?') ? path! : `${path}${search}`;
    void navigate(`/h/${homeId}/${address}${hash && `#${hash}`}`, {
      state: entry.kind === 'day' ? { shown: entry.id.slice('day '.length) } : null,
    });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} className="fixed inset-0 z-30">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-start justify-center p-4 pt-24">
        <DialogPanel className="w-[600px] border border-rule-2 bg-paper p-4 text-ink">
          <DialogTitle className="text-lg">Find a day, a figure, a view</DialogTitle>
          <Combobox immediate onChange={choose}>
            <ComboboxInput
              autoFocus
              aria-label="What to find"
              className="field mt-2"
              placeholder="outage, June 2024, least solar, round trip, reserve"
              onChange={(event) => setQuery(event.target.value)}
              // The list would take the key for itself.
              onKeyDown={(event) => {
                if (event.key === 'Escape') onClose();
              }}
            />
            <ComboboxOptions static className="mt-1 max-h-80 overflow-y-auto">
              {hits.slice(0, MOST).map((entry) => (
                <ComboboxOption
                  key={entry.id}
                  value={entry}
                  className="flex items-baseline gap-3 border-b border-rule px-2 py-1 data-focus:bg-selected-2"
                >
                  <span className="shrink-0">{entry.title}</span>
                  <span className="min-w-0 flex-1 truncate text-faint">
                    {entry.kind === 'action' ? '' : entry.words}
                  </span>
                  <span className="text-[12px] text-faint">{KINDS[entry.kind]}</span>
                </ComboboxOption>
              ))}
            </ComboboxOptions>
          </Combobox>
          <p role="status" className="mt-1 text-faint">
            {query.trim() === ''
              ? recent.length > 0
                ? 'What you chose lately stands first.'
                : ''
              : hits.length > MOST
                ? `${counted(hits.length, 'match', 'matches')}, the first ${MOST} shown`
                : counted(hits.length, 'match', 'matches')}
          </p>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
