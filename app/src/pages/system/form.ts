import { isZone, type System } from '@long-tally/core';
import { z } from 'zod';
import { configurationForm, configurationOf, configurationSchema } from './configurationForm.js';
import { tariffForm, tariffOf, tariffSchema } from './tariffForm.js';
import { degreesTyped } from '../../ui/format.js';
import { celsius, known, knownOrNone, number, percent, share, text, typed, typedDegrees } from './typed.js';

/** The system as its form holds it: text, so that nothing typed is lost while it is not yet right. */
export const formSchema = z
  .object({
    name: z.string().trim().min(1, { error: 'Give the home a name.' }),
    timeZone: z.string().refine(isZone, {
      error: 'This zone is not known. Choose one from the list, for example Europe/Lisbon.',
    }),
    currency: z.string(),
    latitude: typed(-90, 90, 'degrees'),
    longitude: typed(-180, 180, 'degrees'),
    gridFreeKWh: typed(0, 100, 'kWh'),
    configurations: z.array(configurationSchema),
    tariffs: z.array(tariffSchema),
    accuracy: z.object({
      solar: typed(0, 50, 'per cent'),
      load: typed(0, 50, 'per cent'),
      grid: typed(0, 50, 'per cent'),
      battery: typed(0, 50, 'per cent'),
      soc: typed(0, 50, 'per cent'),
      offsetW: typed(0, 500, 'W'),
    }),
    degreeDays: z.object({
      heating: typedDegrees(-20, 40),
      cooling: typedDegrees(-20, 50),
    }),
  })
  .superRefine(({ configurations, tariffs }, context) => {
    for (const [list, what] of [
      [configurations, 'configurations'],
      [tariffs, 'tariffs'],
    ] as const) {
      list.forEach(({ from }, i) => {
        if (i > 0 && from <= list[i - 1]!.from) {
          context.addIssue({
            code: 'custom',
            path: [what, i, 'from'],
            message: `A ${what.slice(0, -1)} comes after the one before it.`,
          });
        }
      });
    }
  });

export type SystemForm = z.infer<typeof formSchema>;

/** A form that knows nothing yet but the browser's own zone. */
export function emptyForm(timeZone: string): SystemForm {
  return formOf({ schema: 'long-tally/system@1', name: '', timeZone });
}

/** The form of a system. */
export function formOf(system: System): SystemForm {
  const { accuracy = {}, configurations = [], tariffs = [] } = system;
  return {
    name: system.name,
    timeZone: system.timeZone,
    currency: system.currency ?? '',
    latitude: text(system.latitude),
    longitude: text(system.longitude),
    gridFreeKWh: text(system.gridFreeKWh),
    configurations: configurations.map((one, i) => configurationForm(one, system.timeZone, String(i))),
    tariffs: tariffs.map(tariffForm),
    accuracy: {
      solar: percent(accuracy.solar),
      load: percent(accuracy.load),
      grid: percent(accuracy.grid),
      battery: percent(accuracy.battery),
      soc: percent(accuracy.soc),
      offsetW: text(accuracy.offsetW),
    },
    degreeDays: {
      heating: degreesTyped(system.degreeDays?.heatingBaseC),
      cooling: degreesTyped(system.degreeDays?.coolingBaseC),
    },
  };
}

/**
 * The system a form describes. What the form does not show (prices, windows of the reserve) is kept from the original.
 * @param form valid by {@link formSchema}
 */
export function systemOf(form: SystemForm, original: System | null): unknown {
  const { accuracy } = form;
  return known({
    ...original,
    schema: 'long-tally/system@1',
    name: form.name.trim(),
    timeZone: form.timeZone,
    currency: form.currency.trim() || undefined,
    latitude: number(form.latitude),
    longitude: number(form.longitude),
    gridFreeKWh: number(form.gridFreeKWh),
    configurations: form.configurations.map((one) => configurationOf(one, original, form.timeZone)),
    tariffs: form.tariffs.length > 0 ? form.tariffs.map((one) => tariffOf(one, original)) : undefined,
    accuracy: known({
      solar: share(accuracy.solar),
      load: share(accuracy.load),
      grid: share(accuracy.grid),
      battery: share(accuracy.battery),
      soc: share(accuracy.soc),
      offsetW: number(accuracy.offsetW),
    }),
    degreeDays: knownOrNone({
      heatingBaseC: celsius(form.degreeDays.heating),
      coolingBaseC: celsius(form.degreeDays.cooling),
    }),
  });
}
