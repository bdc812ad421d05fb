import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';

const KEY = 'long-tally/preferences';
const schema = z.object({
  theme: z.enum(['light', 'dark']),
  lastHomeId: z.string().nullable(),
  /** What was chosen in the search, the latest first. */
  recent: z.array(z.string()).default([]),
  /** What is worth a look in demo homes, until it is closed: never again then. */
  looks: z.record(z.string(), z.array(z.object({ says: z.string(), path: z.string() }))).default({}),
  /** What the summary of each home said when it was opened last. */
  seen: z
    .record(
      z.string(),
      z.object({ revision: z.number(), atMs: z.number(), figures: z.record(z.string(), z.number()) }),
    )
    .default({}),
});
const MOST_RECENT = 6;

export type Preferences = z.infer<typeof schema>;
export type Look = Preferences['looks'][string][number];
export type Seen = Preferences['seen'][string];

/** Preferences of this browser; what is stored but cannot be read is set aside. */
export function loadPreferences(): Preferences {
  try {
    return schema.parse(JSON.parse(localStorage.getItem(KEY) ?? ''));
  } catch {
    const dark = matchMedia('(prefers-color-scheme: dark)').matches;
    return { theme: dark ? 'dark' : 'light', lastHomeId: null, recent: [], looks: {}, seen: {} };
  }
}

/** Keeps preferences for the next visit; where the browser refuses or its storage is full they hold for this one. */
export function savePreferences(preferences: Preferences): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(preferences));
  } catch {
    return;
  }
}

const slice = createSlice({
  name: 'preferences',
  initialState: (): Preferences => ({ theme: 'light', lastHomeId: null, recent: [], looks: {}, seen: {} }),
  reducers: {
    themeToggled: (state) => {
      state.theme = state.theme === 'dark' ? 'light' : 'dark';
    },
    homeOpened: (state, { payload }: PayloadAction<string | null>) => {
      state.lastHomeId = payload;
    },
    summarySeen: (
      state,
      { payload: { homeId, ...seen } }: PayloadAction<{ readonly homeId: string } & Seen>,
    ) => {
      if (state.seen[homeId]?.revision !== seen.revision) state.seen[homeId] = seen;
    },
    looksOffered: (
      state,
      { payload }: PayloadAction<{ readonly homeId: string; readonly looks: readonly Look[] }>,
    ) => {
      if (payload.looks.length > 0) state.looks[payload.homeId] = [...payload.looks];
    },
    looksClosed: (state, { payload }: PayloadAction<string>) => {
      // eslint-disable-next-line @typescript-eslint/no-dynamic-delete
      delete state.looks[payload];
    },
    searchChosen: (state, { payload }: PayloadAction<string>) => {
      state.recent = [payload, ...state.recent.filter((one) => one !== payload)].slice(0, MOST_RECENT);
    },
  },
});

export const { themeToggled, homeOpened, looksOffered, looksClosed, searchChosen, summarySeen } =
  slice.actions;
export const preferencesReducer = slice.reducer;
