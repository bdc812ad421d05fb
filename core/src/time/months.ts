/** The months of the year, January first. */
export const MONTH_NAMES: readonly string[] = [
  ...['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October'],
  ...['November', 'December'],
];

/** Their first three letters. */
export const MONTHS_SHORT: readonly string[] = MONTH_NAMES.map((name) => name.slice(0, 3));
