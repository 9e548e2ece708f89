/** Farther than any frame's diagonal; its square and differences stay exact in double precision. */
const FAR = 1e7;

/**
 * Exact Euclidean distance, in pixels, from every pixel centre to the nearest pixel where `inside` is not 0.
 * Where nothing is inside, the distance is larger than any frame's diagonal.
 * Sources: the columns by two sweeps, Meijster, Roerdink & Hesselink, "A General Algorithm for Computing Distance Transforms
 * in Linear Time" (2000); the rows by the lower envelope of parabolas, Felzenszwalb & Huttenlocher, "Distance Transforms of
 * Sampled Functions", Theory of Computing 8 (2012), run by run between pixels at distance 0, past which none can be nearer.
 */
export function distanceTo(inside: Uint8Array, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let x = 0; x < width; x++) out[x] = inside[x] ? 0 : FAR;
  for (let i = width; i < out.length; i++) out[i] = inside[i] ? 0 : (out[i - width] as number) + 1;
  for (let i = out.length - width - 1; i >= 0; i--) {
    const below = (out[i + width] as number) + 1;
    if (below < (out[i] as number)) out[i] = below;
  }
  const f = new Float64Array(width);
  const hull = new Int32Array(width);
  const edge = new Float64Array(width + 1);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let x = 0;
    while (x < width) {
      if (out[row + x] === 0) {
        x++;
        continue;
      }
      const first = Math.max(0, x - 1);
      while (x < width && out[row + x] !== 0) x++;
      const end = Math.min(width, x + 1);
      for (let q = first; q < end; q++) f[q - first] = (out[row + q] as number) ** 2;
      lowerEnvelope(f, end - first, out, row + first, hull, edge);
    }
  }
  return out;
}

/** Distance along one line from squared distances across it; written to `out` from `at` on. */
function lowerEnvelope(f: Float64Array, n: number, out: Float32Array, at: number, hull: Int32Array, edge: Float64Array): void {
  let k = 0;
  hull[0] = 0;
  edge[0] = Number.NEGATIVE_INFINITY;
  edge[1] = Number.POSITIVE_INFINITY;
  for (let q = 1; q < n; q++) {
    const fq = (f[q] as number) + q * q;
    let v = hull[k] as number;
    let s = (fq - ((f[v] as number) + v * v)) / (2 * q - 2 * v);
    while (s <= (edge[k] as number)) {
      k--;
      v = hull[k] as number;
      s = (fq - ((f[v] as number) + v * v)) / (2 * q - 2 * v);
    }
    k++;
    hull[k] = q;
    edge[k] = s;
    edge[k + 1] = Number.POSITIVE_INFINITY;
  }
  k = 0;
  for (let q = 0; q < n; q++) {
    while ((edge[k + 1] as number) < q) k++;
    const v = hull[k] as number;
    out[at + q] = Math.sqrt((q - v) * (q - v) + (f[v] as number));
  }
}
