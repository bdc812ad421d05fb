import type { TableColumn } from '../read/table.js';

/** Fewer rows may go with the wrong neighbour by chance. */
const LEAST_ROWS = 100;
const MOST_ROWS = 50_000;
/** So much of the change of the charge must surely belong to the later row, and so much of it be explained at all. */
const LATE_SHARE = 0.6;
const EXPLAINED = 0.1;

/**
 * True where the state of charge of each row is that of its end: it changes with the power of the row before which it
 * stands, not with its own. Taken for that of the start it lags by a step, which looks like a monitor set anew at every turn.
 * The rise from row to row is fitted by least squares to what charges in the one and in the other.
 * @param columns means of the interval that begins with each row
 */
export function isSocAtEnd(columns: readonly TableColumn[]): boolean {
  const of = (quantity: string) => columns.find((column) => column.quantity === quantity)?.values;
  const soc = of('soc');
  const battery = of('battery') ?? of('batteryDc');
  if (!soc || !battery) return false;
  let [n, aa, bb, ab, ax, bx, xx] = [0, 0, 0, 0, 0, 0, 0];
  for (let i = 0; i < Math.min(soc.length - 1, MOST_ROWS); i++) {
    const x = soc[i + 1]! - soc[i]!;
    const [a, b] = [-battery[i]!, -battery[i + 1]!];
    if (x !== x || a !== a || b !== b || (a === 0 && b === 0)) continue;
    n++;
    aa += a * a;
    bb += b * b;
    ab += a * b;
    ax += a * x;
    bx += b * x;
    xx += x * x;
  }
  const determinant = aa * bb - ab * ab;
  if (n < LEAST_ROWS || !(determinant > 1e-9 * aa * bb)) return false;
  const own = (ax * bb - bx * ab) / determinant;
  const next = (bx * aa - ax * ab) / determinant;
  const both = own + next;
  const rest = Math.max(0, xx - own * ax - next * bx);
  // The error of the later row's part, were the sum of both known.
  const off = Math.sqrt(((rest / n) * (aa + bb - 2 * ab)) / determinant) / Math.abs(both);
  return both > 0 && xx - rest > EXPLAINED * xx && next / both - 2 * off > LATE_SHARE;
}
