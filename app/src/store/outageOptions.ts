import { WHOLE_HOME, type Option } from '@long-tally/core';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Options compared in the Outages view, by home; a home that is not in it has those to begin with. */
export type OutageOptions = Readonly<Record<string, readonly Option[]>>;

const NONE: OutageOptions = {};

const slice = createSlice({
  name: 'outageOptions',
  initialState: NONE,
  reducers: {
    compared: (
      state,
      { payload }: PayloadAction<{ readonly homeId: string; readonly options: readonly Option[] }>,
    ) => ({ ...state, [payload.homeId]: payload.options }),
  },
});

export const { compared } = slice.actions;
export const outageOptionsReducer = slice.reducer;

/** What an option takes for given, in words. */
export function nameOfOption({ share, capW, without, hasSun, startSoc, leastSoc }: Option): string {
  const percent = (part: number) => `${Math.round(100 * part)} %`;
  const said = [
    ...(share < 1 ? [`${percent(share)} of the load`] : []),
    ...(capW < Infinity ? [`at most ${Math.round(capW)} W`] : []),
    ...(without.length > 0 ? [`without ${without.join(', ')}`] : []),
    ...(hasSun ? [] : ['no sun']),
    ...(startSoc === null ? [] : [`from ${percent(startSoc)}`]),
    ...(leastSoc > 0 ? [`reserve ${percent(leastSoc)}`] : []),
  ];
  return said.length > 0 ? said.join(', ') : 'whole home';
}

const named = (option: Option): Option => ({ ...option, name: nameOfOption(option) });

/** An option that differs from the whole home by so much. */
export function optionOf(given: Partial<Option>): Option {
  return named({ ...WHOLE_HOME, ...given });
}

/** What is compared before the reader chooses. */
export const FIRST_OPTIONS: readonly Option[] = [
  WHOLE_HOME,
  optionOf({ hasSun: false }),
  optionOf({ share: 0.5 }),
  optionOf({ leastSoc: 0.5 }),
];
