import type { Settings } from '@long-tally/core';
import { useSyncExternalStore } from 'react';
import { settingsOf } from '../store/preferences.js';
import { useAppSelector } from '../store/store.js';
import { darkByTheSystem, isDark } from './settings.js';

/** The settings that hold. */
export function useSettings(): Settings {
  return useAppSelector(({ preferences }) => settingsOf(preferences));
}

/** Whether the page is dark, by choice or by the system. */
export function useIsDark(): boolean {
  const { theme } = useSettings();
  return useSyncExternalStore(
    (listener) => {
      darkByTheSystem.addEventListener('change', listener);
      return () => darkByTheSystem.removeEventListener('change', listener);
    },
    () => isDark(theme),
  );
}
