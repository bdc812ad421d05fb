/** The word for so many: that for one, or that for any other number, none included. */
export function plural(count: number, one: string, many = `${one}s`): string {
  return count === 1 ? one : many;
}

/** A whole number with its word: `1 month`, `3 months`. */
export function counted(count: number, one: string, many?: string): string {
  return `${count} ${plural(count, one, many)}`;
}
