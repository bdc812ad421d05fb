import { z } from 'zod';
import { celsiusOf, degreesTyped } from '../../ui/format.js';
import { typedNumber } from '../../ui/typedNumber.js';
import type { SystemForm } from './form.js';

const KEY = 'long-tally/system-form';
const drafts = z.record(
  z.string(),
  z.object({
    /** What the form was filled from: a draft of something else is no use. */
    of: z.string(),
    typed: z.looseObject({
      configurations: z.array(z.looseObject({})),
      tariffs: z.array(z.looseObject({})),
      degreeDays: z.object({ heating: z.string(), cooling: z.string() }),
    }),
  }),
);

function all(): z.infer<typeof drafts> {
  try {
    return drafts.parse(JSON.parse(localStorage.getItem(KEY) ?? '{}'));
  } catch {
    return {};
  }
}

function keep(next: z.infer<typeof drafts>): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(next));
  } catch {
    // Where the browser keeps nothing, the form holds for as long as it is open.
    return;
  }
}

/** The temperatures of a form, each as another text. */
function withDegrees(form: SystemForm, text: (typed: string) => string): SystemForm {
  const { heating, cooling } = form.degreeDays;
  return { ...form, degreeDays: { heating: text(heating), cooling: text(cooling) } };
}

/** Drafts are kept in Celsius: the reader may take another unit before the form is opened again. */
const keptAs = (form: SystemForm) =>
  withDegrees(form, (typed) => {
    const celsius = celsiusOf(typedNumber(typed));
    return Number.isNaN(celsius) ? typed : String(celsius);
  });

/** What was typed into the form of a home and not saved, if it was filled from the same; null where there is none. */
export function draftOf(homeId: string, initial: SystemForm): SystemForm | null {
  const draft = all()[homeId];
  if (draft?.of !== JSON.stringify(keptAs(initial))) return null;
  return withDegrees(draft.typed as unknown as SystemForm, (kept) => {
    const celsius = kept === '' ? NaN : Number(kept);
    return Number.isNaN(celsius) ? kept : degreesTyped(celsius);
  });
}

/** Keeps what is typed until it is saved, or typed back to what it was. */
export function keepDraft(homeId: string, initial: SystemForm, typed: SystemForm): void {
  const of = JSON.stringify(keptAs(initial));
  const kept = keptAs(typed);
  if (JSON.stringify(kept) === of) forgetDraft(homeId);
  else keep({ ...all(), [homeId]: { of, typed: kept } });
}

export function forgetDraft(homeId: string): void {
  keep(Object.fromEntries(Object.entries(all()).filter(([id]) => id !== homeId)));
}
