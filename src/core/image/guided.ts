import { pointwise } from "../kernels/pointwise";
import { boxMean } from "./box";
import { enlargeChannel } from "./fill-in";
import { shrinkChannel } from "./resample";

/**
 * Guided filter: smooths `source` so that it follows the guide's edges. In every square of side 2·radius + 1 the result is
 * the linear function of the guide that fits the source best.
 * Source: He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), eqs. 5–8.
 * @param epsilon squared contrast of the guide under which it is taken to be flat
 */
export function guidedFilter(
  source: Float32Array,
  guide: Float32Array,
  width: number,
  height: number,
  radius: number,
  epsilon: number,
): Float32Array {
  const mean = (v: Float32Array) => boxMean(v, width, height, radius);
  const product = (p: Float32Array, q: Float32Array) => {
    const out = new Float32Array(p.length);
    pointwise("product", [], [p, q], [out]);
    return out;
  };
  const [mi, mp] = [mean(guide), mean(source)];
  const [ii, ip] = [mean(product(guide, guide)), mean(product(guide, source))];
  pointwise("variance", [epsilon], [ii, mi], [ii]);
  // The planes serve again for what follows: slope and offset.
  pointwise("steepness", [Number.POSITIVE_INFINITY], [ip, mp, mi, ii], [ip]);
  pointwise("product", [], [ip, mi], [mi]);
  pointwise("weigh", [1, -1, 0], [mp, mi, 0], [mp]);
  const [slope, out] = [mean(ip), mean(mp)];
  pointwise("product", [], [slope, guide], [slope]);
  pointwise("weigh", [1, 1, 0], [slope, out, 0], [out]);
  return out;
}

/** By how much the plane is reduced that slopes are found on. */
const COARSER = 2;

/**
 * A plane guided by itself: contrast under the square root of `epsilon` is smoothed away, edges stay. What the result is made of in every
 * square, its mean and how much of the plane's own contrast stays, varies slowly and is found on a plane of half the size.
 * Source: He & Sun, "Fast Guided Filter", arXiv:1505.00996 (2015).
 * @param radius of the squares, px of the plane, 2 or more
 */
export function guidedByItself(source: Float32Array, width: number, height: number, radius: number, epsilon: number): Float32Array {
  const [w, h] = [Math.ceil(width / COARSER), Math.ceil(height / COARSER)];
  const mean = (v: Float32Array) => boxMean(shrinkChannel(v, width, height, COARSER), w, h, Math.round(radius / COARSER));
  const out = source.map((v) => v * v);
  const [squares, means] = [mean(out), mean(source)];
  // The planes serve again for what follows: slope and offset.
  for (let i = 0; i < squares.length; i++) {
    const m = means[i] as number;
    const variance = Math.max(0, (squares[i] as number) - m * m);
    const slope = variance / (variance + epsilon);
    squares[i] = slope;
    means[i] = (1 - slope) * m;
  }
  const again = (v: Float32Array, to: Float32Array) => {
    enlargeChannel(boxMean(v, w, h, Math.round(radius / COARSER)), w, h, COARSER, width, height, to);
    return to;
  };
  const slopes = again(squares, out);
  const offsets = again(means, new Float32Array(source.length));
  for (let i = 0; i < out.length; i++) out[i] = (slopes[i] as number) * (source[i] as number) + (offsets[i] as number);
  return out;
}
