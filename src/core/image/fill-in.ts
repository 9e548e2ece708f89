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
  const coarse = channels.map(() => new Float32Array(w * h));
  const coarseWeight = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const o = y * w + x;
      let total = 0;
      for (let dy = 0; dy < 2; dy++)
        for (let dx = 0; dx < 2; dx++) {
          const sx = 2 * x + dx;
          const sy = 2 * y + dy;
          if (sx >= width || sy >= height) continue;
          const i = sy * width + sx;
          const k = weight[i] as number;
          if (k === 0) continue;
          total += k;
          for (let c = 0; c < channels.length; c++) (coarse[c] as Float32Array)[o]! += k * ((channels[c] as Float32Array)[i] as number);
        }
      if (total > 0) {
        for (let c = 0; c < channels.length; c++) (coarse[c] as Float32Array)[o]! /= total;
        // One known pixel of four is enough for the level above.
        coarseWeight[o] = Math.min(1, total);
      }
    }
  fillIn(coarse, coarseWeight, w, h);
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
      const [wa, wb, wc, wd] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
      for (let c = 0; c < channels.length; c++) {
        const from = coarse[c] as Float32Array;
        const value =
          wa * (from[top + x0] as number) +
          wb * (from[top + x1] as number) +
          wc * (from[bottom + x0] as number) +
          wd * (from[bottom + x1] as number);
        const to = channels[c] as Float32Array;
        to[i] = k * (to[i] as number) + (1 - k) * value;
      }
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
  const k = 1 / factor;
  const columns = new Int32Array(width);
  const shares = new Float32Array(width);
  for (let x = 0; x < width; x++) {
    const cx = Math.min(w - 1, Math.max(0, (x + 0.5) * k - 0.5));
    columns[x] = Math.floor(cx);
    shares[x] = cx - Math.floor(cx);
  }
  // One row between two rows, with its last pixel repeated.
  const line = new Float32Array(w + 1);
  for (let y = 0; y < height; y++) {
    const cy = Math.min(h - 1, Math.max(0, (y + 0.5) * k - 0.5));
    const y0 = Math.floor(cy);
    const fy = cy - y0;
    const top = y0 * w;
    const bottom = Math.min(h - 1, y0 + 1) * w;
    for (let x = 0; x < w; x++) line[x] = (source[top + x] as number) + fy * ((source[bottom + x] as number) - (source[top + x] as number));
    line[w] = line[w - 1] as number;
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const x0 = columns[x] as number;
      const a = line[x0] as number;
      out[row + x] = a + (shares[x] as number) * ((line[x0 + 1] as number) - a);
    }
  }
}
