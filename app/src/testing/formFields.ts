import { fireEvent, screen } from '@testing-library/react';
import { soon } from './soon.js';

/** Types a text into the field of a label, in the place of what stands there. */
export function fill(label: string | RegExp, value: string): void {
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
}

/** What stands in the field of a label. */
export function standsIn(label: string | RegExp): string {
  return screen.getByLabelText<HTMLInputElement>(label).value;
}

/** Presses the button that sends a form, and waits for what comes of it. */
export function press(name: string | RegExp): Promise<void> {
  return soon(() => fireEvent.click(screen.getByRole('button', { name })));
}

/** Chooses one of a list by what it says. */
export async function chooseOption(label: string, says: string): Promise<void> {
  await soon(() => fireEvent.click(screen.getByRole('button', { name: new RegExp(`^${label}: `) })));
  await soon(() => fireEvent.click(screen.getByRole('option', { name: says })));
}
