/** +1 when discharge is positive, by how the state of charge moves; null when it does not tell. */
export function socSign(battery: Float64Array, soc: Float64Array): 1 | -1 | null {
  const hop = 6;
  let together = 0;
  let against = 0;
  for (let i = 0; i + hop < soc.length; i += hop) {
    const change = soc[i + hop]! - soc[i]!;
    let sum = 0;
    for (let k = 0; k < hop; k++) sum += battery[i + k]!;
    if (Number.isNaN(change) || Number.isNaN(sum) || change === 0) continue;
    if (change * sum > 0) together += Math.abs(change);
    else against += Math.abs(change);
  }
  const total = together + against;
  if (total === 0 || Math.max(together, against) < 0.8 * total) return null;
  return against > together ? 1 : -1;
}
