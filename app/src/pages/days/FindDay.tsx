import { rankedDays, type RollDay } from '@long-tally/core';
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
import { counted, dateText, decimal } from '../../ui/format.js';
import { noteText } from './DayNotes.js';

const MOST = 20;

interface Props {
  readonly days: readonly RollDay[];
  readonly timeZone: string;
  readonly onClose: () => void;
  readonly onFind: (day: number) => void;
}

/** Finds a day by its date, by what explains it, or as the one of most or least: "outage", "30 June 2024", "least solar". */
export function FindDay({ days, timeZone, onClose, onFind }: Props) {
  const [query, setQuery] = useState('');
  const entries = useMemo(
    () =>
      days
        .map(({ date, notes }, index) => {
          const words = notes.map((note) => noteText(note, timeZone)).join('; ');
          return {
            index,
            title: dateText(date, 'long'),
            words,
            haystack: `${date} ${dateText(date, 'long')} ${words}`.toLowerCase(),
          };
        })
        .reverse(),
    [days, timeZone],
  );
  const wanted = query
    .toLowerCase()
    .split(/[\s,]+/)
    .filter(Boolean);
  const ranked = useMemo(() => rankedDays(days, query), [days, query]);
  const found = ranked
    ? ranked.map(({ index, kWh }) => ({
        index,
        title: dateText(days[index]!.date, 'long'),
        words: `${decimal(kWh, 1)} kWh`,
      }))
    : entries.filter(({ haystack }) => wanted.every((word) => haystack.includes(word)));
  return (
    <Dialog open onClose={onClose} className="fixed inset-0 z-30">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-start justify-center p-4 pt-24">
        <DialogPanel className="w-[520px] border border-rule-2 bg-paper p-4 text-ink">
          <DialogTitle className="text-lg">Find a day</DialogTitle>
          <Combobox
            immediate
            onChange={(index: number | null) => {
              if (index === null) return;
              onFind(index);
              onClose();
            }}
          >
            <ComboboxInput
              autoFocus
              aria-label="A date, or a word of what explains the day"
              className="field mt-2"
              placeholder="outage, battery empty, June 2024, least solar, most import"
              onChange={(event) => setQuery(event.target.value)}
            />
            <ComboboxOptions static className="mt-1 max-h-72 overflow-y-auto">
              {found.slice(0, MOST).map(({ index, title, words }) => (
                <ComboboxOption
                  key={index}
                  value={index}
                  className="flex justify-between gap-4 border-b border-rule px-2 py-1 data-focus:bg-selected-2"
                >
                  <span className="whitespace-nowrap">{title}</span>
                  <span className="truncate text-faint">{words}</span>
                </ComboboxOption>
              ))}
            </ComboboxOptions>
          </Combobox>
          <p role="status" className="mt-1 text-faint">
            {found.length > MOST
              ? `${counted(found.length, 'day')}, the ${ranked ? 'first' : 'latest'} ${MOST} shown`
              : counted(found.length, 'day')}
          </p>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
