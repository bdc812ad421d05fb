import type { Scenario } from '@long-tally/core';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Options compared in the Outages view, by home; a home that is not in it has those to begin with. */
export type OutageOptions = Readonly<Record<string, readonly Scenario[]>>;

const NONE: OutageOptions = {};

const slice = createSlice({
  name: 'outageOptions',
  initialState: NONE,
  reducers: {
    compared: (
      state,
      { payload }: PayloadAction<{ readonly homeId: string; readonly options: readonly Scenario[] }>,
    ) => ({ ...state, [payload.homeId]: payload.options }),
  },
});

export const { compared } = slice.actions;
export const outageOptionsReducer = slice.reducer;
