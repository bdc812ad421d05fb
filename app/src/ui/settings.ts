import type { Settings } from '@long-tally/core';
import { showAs } from './format.js';

export const darkByTheSystem = matchMedia('(prefers-color-scheme: dark)');

const ZOOM: Readonly<Record<Settings['textSize'], string>> = { usual: '1', larger: '1.1', largest: '1.2' };

/** Whether a theme is dark, by choice or by the system. */
export function isDark(theme: Settings['theme']): boolean {
  return theme === 'dark' || (theme === 'system' && darkByTheSystem.matches);
}

/** Puts settings into the page: its theme and size, and how numbers and dates are written from here on. */
export function applySettings(settings: Settings): void {
  document.documentElement.classList.toggle('dark', isDark(settings.theme));
  document.documentElement.style.setProperty('zoom', ZOOM[settings.textSize]);
  showAs(settings);
}
