import { onPlane } from "../kernels/planes";
import { boxMean } from "./box";

/**
 * Fills what is not known smoothly from what is: push–pull over a pyramid. Each level averages the known pixels of the one
 * below; on the way back what is still missing takes the coarser level's value, bilinear.
 * Source: Gortler, Grzeszczuk, Szeliski & Cohen, "The Lumigraph", SIGGRAPH 1996 (3.4).
 * @param channels filled in place
 * @param weight 0…1 how certain each pixel is; 0 is to be filled. Not changed
 */
export function fillIn(channels: readonly Float32Array[], weight: Float32Array, width: number, height: number): void {
  if (width <= 1 && height <= 1) return;
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const total = new Float32Array(w * h);
  overFours(weight, null, total, width, height);
  const coarse = channels.map((c) => {
    const out = new Float32Array(w * h);
    overFours(c, weight, out, width, height);
    for (let o = 0; o < out.length; o++) if ((total[o] as number) > 0) out[o] = (out[o] as number) / (total[o] as number);
    return out;
  });
  // One known pixel of four is enough for the level above.
  for (let o = 0; o < total.length; o++) if ((total[o] as number) > 1) total[o] = 1;
  fillIn(coarse, total, w, h);
  channels.forEach((c, k) => {
    pushDown(coarse[k] as Float32Array, w, h, c, weight, width, height);
  });
}

/** Means of the known pixels in the square of `radius` around each known one, by weight, of each channel; 0 elsewhere. */
export function meansOfKnown(
  channels: readonly Float32Array[],
  weight: Float32Array,
  width: number,
  height: number,
  radius: number,
): Float32Array[] {
  const total = boxMean(weight, width, height, radius);
  const weighed = new Float32Array(weight.length);
  return channels.map((c) => {
    for (let i = 0; i < weighed.length; i++) weighed[i] = (c[i] as number) * (weight[i] as number);
    const mean = boxMean(weighed, width, height, radius);
    for (let i = 0; i < mean.length; i++) mean[i] = (weight[i] as number) > 0 ? (mean[i] as number) / (total[i] as number) : 0;
    return mean;
  });
}

/** Sums of 2 × 2 pixels, each as often as its weight says. */
function overFours(source: Float32Array, weight: Float32Array | null, out: Float32Array, width: number, height: number): void {
  const w = (width + 1) >> 1;
  for (let y = 0; y < height; y++) {
    const to = (y >> 1) * w;
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const v = source[row + x] as number;
      const o = to + (x >> 1);
      out[o] = (out[o] as number) + (weight ? (weight[row + x] as number) * v : v);
    }
  }
}

/** What is missing of a channel, from the level above, bilinear. */
function pushDown(
  coarse: Float32Array,
  w: number,
  h: number,
  channel: Float32Array,
  weight: Float32Array,
  width: number,
  height: number,
): void {
  for (let y = 0; y < height; y++) {
    const cy = Math.min(h - 1, Math.max(0, (y - 0.5) / 2));
    const y0 = Math.floor(cy);
    const fy = cy - y0;
    const top = y0 * w;
    const bottom = Math.min(h - 1, y0 + 1) * w;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const k = weight[i] as number;
      if (k >= 1) continue;
      const cx = Math.min(w - 1, Math.max(0, (x - 0.5) / 2));
      const x0 = Math.floor(cx);
      const fx = cx - x0;
      const x1 = Math.min(w - 1, x0 + 1);
      const upper = (1 - fx) * (coarse[top + x0] as number) + fx * (coarse[top + x1] as number);
      const lower = (1 - fx) * (coarse[bottom + x0] as number) + fx * (coarse[bottom + x1] as number);
      channel[i] = k * (channel[i] as number) + (1 - k) * ((1 - fy) * upper + fy * lower);
    }
  }
}

/** A reduced channel at full size, bilinear; centres of reduced pixels lie in the middle of the block they stand for. */
export function enlargeChannel(
  source: Float32Array,
  w: number,
  h: number,
  factor: number,
  width: number,
  height: number,
  out: Float32Array,
): void {
  onPlane("enlarge", source.subarray(0, w * h), out, 4 * (4 * width + 12) + 64, w, h, width, height, factor);
}
