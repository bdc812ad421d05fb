import { NOTE_KINDS, type DayNote } from '@long-tally/core';
import { clockText, decimal, hoursText, columnText, temperatureText } from '../../ui/format.js';

/** A note of a day in words. */
export function noteText(note: DayNote, timeZone: string): string {
  switch (note.kind) {
    case 'outage':
      return `${note.isPlanned ? 'planned island run' : 'outage'} ${hoursText(note.hours)} from ${clockText(note.atMs, timeZone)}`;
    case 'battery-empty':
      return `battery empty from ${clockText(note.atMs, timeZone)}`;
    case 'over-limit':
      return `load over limit ${clockText(note.atMs, timeZone)}: ${decimal(note.kW, 1)} kW`;
    case 'leg-overload':
      return `a leg over its limit ${clockText(note.atMs, timeZone)}: ${decimal(note.kW, 1)} kW`;
    case 'grid-charged':
      return `charged from the grid ${decimal(note.kWh, 1)} kWh`;
    case 'missing':
      return `data missing ${hoursText(note.hours)}`;
    case 'filled':
      return `${columnText(note.quantity)} from ${note.source} ${hoursText(note.hours)}`;
    case 'little-sun':
      return [
        `little sun: ${decimal(100 * note.share, 0)} % of the season’s good days`,
        ...(note.rainMm === null ? [] : [`${decimal(note.rainMm, 1)} mm of rain`]),
        ...(note.irradiation === null ? [] : [`${decimal(note.irradiation, 2)} kWh/m²`]),
      ].join(', ');
    case 'cold':
      return `cold: ${temperatureText(note.meanC, 1)}`;
    case 'configuration':
      return `from here: ${note.name}`;
    case 'journal': {
      const about = NOTE_KINDS.find(([kind]) => kind === note.about)![2];
      const words = note.text || about;
      return note.leaveOut ? `${words} (left out of analysis)` : words;
    }
  }
}

/** What explains a day, in the margin. */
export function DayNotes({
  notes,
  timeZone,
}: {
  readonly notes: readonly DayNote[];
  readonly timeZone: string;
}) {
  return notes.map((note, i) => (
    <span
      key={i}
      className={
        note.kind === 'outage' && !note.isPlanned
          ? 'font-semibold text-red'
          : note.kind === 'configuration'
            ? 'text-battery'
            : note.kind === 'journal'
              ? 'font-serif italic'
              : ''
      }
    >
      {i > 0 ? '; ' : ''}
      {noteText(note, timeZone)}
    </span>
  ));
}
