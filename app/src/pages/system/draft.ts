import { z } from 'zod';
import type { SystemForm } from './form.js';

const KEY = 'long-tally/system-form';
const drafts = z.record(
  z.string(),
  z.object({
    /** What the form was filled from: a draft of something else is no use. */
    of: z.string(),
    typed: z.looseObject({ configurations: z.array(z.looseObject({})), tariffs: z.array(z.looseObject({})) }),
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

/** What was typed into the form of a home and not saved, if it was filled from the same; null where there is none. */
export function draftOf(homeId: string, initial: SystemForm): SystemForm | null {
  const draft = all()[homeId];
  return draft?.of === JSON.stringify(initial) ? (draft.typed as unknown as SystemForm) : null;
}

/** Keeps what is typed until it is saved, or typed back to what it was. */
export function keepDraft(homeId: string, initial: SystemForm, typed: SystemForm): void {
  const of = JSON.stringify(initial);
  if (JSON.stringify(typed) === of) forgetDraft(homeId);
  else keep({ ...all(), [homeId]: { of, typed } });
}

export function forgetDraft(homeId: string): void {
  keep(Object.fromEntries(Object.entries(all()).filter(([id]) => id !== homeId)));
}
