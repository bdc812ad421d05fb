import { configureStore } from '@reduxjs/toolkit';
import { setAutoFreeze } from 'immer';
import { useDispatch, useSelector } from 'react-redux';
import { applySettings, darkByTheSystem } from '../ui/settings.js';
import { api } from './api.js';
import { outageOptionsReducer } from './outageScenarios.js';
import { loadPreferences, preferencesReducer, savePreferences, settingsOf } from './preferences.js';
import { selectionReducer } from './selection.js';

// Types keep what comes from the workers from being written to; freezing ten years of it would hold the page up.
setAutoFreeze(false);

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    outageOptions: outageOptionsReducer,
    preferences: preferencesReducer,
    selection: selectionReducer,
  },
  preloadedState: { preferences: loadPreferences() },
  // Strips and courses are typed arrays: they are not walked through on every action.
  middleware: (defaults) =>
    defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
  // Figures are shown as they come from the worker: waiting for the next frame would cost one.
  enhancers: (defaults) => defaults({ autoBatch: { type: 'tick' } }),
});

export type RootState = ReturnType<typeof store.getState>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();

let applied: RootState['preferences'] | null = null;
function applyPreferences(): void {
  const { preferences } = store.getState();
  if (preferences === applied) return;
  applied = preferences;
  applySettings(settingsOf(preferences));
  savePreferences(preferences);
}
applyPreferences();
darkByTheSystem.addEventListener('change', () => applySettings(settingsOf(store.getState().preferences)));
store.subscribe(applyPreferences);
