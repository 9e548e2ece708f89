import { type Allocate, fresh } from "./plane";

/**
 * Mean over the square of side 2·radius + 1 around each pixel, only over what lies in the frame. Running sums: the cost
 * does not grow with the radius.
 */
export function boxMean(source: Float32Array, width: number, height: number, radius: number, allocate: Allocate = fresh): Float32Array {
  const r = Math.min(radius, Math.max(width, height) - 1);
  const out = allocate(source.length);
  if (r < 1) {
    out.set(source);
    return out;
  }
  const across = new Float32Array(source.length);
  const inner = Math.max(r, width - r - 1);
  const whole = 1 / (2 * r + 1);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    const first = Math.min(r, width - 1);
    for (let x = 0; x <= first; x++) sum += source[row + x] as number;
    for (let x = 0; x < width; x++) {
      // In the middle of a row every square is whole.
      if (x === r && inner > r) {
        for (; x < inner; x++) {
          across[row + x] = sum * whole;
          sum += (source[row + x + r + 1] as number) - (source[row + x - r] as number);
        }
      }
      across[row + x] = sum / (Math.min(width - 1, x + r) - Math.max(0, x - r) + 1);
      if (x + r + 1 < width) sum += source[row + x + r + 1] as number;
      if (x - r >= 0) sum -= source[row + x - r] as number;
    }
  }
  // Down the columns a row at a time, so that memory is read in order.
  const sums = new Float64Array(width);
  const first = Math.min(r, height - 1);
  for (let y = 0; y <= first; y++) for (let x = 0; x < width; x++) sums[x]! += across[y * width + x] as number;
  for (let y = 0; y < height; y++) {
    const k = 1 / (Math.min(height - 1, y + r) - Math.max(0, y - r) + 1);
    const row = y * width;
    for (let x = 0; x < width; x++) out[row + x] = (sums[x] as number) * k;
    const add = y + r + 1 < height ? (y + r + 1) * width : -1;
    const drop = y - r >= 0 ? (y - r) * width : -1;
    if (add >= 0) for (let x = 0; x < width; x++) sums[x]! += across[add + x] as number;
    if (drop >= 0) for (let x = 0; x < width; x++) sums[x]! -= across[drop + x] as number;
  }
  return out;
}
