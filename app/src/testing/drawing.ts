import { LETTER } from '../charts/Caption.js';

/** A text of a drawing with the box it takes, by the usual width of a letter. */
export interface DrawnText {
  readonly text: string;
  readonly left: number;
  readonly right: number;
  readonly baseline: number;
}

/** What a drawing is made of, in its own pixels. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  /** Every point that is drawn or written at, [x, y]. */
  readonly points: readonly (readonly [number, number])[];
  readonly texts: readonly DrawnText[];
  /** Attributes that hold no number where they must: NaN, Infinity, undefined. */
  readonly broken: readonly string[];
}

const GEOMETRY = new Set(
  ['x', 'y', 'x1', 'x2', 'y1', 'y2', 'cx', 'cy', 'r', 'd', 'width', 'height', 'transform'].concat('points'),
);

/**
 * Takes a drawing apart.
 * @param svg the drawing as it was rendered; paths of M, L, H, V, A and Z in absolute coordinates
 */
export function takenApart(svg: Element): Drawing {
  const number = (element: Element, name: string) => Number(element.getAttribute(name) ?? 0);
  const points: [number, number][] = [];
  const texts: DrawnText[] = [];
  const broken: string[] = [];
  const visit = (element: Element, dx: number, dy: number) => {
    for (const { name, value } of element.attributes) {
      const isBroken = GEOMETRY.has(name) && /NaN|Infinity|undefined|null/.test(value);
      if (isBroken) broken.push(`${element.tagName} ${name}="${value.slice(0, 60)}"`);
    }
    const [, tx = '0', ty = '0'] =
      /translate\(([^,]+),([^)]+)\)/.exec(element.getAttribute('transform') ?? '') ?? [];
    const [ox, oy] = [dx + Number(tx), dy + Number(ty)];
    const [x, y] = [ox + number(element, 'x'), oy + number(element, 'y')];
    if (element.tagName === 'rect')
      points.push([x, y], [x + number(element, 'width'), y + number(element, 'height')]);
    if (element.tagName === 'circle') points.push([ox + number(element, 'cx'), oy + number(element, 'cy')]);
    if (element.tagName === 'path')
      for (const [px, py] of pointsOfPath(element.getAttribute('d') ?? '')) points.push([ox + px, oy + py]);
    if (element.tagName === 'text') {
      const text = element.textContent;
      const wide = text.length * LETTER;
      const anchor = element.getAttribute('text-anchor');
      const left = anchor === 'end' ? x - wide : anchor === 'middle' ? x - wide / 2 : x;
      texts.push({ text, left, right: left + wide, baseline: y });
      points.push([x, y]);
      return;
    }
    for (const child of element.children) visit(child, ox, oy);
  };
  visit(svg, 0, 0);
  const [width, height] = [number(svg, 'width'), number(svg, 'height')];
  return { width, height, points, texts, broken };
}

/** The points that a path goes through; arcs by where they end. */
function pointsOfPath(path: string): [number, number][] {
  const found: [number, number][] = [];
  let [x, y] = [0, 0];
  for (const [, command, rest] of path.matchAll(/([MLHVAZ])([^MLHVAZ]*)/gi)) {
    const numbers = (rest!.match(/-?[\d.]+(?:e-?\d+)?/gi) ?? []).map(Number);
    const isRelative = command === command!.toLowerCase();
    const step = { m: 2, l: 2, h: 1, v: 1, a: 7, z: 1 }[command!.toLowerCase()]!;
    for (let i = 0; i + step <= numbers.length; i += step) {
      const own = numbers.slice(i, i + step);
      const [px, py] =
        command!.toLowerCase() === 'h'
          ? [own[0]!, isRelative ? 0 : y]
          : command!.toLowerCase() === 'v'
            ? [isRelative ? 0 : x, own[0]!]
            : [own.at(-2)!, own.at(-1)!];
      [x, y] = isRelative ? [x + px, y + py] : [px, py];
      found.push([x, y]);
    }
  }
  return found;
}

/** Texts of one line that lie over each other. */
export function overlapping(texts: readonly DrawnText[]): string[] {
  return texts.flatMap((one, i) =>
    texts
      .slice(i + 1)
      .filter(
        (other) =>
          Math.abs(one.baseline - other.baseline) < 9 &&
          one.left < other.right - 1 &&
          other.left < one.right - 1,
      )
      .map((other) => `“${one.text}” over “${other.text}”`),
  );
}
