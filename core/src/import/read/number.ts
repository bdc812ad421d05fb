/** Sign before the decimals of a number. */
export type DecimalSign = '.' | ',';

/** No number of a log is written longer; what is longer is no number, and no pattern runs on it. */
const LONGEST = 60;
/** So many cells that all hold the sign are no chance. */
const FEW = 5;
const SPACES = String.raw`\s\u00a0\u202f`;
/** A unit that stands behind a number, in the cell itself. */
const UNIT = /\s*(?:[kM]?Wh?|[kM]?VAh?|%|m?V|m?A|Ah|Hz|°\s?[CF]|[CF])$/i;

/** Groups: digits without thousands set apart, digits with them, decimals. */
const grammar = (decimal: string, thousands: string) =>
  new RegExp(
    String.raw`^[-+]?(?:(\d+)|(\d{1,3}(?:[${thousands}'’${SPACES}]\d{3})+))?(?:${decimal}(\d*))?(?:e[-+]?\d{1,3})?$`,
    'i',
  );
const GRAMMARS: Readonly<Record<DecimalSign, RegExp>> = {
  '.': grammar(String.raw`\.`, ','),
  ',': grammar(',', String.raw`\.`),
};

const THOUSANDS: Readonly<Record<DecimalSign, RegExp>> = {
  '.': new RegExp(`[,'’${SPACES}]`, 'g'),
  ',': new RegExp(`[.'’${SPACES}]`, 'g'),
};

function endsInDigit(text: string): boolean {
  const code = text.charCodeAt(text.length - 1);
  return code >= 48 && code <= 57;
}

/** A number as text: its value, how many decimals it has, and whether its thousands are set apart. */
export interface Written {
  readonly value: number;
  readonly decimals: number;
  readonly isGrouped: boolean;
}

/**
 * Reads a number as people and loggers write it: thousands set apart by the other sign, a space or an apostrophe in groups
 * of three, a unit behind it, a typographic minus.
 * @returns null when the text is no such number
 * @example readNumber("1'234,5 kWh", ',') // { value: 1234.5, decimals: 1, isGrouped: true }
 */
export function readNumber(text: string, decimal: DecimalSign): Written | null {
  if (text.length > LONGEST) return null;
  let bare = text.trim();
  if (!endsInDigit(bare)) bare = bare.replace(UNIT, '');
  if (bare.startsWith('\u2212')) bare = `-${bare.slice(1)}`;
  const match = GRAMMARS[decimal].exec(bare);
  if (!match) return null;
  const [, plain, grouped, decimals = ''] = match;
  if ((plain ?? grouped ?? decimals) === '') return null;
  // A leading zero begins no group of thousands: 0.512 in a list of decimals.
  if (grouped?.startsWith('0')) return null;
  const digits = grouped ? bare.replace(THOUSANDS[decimal], '') : bare;
  return {
    value: Number(digits.replace(',', '.')),
    decimals: decimals.length,
    isGrouped: grouped !== undefined,
  };
}

/** Which sign stands before the decimals of a table, and whether its cells leave that open. */
export interface Decimals {
  readonly sign: DecimalSign;
  readonly asks: boolean;
  /** A cell that could be read in two ways; empty where there is none. */
  readonly example: string;
}

/**
 * Finds the decimal sign of a table by what its columns allow: a sign that is followed by other than three digits, or by
 * three behind a zero, stands before decimals; a column whose numbers above a thousand are written plain sets no
 * thousands apart.
 * @param columns cells by column
 * @param separator between the cells; a comma that separates is rarely a decimal too
 */
export function decimalsOf(columns: readonly (readonly string[])[], separator: string): Decimals {
  const votes = columns.flatMap((cells) => voteOf(cells) ?? []);
  const sure = (sign: DecimalSign) => votes.filter((vote) => vote.sign === sign && vote.isSure).length;
  const open = votes.find((vote) => !vote.isSure);
  const [points, commas] = [sure('.'), sure(',')];
  if (points > 0 && commas > 0) {
    const example = votes.find(
      ({ sign, isSure }) => isSure && sign === (points > commas ? ',' : '.'),
    )!.example;
    return { sign: points >= commas ? '.' : ',', asks: true, example };
  }
  if (points + commas > 0) return { sign: points > 0 ? '.' : ',', asks: false, example: '' };
  if (!open) return { sign: '.', asks: false, example: '' };
  // Nothing but groups of three: thousands, unless the other sign is what separates the cells.
  return separator === ',' && open.seen === '.'
    ? { sign: '.', asks: false, example: '' }
    : { sign: open.sign, asks: open.isMixed, example: open.example };
}

interface Vote {
  /** The sign before the decimals that the column speaks for. */
  readonly sign: DecimalSign;
  readonly isSure: boolean;
  /** True when its own cells leave open what the sign is. */
  readonly isMixed: boolean;
  /** The sign that its cells hold. */
  readonly seen: DecimalSign;
  readonly example: string;
}

function voteOf(cells: readonly string[]): Vote | null {
  let [asPoint, asComma, points, commas, numbers, plainLarge] = [0, 0, 0, 0, 0, 0];
  let example = '';
  for (const cell of cells) {
    const [point, comma] = [readNumber(cell, '.'), readNumber(cell, ',')];
    if (!point && !comma) continue;
    numbers++;
    const seen = cell.includes('.') ? '.' : cell.includes(',') ? ',' : null;
    if (cell.includes('.')) points++;
    if (cell.includes(',')) commas++;
    if (seen === null) {
      if (Math.abs(point!.value) >= 1000 && !point!.isGrouped) plainLarge++;
      continue;
    }
    if (!comma) asPoint++;
    else if (!point) asComma++;
    if (example === '') example = cell;
  }
  if (points + commas === 0 || numbers < cells.filter((cell) => cell !== '').length / 2) return null;
  const seen = points >= commas ? '.' : ',';
  if (asPoint + asComma > 0) {
    // A few cells may be spoilt; what most of them prove holds.
    const sign = asPoint >= asComma ? '.' : ',';
    return { sign, isSure: true, isMixed: false, seen, example };
  }
  // Thousands set apart leave small numbers bare; a column in which every cell has the sign is one of three decimals or of
  // large numbers, and only its owner knows.
  const isMixed = plainLarge > 0 || (seen === '.' && points === numbers && numbers >= FEW);
  return { sign: seen === '.' ? ',' : '.', isSure: false, isMixed, seen, example };
}
