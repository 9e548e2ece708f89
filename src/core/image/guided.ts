import { boxMean } from "./box";
import { type Allocate, fresh } from "./plane";

/**
 * Guided filter with a one-channel guide: inside every window the result is a straight line of the guide.
 * Source: He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), equations 5–8.
 * @param radius of the window, px; @param epsilon variance of the guide under which it counts as flat
 */
export function guidedFilter(
  source: Float32Array,
  guide: Float32Array,
  width: number,
  height: number,
  radius: number,
  epsilon: number,
  allocate: Allocate = fresh,
): Float32Array {
  const n = source.length;
  const mean = (c: Float32Array) => boxMean(c, width, height, radius, allocate);
  const cross = allocate(n);
  const square = allocate(n);
  for (let i = 0; i < n; i++) {
    const g = guide[i] as number;
    cross[i] = g * (source[i] as number);
    square[i] = g * g;
  }
  const [mg, ms, mc, mq] = [mean(guide), mean(source), mean(cross), mean(square)];
  for (let i = 0; i < n; i++) {
    const g = mg[i] as number;
    const a = ((mc[i] as number) - g * (ms[i] as number)) / ((mq[i] as number) - g * g + epsilon);
    cross[i] = a;
    square[i] = (ms[i] as number) - a * g;
  }
  const [ma, mb] = [mean(cross), mean(square)];
  for (let i = 0; i < n; i++) ma[i] = (ma[i] as number) * (guide[i] as number) + (mb[i] as number);
  return ma;
}
