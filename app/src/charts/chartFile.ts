const SVG = 'http://www.w3.org/2000/svg';
/** What of an element's look comes from style sheets, and has to go along with it. */
const LOOK = [
  ...['fill', 'fill-opacity', 'stroke', 'stroke-width', 'stroke-dasharray', 'stroke-opacity', 'opacity'],
  ...['font-size', 'font-weight', 'text-anchor', 'paint-order'],
] as const;
const [MARGIN, HEAD, LINE, TITLE_PX, SOURCE_PX] = [16, 34, 15, 16, 11];
const FONT = "'Source Sans 3', 'Source Sans Pro', Helvetica, Arial, sans-serif";

/** A chart as it stands in a file. */
export interface ChartFile {
  readonly svg: string;
  readonly width: number;
  readonly height: number;
}

/**
 * A drawing of the page as a file of its own: colours and textures as they are on the screen, its title above it and below it
 * line by line from what it was drawn.
 */
export function chartFile(drawing: SVGSVGElement, title: string, source: readonly string[]): ChartFile {
  const { width: own, height: tall } = drawing.getBoundingClientRect();
  const [width, height] = [
    Math.ceil(own + 2 * MARGIN),
    Math.ceil(tall + HEAD + MARGIN + LINE * source.length),
  ];
  const whole = element('svg', {
    width,
    height,
    viewBox: `0 0 ${width} ${height}`,
    'font-family': FONT,
  });
  const defs = element('defs', {});
  document.querySelectorAll('pattern').forEach((pattern) => defs.append(looking(pattern)));
  const { backgroundColor, color } = getComputedStyle(document.body);
  const paper = element('rect', { width, height, fill: backgroundColor });
  const head = text(title, MARGIN, MARGIN + 8, TITLE_PX, color);
  head.setAttribute('font-weight', '600');
  const foot = source.map((says, k) =>
    text(says, MARGIN, height - 9 - LINE * (source.length - 1 - k), SOURCE_PX, color),
  );
  const chart = looking(drawing) as SVGSVGElement;
  chart.setAttribute('x', String(MARGIN));
  chart.setAttribute('y', String(HEAD));
  whole.append(defs, paper, head, chart, ...foot);
  return { svg: new XMLSerializer().serializeToString(whole), width, height };
}

/** The picture of a chart's file, twice as fine as the screen. */
export async function pngOf({ svg, width, height }: ChartFile): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [2 * width, 2 * height];
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))),
      'image/png',
    ),
  );
}

/** A copy of an element with its look written into it, and without what belongs to the page. */
function looking(original: Element): Element {
  const copy = original.cloneNode(true) as Element;
  const [from, to] = [
    [original, ...original.querySelectorAll('*')],
    [copy, ...copy.querySelectorAll('*')],
  ];
  from.forEach((one, k) => {
    const style = getComputedStyle(one);
    for (const name of LOOK) to[k]!.setAttribute(name, style.getPropertyValue(name).replaceAll('"', ''));
    for (const name of ['class', 'style', 'tabindex']) to[k]!.removeAttribute(name);
  });
  return copy;
}

function element(name: string, attributes: Readonly<Record<string, string | number>>): SVGElement {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, String(value));
  return made;
}

function text(says: string, x: number, y: number, px: number, fill: string): SVGElement {
  const made = element('text', { x, y, 'font-size': px, fill });
  made.textContent = says;
  return made;
}
