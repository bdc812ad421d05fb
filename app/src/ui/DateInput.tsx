import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { format, isValid, parseISO } from 'date-fns';
import { CalendarDays } from 'lucide-react';
import { useState } from 'react';
import { DayPicker } from 'react-day-picker';
import 'react-day-picker/style.css';
import { useSettings } from './useSettings.js';
import { shownLocal, typedLocal, type LocalKind } from './localTime.js';

interface Props {
  readonly id: string;
  readonly kind: LocalKind;
  /** Local date, or date and time, as ISO text; empty where none is chosen, and as it was typed where it is none. */
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly onBlur?: () => void;
  readonly describedBy?: string | undefined;
  readonly isInvalid?: boolean;
}

/** A field for a date, with or without a time: typed in words or numbers, or chosen on a calendar. */
export function DateInput({ id, kind, value, onChange, onBlur, describedBy, isInvalid = false }: Props) {
  // What stands in the field while it is typed; the value otherwise.
  const [typed, setTyped] = useState<string | null>(null);
  const { weekStartsOn } = useSettings();
  const text = typed ?? shownLocal(value, kind);
  const isWrong = isInvalid || (typed === null && value !== '' && typedLocal(value, kind) === null);
  const day = parseISO(value.slice(0, 10));
  return (
    <span className="field relative flex !p-0">
      <input
        id={id}
        className="min-w-0 flex-1 bg-transparent px-[7px] py-1"
        autoComplete="off"
        placeholder={kind === 'date' ? '14 Sep 2024' : '14 Sep 2024, 18:00'}
        value={text}
        aria-invalid={isWrong || undefined}
        aria-describedby={describedBy}
        onChange={(event) => {
          setTyped(event.target.value);
          onChange(typedLocal(event.target.value, kind) ?? event.target.value);
        }}
        onBlur={() => {
          setTyped(null);
          onBlur?.();
        }}
      />
      <Popover className="flex">
        <PopoverButton
          type="button"
          className="px-1.5 text-faint"
          aria-label="Choose on a calendar"
          title="Choose on a calendar"
        >
          <CalendarDays size={15} aria-hidden />
        </PopoverButton>
        <PopoverPanel
          role="dialog"
          aria-label="Calendar"
          className="absolute top-full left-[-1px] z-40 border border-rule-2 bg-paper p-3 text-ink"
        >
          {({ close }) => (
            <DayPicker
              mode="single"
              className="calendar"
              weekStartsOn={weekStartsOn}
              autoFocus
              {...(isValid(day) ? { selected: day, defaultMonth: day } : {})}
              onSelect={(chosen) => {
                if (!chosen) return;
                const time = /T\d{2}:\d{2}/.exec(value)?.[0] ?? 'T00:00';
                setTyped(null);
                onChange(`${format(chosen, 'yyyy-MM-dd')}${kind === 'time' ? time : ''}`);
                close();
              }}
            />
          )}
        </PopoverPanel>
      </Popover>
    </span>
  );
}
