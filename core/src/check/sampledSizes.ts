/** So many values tell how large a column's values usually are. */
const SAMPLE = 50_000;

/** Sizes of a regular sample of a column's known values, of all of them where they are few. */
export function sampledSizes(values: Float64Array): Float64Array {
  const every = Math.max(1, Math.floor(values.length / SAMPLE));
  const sizes = new Float64Array(Math.ceil(values.length / every));
  let count = 0;
  for (let i = 0; i < values.length; i += every)
    if (values[i] === values[i]) sizes[count++] = Math.abs(values[i]!);
  return sizes.subarray(0, count);
}
