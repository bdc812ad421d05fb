/** So many points are one element of the page: thousands of their own would hold it up, and one of all would not darken where they lie close. */
const TOGETHER = 120;

/** A disc as a path. */
export const disc = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`;

/** A lying cross as a path. */
export const cross = (x: number, y: number, r: number) => `M${x - r} ${y}h${2 * r}M${x} ${y - r}v${2 * r}`;

/** A square on its corner as a path. */
export const diamond = (x: number, y: number, r: number) =>
  `M${x} ${y - r}l${r} ${r}l${-r} ${r}l${-r} ${-r}z`;

/** The marks of points as few paths. */
export function pathsOf<T>(points: readonly T[], mark: (point: T) => string): string[] {
  const paths: string[] = [];
  for (let from = 0; from < points.length; from += TOGETHER)
    paths.push(
      points
        .slice(from, from + TOGETHER)
        .map(mark)
        .join(''),
    );
  return paths;
}
