/** Two charts side by side have so much between them, and below so much room stand one over the other. */
const [BETWEEN, NARROW] = [28, 640];

/** Width of each of two charts that share a width. */
export function halfWidth(width: number): number {
  return width < NARROW ? width : Math.floor((width - BETWEEN) / 2);
}
