/** Farther than any frame's diagonal; its square and differences stay exact in double precision. */
const FAR = 1e7;

/**
 * Exact Euclidean distance, in pixels, from every pixel centre to the nearest pixel where `inside` is not 0.
 * Where nothing is inside, the distance is larger than any frame's diagonal.
 * Sources: the columns by two sweeps, Meijster, Roerdink & Hesselink, "A General Algorithm for Computing Distance Transforms
 * in Linear Time" (2000); the rows by the lower envelope of parabolas, Felzenszwalb & Huttenlocher, "Distance Transforms of
 * Sampled Functions", Theory of Computing 8 (2012), run by run between pixels at distance 0, past which none can be nearer.
 * @param limit distances beyond it are told as the limit: where only what is near counts, this takes a fraction of the time
 */
export function distanceTo(inside: Uint8Array, width: number, height: number, limit = FAR): Float32Array {
  const out = new Float32Array(width * height);
  for (let x = 0; x < width; x++) out[x] = inside[x] ? 0 : FAR;
  for (let i = width; i < out.length; i++) out[i] = inside[i] ? 0 : (out[i - width] as number) + 1;
  for (let i = out.length - width - 1; i >= 0; i--) {
    const below = (out[i + width] as number) + 1;
    if (below < (out[i] as number)) out[i] = below;
  }
  const room: Envelope = { f: new Float64Array(width), at: new Int32Array(width), edge: new Float64Array(width + 1) };
  for (let y = 0; y < height; y++) distancesAlong(out, y * width, width, limit, room);
  return out;
}

/** Room for one row's lower envelope: squared heights, where each parabola stands, and where it begins to be the lowest. */
interface Envelope {
  readonly f: Float64Array;
  readonly at: Int32Array;
  readonly edge: Float64Array;
}

/** One row of distances down the columns turned into distances in the plane. */
function distancesAlong(out: Float32Array, row: number, width: number, limit: number, room: Envelope): void {
  let x = 0;
  while (x < width) {
    if (out[row + x] === 0) {
      x++;
      continue;
    }
    const first = x > 0 ? x - 1 : 0;
    while (x < width && out[row + x] !== 0) x++;
    lowerEnvelope(out, row + first, (x < width ? x + 1 : width) - first, limit, room);
  }
}

/** Distances of `n` pixels from `at` on, from their distances down the columns; in place. */
function lowerEnvelope(out: Float32Array, at: number, n: number, limit: number, { f, at: hull, edge }: Envelope): void {
  let k = -1;
  for (let q = 0; q < n; q++) {
    const d = out[at + q] as number;
    // What is farther than the limit in its own column brings nothing nearer.
    if (d >= limit) continue;
    const own = d * d + q * q;
    let s = Number.NEGATIVE_INFINITY;
    while (k >= 0) {
      s = (own - (f[k] as number)) / (2 * (q - (hull[k] as number)));
      if (s > (edge[k] as number)) break;
      k--;
      s = Number.NEGATIVE_INFINITY;
    }
    k++;
    hull[k] = q;
    f[k] = own;
    edge[k] = s;
  }
  const last = k;
  if (last < 0) {
    for (let q = 0; q < n; q++) out[at + q] = limit;
    return;
  }
  edge[last + 1] = Number.POSITIVE_INFINITY;
  const square = limit * limit;
  k = 0;
  for (let q = 0; q < n; q++) {
    while ((edge[k + 1] as number) < q) k++;
    const v = hull[k] as number;
    // f holds d² + v², so that (q − v)² + d² = q² − 2qv + f.
    const d = q * q - 2 * q * v + (f[k] as number);
    out[at + q] = d < square ? Math.sqrt(d) : limit;
  }
}
