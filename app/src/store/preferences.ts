import { DEFAULT_SETTINGS, settingsSchema, type Settings } from '@long-tally/core';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';

const KEY = 'long-tally/preferences';
const schema = z.preprocess(
  withSettings,
  z.object({
    /** How things are shown; null until something is chosen. */
    settings: settingsSchema.nullable().default(null),
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
  }),
);
const MOST_RECENT = 6;

export type Preferences = z.infer<typeof schema>;

/** The settings that hold. */
export const settingsOf = ({ settings }: Preferences): Settings => settings ?? DEFAULT_SETTINGS;

const NONE: Preferences = { settings: null, lastHomeId: null, recent: [], looks: {}, seen: {} };
export type Look = Preferences['looks'][string][number];
export type Seen = Preferences['seen'][string];

/** As they were kept when there was nothing but a theme to choose. */
function withSettings(kept: unknown): unknown {
  const { theme, settings, ...others } = (kept ?? {}) as Record<string, unknown>;
  return { ...others, settings: settings ?? (theme ? { ...DEFAULT_SETTINGS, theme } : null) };
}

/** Preferences of this browser; what is stored but cannot be read is set aside. */
export function loadPreferences(): Preferences {
  try {
    return schema.parse(JSON.parse(localStorage.getItem(KEY) ?? ''));
  } catch {
    return NONE;
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
  initialState: (): Preferences => NONE,
  reducers: {
    settingsChanged: (state, { payload }: PayloadAction<Partial<Settings>>) => {
      state.settings = { ...settingsOf(state), ...payload };
    },
    /** A book’s settings hold where this browser has none of its own. */
    settingsFound: (state, { payload }: PayloadAction<Settings | null>) => {
      state.settings ??= payload;
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

export const {
  settingsChanged,
  settingsFound,
  homeOpened,
  looksOffered,
  looksClosed,
  searchChosen,
  summarySeen,
} = slice.actions;
export const preferencesReducer = slice.reducer;
