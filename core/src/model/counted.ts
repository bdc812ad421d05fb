/** The word for so many: that for one, or that for any other number, none included. */
export function plural(count: number, one: string, many = `${one}s`): string {
  return count === 1 ? one : many;
}

/** A whole number with its word: `1 month`, `3 months`. */
export function counted(count: number, one: string, many?: string): string {
  return `${count} ${plural(count, one, many)}`;
}

/** A count of events: `once`, `4 times`. */
export function times(count: number): string {
  return count === 1 ? 'once' : `${count} times`;
}

/** A count of events with where the first of them was: `once, at 18:32`, `4 times, first at 18:32`. */
export function timesFirst(count: number, where: string): string {
  return `${times(count)}, ${plural(count, '', 'first ')}${where}`;
}
