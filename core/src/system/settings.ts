import { z } from 'zod';
import { parseJson } from '../model/validation.js';

/** How a reader wants things shown, `long-tally/settings@1`. None of it changes what a figure says. */
export const settingsSchema = z.object({
  schema: z.literal('long-tally/settings@1'),
  theme: z.enum(['system', 'light', 'dark']),
  textSize: z.enum(['usual', 'larger', 'largest']),
  /** Marks of thousands and decimals, as 1234.5 is written. */
  numbers: z.enum(['1,234.5', '1 234.5', '1.234,5', '1 234,5']),
  /** Order of a date, as it is written. */
  dates: z.enum(['14 Sep 2024', 'Sep 14, 2024', '2024-09-14']),
  temperature: z.enum(['C', 'F']),
  /** Decimals of an energy in kWh; `auto` takes fewer as it grows. */
  energyDigits: z.enum(['auto', '0', '1', '2', '3']),
  /** 0 for Sunday, 1 for Monday, 6 for Saturday. */
  weekStartsOn: z.union([z.literal(0), z.literal(1), z.literal(6)]),
  /** Which self-sufficiency stands first: what was not bought, what the home supplied, or what came from its own sun. */
  leadingSchool: z.enum(['grid', 'supply', 'solar']),
});
export type Settings = z.infer<typeof settingsSchema>;

/** What holds until something else is chosen. */
export const DEFAULT_SETTINGS: Settings = {
  schema: 'long-tally/settings@1',
  theme: 'system',
  textSize: 'usual',
  numbers: '1,234.5',
  dates: '14 Sep 2024',
  temperature: 'C',
  energyDigits: 'auto',
  weekStartsOn: 1,
  leadingSchool: 'grid',
};

/** @throws InputError naming what is wrong */
export function parseSettings(text: string, where: string): Settings {
  return parseJson(
    settingsSchema,
    text,
    where,
    'how a reader wants things shown, schema long-tally/settings@1',
  );
}
