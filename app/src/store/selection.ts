import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** What the user is looking at beside the range, which stands in the address. */
export interface Selection {
  /** Key of the figure whose working is open. */
  readonly workingKey: string | null;
}

const slice = createSlice({
  name: 'selection',
  initialState: (): Selection => ({ workingKey: 'account.selfSufficiency.grid' }),
  reducers: {
    workingOpened: (_state, { payload }: PayloadAction<string | null>): Selection => ({
      workingKey: payload,
    }),
  },
});

export const { workingOpened } = slice.actions;
export const selectionReducer = slice.reducer;
