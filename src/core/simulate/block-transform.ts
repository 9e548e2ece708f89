const N = 8;
/** The orthonormal cosine basis. Source: Ahmed, Natarajan & Rao, "Discrete Cosine Transform", IEEE Trans. Computers (1974). */
const BASIS = Float64Array.from({ length: N * N }, (_, i) => {
  const k = Math.floor(i / N);
  const x = i % N;
  return Math.sqrt((k === 0 ? 1 : 2) / N) * Math.cos(((2 * x + 1) * k * Math.PI) / (2 * N));
});

function transform(block: Float64Array, out: Float64Array, inverse: boolean): void {
  const half = new Float64Array(N * N);
  for (let y = 0; y < N; y++)
    for (let k = 0; k < N; k++) {
      let s = 0;
      for (let x = 0; x < N; x++) s += (block[y * N + x] as number) * (BASIS[inverse ? x * N + k : k * N + x] as number);
      half[y * N + k] = s;
    }
  for (let k = 0; k < N; k++)
    for (let x = 0; x < N; x++) {
      let s = 0;
      for (let y = 0; y < N; y++) s += (half[y * N + x] as number) * (BASIS[inverse ? y * N + k : k * N + y] as number);
      out[k * N + x] = s;
    }
}

/**
 * What a block codec leaves of a plane of codes: every 8 × 8 block is transformed and its coefficients rounded to steps
 * that grow with frequency; the mean is kept eight times finer. Blocks over the border repeat the edge.
 * @param step in codes
 */
export function quantiseBlocks(plane: Float32Array, width: number, height: number, step: number): void {
  const block = new Float64Array(N * N);
  const freq = new Float64Array(N * N);
  for (let by = 0; by < height; by += N)
    for (let bx = 0; bx < width; bx += N) {
      for (let y = 0; y < N; y++)
        for (let x = 0; x < N; x++) block[y * N + x] = plane[Math.min(height - 1, by + y) * width + Math.min(width - 1, bx + x)] as number;
      transform(block, freq, false);
      for (let k = 0; k < N * N; k++) {
        const order = Math.floor(k / N) + (k % N);
        const q = order === 0 ? step / 8 : step * (0.5 + order / 8);
        freq[k] = Math.round((freq[k] as number) / q) * q;
      }
      transform(freq, block, true);
      for (let y = 0; y < Math.min(N, height - by); y++)
        for (let x = 0; x < Math.min(N, width - bx); x++) plane[(by + y) * width + bx + x] = block[y * N + x] as number;
    }
}
