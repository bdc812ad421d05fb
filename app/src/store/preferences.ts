import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';

const KEY = 'long-tally/preferences';
const schema = z.object({ theme: z.enum(['light', 'dark']), lastHomeId: z.string().nullable() });

export type Preferences = z.infer<typeof schema>;

/** Preferences of this browser; what is stored but cannot be read is set aside. */
export function loadPreferences(): Preferences {
  try {
    return schema.parse(JSON.parse(localStorage.getItem(KEY) ?? ''));
  } catch {
    const dark = matchMedia('(prefers-color-scheme: dark)').matches;
    return { theme: dark ? 'dark' : 'light', lastHomeId: null };
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
  initialState: (): Preferences => ({ theme: 'light', lastHomeId: null }),
  reducers: {
    themeToggled: (state) => {
      state.theme = state.theme === 'dark' ? 'light' : 'dark';
    },
    homeOpened: (state, { payload }: PayloadAction<string | null>) => {
      state.lastHomeId = payload;
    },
  },
});

export const { themeToggled, homeOpened } = slice.actions;
export const preferencesReducer = slice.reducer;
