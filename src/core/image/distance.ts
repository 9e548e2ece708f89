const FAR = 1e20;

/**
 * Exact Euclidean distance, in pixels, from every pixel centre to the nearest pixel where `inside` is not 0.
 * Source: Felzenszwalb & Huttenlocher, "Distance Transforms of Sampled Functions", Theory of Computing 8 (2012).
 * Where nothing is inside, the distance is larger than any frame's diagonal.
 */
export function distanceTo(inside: Uint8Array, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = inside[i] ? 0 : FAR;
  const longest = Math.max(width, height);
  const f = new Float64Array(longest);
  const d = new Float64Array(longest);
  const hull = new Int32Array(longest);
  const edge = new Float64Array(longest + 1);
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) f[y] = out[y * width + x] as number;
    lowerEnvelope(f, height, d, hull, edge);
    for (let y = 0; y < height; y++) out[y * width + x] = d[y] as number;
  }
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) f[x] = out[row + x] as number;
    lowerEnvelope(f, width, d, hull, edge);
    for (let x = 0; x < width; x++) out[row + x] = Math.sqrt(d[x] as number);
  }
  return out;
}

/** Squared distance along one line: the lower envelope of parabolas rooted at every sample. */
function lowerEnvelope(f: Float64Array, n: number, d: Float64Array, hull: Int32Array, edge: Float64Array): void {
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
    d[q] = (q - v) * (q - v) + (f[v] as number);
  }
}
