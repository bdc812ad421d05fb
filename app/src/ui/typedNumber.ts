import { numberMarks } from './format.js';

/**
 * What was typed, as JavaScript writes numbers: groups of thousands are taken off where they can be nothing else, or are
 * written with the reader's own mark.
 */
function plain(text: string): string {
  const bare = text.trim().replace('\u2212', '-');
  const [, grouped, mark, decimals = ''] =
    /^([-+]?[1-9]\d{0,2}(?:([.,\s\u2019'])\d{3})(?:\2\d{3})*)(?:(?!\2)[.,](\d*))?$/.exec(bare) ?? [];
  if (grouped === undefined || mark === undefined) return bare.replace(',', '.');
  const groups = grouped.split(mark);
  const isDecimal = '.,'.includes(mark) && groups.length === 2 && !/[.,].*[.,]/.test(bare);
  return isDecimal && mark !== numberMarks()[0] ? bare.replace(',', '.') : `${groups.join('')}.${decimals}`;
}

/**
 * The number that was typed, with a decimal point or a comma; NaN where nothing or no number stands there. `12,345` is
 * over twelve thousand to a reader of 1,234.5, and over twelve to one of 1.234,5.
 */
export function typedNumber(text: string): number {
  return text.trim() === '' ? NaN : Number(plain(text));
}

/** How many decimals were typed, six at most. */
export function typedDecimals(text: string): number {
  return Math.min(6, plain(text).split('.')[1]?.length ?? 0);
}
