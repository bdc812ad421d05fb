/** Steps loggers are set to, in seconds; a jittering log is taken for the nearest. */
const USUAL_STEPS_S = [1, 2, 5, 10, 15, 20, 30, 60, 120, 180, 300, 600, 900, 1200, 1800, 3600, 7200, 86_400];
/** So many equal distances in a row are a setting, not a run of lost rows. */
const RUN = 12;

/** The rhythm of a log's rows. */
export interface Step {
  readonly stepMs: number;
  /** Where the grid's cells begin within a step. */
  readonly phaseMs: number;
  /** True when every row begins a cell and lasts one: the rows can be copied as they are. */
  readonly regular: boolean;
}

/**
 * Finds the usual distance between rows, in one pass over sorted times.
 * @param timeMs sorted epoch ms, at least two different
 */
export function findStep(timeMs: Float64Array): Step {
  const distances = new Map<number, { count: number; longest: number }>();
  let last = -1;
  let run = 0;
  const flush = () => {
    if (run === 0) return;
    const known = distances.get(last) ?? { count: 0, longest: 0 };
    distances.set(last, { count: known.count + run, longest: Math.max(known.longest, run) });
  };
  for (let i = 1; i < timeMs.length; i++) {
    const distance = timeMs[i]! - timeMs[i - 1]!;
    if (distance <= 0) continue;
    if (distance === last) {
      run++;
    } else {
      flush();
      last = distance;
      run = 1;
    }
  }
  flush();
  const stepMs = usualStep(distances);
  const multiples = [...distances.keys()].every((ms) => ms % stepMs === 0);
  const coarser = [...distances].some(
    ([ms, { longest }]) => ms > stepMs && ms <= 3_600_000 && longest >= RUN,
  );
  const phaseMs = multiples ? timeMs[0]! % stepMs : commonPhase(timeMs, stepMs);
  return { stepMs, phaseMs, regular: multiples && !coarser };
}

function usualStep(distances: ReadonlyMap<number, { count: number; longest: number }>): number {
  const all = [...distances].sort(([a], [b]) => a - b);
  const total = all.reduce((sum, [, { count }]) => sum + count, 0);
  // The finest rhythm that is kept up leads, so that nothing measured is lost on the grid.
  const steady = all.find(([ms, { count, longest }]) => ms >= 1000 && longest >= RUN && count >= total / 50);
  if (steady) return steady[0];
  const [commonest] = [...all].sort(([, a], [, b]) => b.count - a.count);
  if (commonest && commonest[1].count * 2 >= total && commonest[0] >= 1000) return commonest[0];
  let half = total / 2;
  const median = all.find(([, { count }]) => (half -= count) <= 0)?.[0] ?? 1000;
  const nearest = (best: number, s: number) =>
    Math.abs(Math.log((s * 1000) / median)) < Math.abs(Math.log((best * 1000) / median)) ? s : best;
  return USUAL_STEPS_S.reduce(nearest) * 1000;
}

function commonPhase(timeMs: Float64Array, stepMs: number): number {
  const counts = new Map<number, number>();
  const stride = Math.max(1, Math.floor(timeMs.length / 10_000));
  for (let i = 0; i < timeMs.length; i += stride) {
    const phase = timeMs[i]! % stepMs;
    counts.set(phase, (counts.get(phase) ?? 0) + 1);
  }
  const [commonest] = [...counts].sort(([a, m], [b, n]) => n - m || a - b);
  return commonest && commonest[1] * stride * 2 > timeMs.length ? commonest[0] : 0;
}

/**
 * How long each row's value holds: to the next row where that is a usual distance, else one step.
 * @param timeMs sorted epoch ms
 */
export function durations(timeMs: Float64Array, stepMs: number): Float64Array {
  const n = timeMs.length;
  const lasts = new Float64Array(n).fill(stepMs);
  for (let i = 0; i < n;) {
    const distance = distanceFrom(timeMs, i);
    let j = i;
    while (j < n && distanceFrom(timeMs, j) === distance) j++;
    const usual = distance <= 1.5 * stepMs || (j - i >= RUN && distance <= 3_600_000);
    if (usual) lasts.fill(distance, i, j);
    i = j;
  }
  // The last row of a stretch has no successor to measure by: it lasts as long as the row before it.
  for (let i = 1; i < n; i++) {
    const next = distanceFrom(timeMs, i);
    if (lasts[i] === stepMs && next > lasts[i - 1]! && lasts[i - 1]! > 1.5 * stepMs) lasts[i] = lasts[i - 1]!;
  }
  return lasts;
}

/** Distance to the next later row; infinite at the end. */
function distanceFrom(timeMs: Float64Array, i: number): number {
  let j = i + 1;
  while (j < timeMs.length && timeMs[j] === timeMs[i]) j++;
  return j < timeMs.length ? timeMs[j]! - timeMs[i]! : Infinity;
}
