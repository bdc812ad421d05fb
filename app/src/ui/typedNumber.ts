/** The number that was typed, with a decimal point or a comma; NaN where nothing or no number stands there. */
export function typedNumber(text: string): number {
  return text.trim() === '' ? NaN : Number(text.replace(',', '.'));
}
