const ZONES = Intl.supportedValuesOf('timeZone');
const MOST = 10;

/** A zone with its place in words: `Pacific/Auckland` lies at Auckland. */
export interface NamedZone {
  readonly zone: string;
  readonly place: string;
}

/** `Argentina, Buenos Aires` of `America/Argentina/Buenos_Aires`. */
const placeOf = (zone: string) => zone.split('/').slice(1).join(', ').replaceAll('_', ' ') || zone;

/**
 * Zones of which the place, or the whole name, has every word that is typed; those whose city begins with it first.
 * @param known every zone there is
 */
export function zonesLike(typed: string, known: readonly string[] = ZONES): NamedZone[] {
  const words = typed
    .toLowerCase()
    .replaceAll('_', ' ')
    .split(/[\s,/]+/)
    .filter(Boolean);
  if (words.length === 0) return [];
  const begins = (zone: string) => (zone.split('/').at(-1)!.toLowerCase().startsWith(words[0]!) ? 0 : 1);
  return known
    .filter((zone) => words.every((word) => zone.toLowerCase().replaceAll('_', ' ').includes(word)))
    .sort((a, b) => begins(a) - begins(b))
    .slice(0, MOST)
    .map((zone) => ({ zone, place: placeOf(zone) }));
}
