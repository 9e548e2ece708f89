import { valueAt } from "../image/rank";

/** Quantile of the blocks that are smooth whatever a cloth's weave is like: grain is everywhere, texture is not. */
export const SMOOTHEST = 0.1;

/**
 * Standard deviation of grain in one channel where `mask` is 1: the median over 5 × 5 blocks of what a plane fitted to
 * the block leaves, so that gradients, creases and edges do not count. Same unit as the channel.
 * @param quantile of the blocks, 0…1: the median where most of the mask is smooth, less where much of it is textured
 * @param factor by which the mask is smaller than the channel
 */
export function blockNoise(
  channel: Float32Array,
  mask: Uint8Array,
  width: number,
  height: number,
  { quantile = 0.5, factor = 1 }: { quantile?: number; factor?: number } = {},
): number {
  const N = 5;
  const maskWidth = Math.ceil(width / factor);
  const found: number[] = [];
  // Sums over the centred block coordinates: Σx² = Σy².
  let xx = 0;
  for (let y = 0; y < N; y++) for (let x = 0; x < N; x++) xx += (x - (N - 1) / 2) ** 2;
  const stride = Math.max(1, Math.round(Math.sqrt((width * height) / 700_000))) * N;
  for (let by = 0; by + N <= height; by += stride)
    for (let bx = 0; bx + N <= width; bx += stride) {
      let [s, q, sx, sy] = [0, 0, 0, 0];
      let whole = true;
      for (let y = 0; y < N && whole; y++)
        for (let x = 0; x < N; x++) {
          const i = (by + y) * width + bx + x;
          if (!mask[factor === 1 ? i : Math.floor((by + y) / factor) * maskWidth + Math.floor((bx + x) / factor)]) {
            whole = false;
            break;
          }
          const v = channel[i] as number;
          s += v;
          q += v * v;
          sx += v * (x - (N - 1) / 2);
          sy += v * (y - (N - 1) / 2);
        }
      if (!whole) continue;
      const n = N * N;
      found.push(Math.max(0, q - (s * s) / n - (sx * sx + sy * sy) / xx) / (n - 3));
    }
  if (found.length === 0) return 0;
  return Math.sqrt(valueAt(Float32Array.from(found), Math.floor(quantile * (found.length - 1))));
}
