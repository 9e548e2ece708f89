/**
 * The value that would stand at place `k` (from 0) if `values` were sorted; much quicker than sorting. Reorders them.
 * Source: C. A. R. Hoare, "Algorithm 65: Find", Communications of the ACM 4 (1961).
 * @throws RangeError when there is no such place
 */
export function valueAt(values: Float32Array, k: number): number {
  if (!(k >= 0 && k < values.length)) throw new RangeError(`There is no place ${k} among ${values.length} values.`);
  let [left, right] = [0, values.length - 1];
  while (left < right) {
    const pivot = values[(left + right) >> 1] as number;
    let [i, j] = [left, right];
    while (i <= j) {
      while ((values[i] as number) < pivot) i++;
      while ((values[j] as number) > pivot) j--;
      if (i > j) break;
      const held = values[i] as number;
      values[i++] = values[j] as number;
      values[j--] = held;
    }
    if (k <= j) right = j;
    else if (k >= i) left = i;
    else break;
  }
  return values[k] as number;
}

/** The values where `mask` is not 0, of every `stride`-th pixel. */
export function valuesWhere(values: Float32Array, mask: ArrayLike<number>, stride = 1): Float32Array {
  const out = new Float32Array(Math.ceil(values.length / stride));
  let n = 0;
  for (let i = 0; i < values.length; i += stride) if (mask[i]) out[n++] = values[i] as number;
  return out.subarray(0, n);
}

/** The values at some pixels. */
export function valuesAt(channel: Float32Array, places: Uint32Array): Float32Array {
  const out = new Float32Array(places.length);
  for (let k = 0; k < places.length; k++) out[k] = channel[places[k] as number] as number;
  return out;
}

/** The middle value (the upper of two), or `none` when there is none. Reorders them. */
export const middleOf = <T>(values: Float32Array, none: T): number | T => (values.length ? valueAt(values, values.length >> 1) : none);

/** The value that a share `q` of them, 0…1, lies under, or `none` when there is none. Reorders them. */
export const percentile = <T>(values: Float32Array, q: number, none: T): number | T =>
  values.length ? valueAt(values, Math.round(q * (values.length - 1))) : none;

/** Which of `n` pixels meet a condition, in order. */
export function placesWhere(holds: (i: number) => boolean, n: number): Uint32Array {
  const places = new Uint32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) if (holds(i)) places[count++] = i;
  return places.subarray(0, count);
}
