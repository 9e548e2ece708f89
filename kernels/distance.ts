/** Euclidean distance over whole planes: AssemblyScript, compiled with kernels/pointwise.ts. What it means and its source stand in src/core/image/distance.ts. */

import { double, single } from "./lanes";

/** Farther than any frame's diagonal. */
const FAR: f32 = 1e7;

/**
 * Euclidean distance to the nearest pixel of `inside` (a byte each) that is not 0, at most `limit`.
 * Room: three rows of doubles and one more.
 */
export function distance(inside: usize, out: usize, room: usize, width: i32, height: i32, limit: f64): void {
  const row = (<usize>width) << 2;
  const n = width * height;
  for (let i = 0; i < n; i++) {
    const above: f32 = i < width ? FAR : single(out, i - width) + 1;
    store<f32>(out + ((<usize>i) << 2), load<u8>(inside + i) ? 0 : above);
  }
  const one = f32x4.splat(1);
  for (let y = height - 2; y >= 0; y--) {
    const here = out + row * y;
    let at: usize = 0;
    for (; at + 16 <= row; at += 16) v128.store(here + at, f32x4.pmin(v128.load(here + at), f32x4.add(v128.load(here + row + at), one)));
    for (; at < row; at += 4) store<f32>(here + at, min(load<f32>(here + at), load<f32>(here + row + at) + 1));
  }
  for (let y = 0; y < height; y++) alongRow(out + row * y, width, limit, room);
}

/** One row of distances down the columns turned into distances in the plane, run by run between pixels at distance 0. */
function alongRow(line: usize, width: i32, limit: f64, room: usize): void {
  let x = 0;
  while (x < width) {
    if (single(line, x) === 0) {
      x++;
      continue;
    }
    const first = x > 0 ? x - 1 : 0;
    while (x < width && single(line, x) !== 0) x++;
    envelope(line + ((<usize>first) << 2), (x < width ? x + 1 : width) - first, width, limit, room);
  }
}

/** Distances of `n` pixels from their distances down the columns, by the lower envelope of parabolas; in place. */
function envelope(line: usize, n: i32, width: i32, limit: f64, room: usize): void {
  // Squared heights, where each parabola begins to be the lowest, and where it stands.
  const f = room;
  const edge = f + ((<usize>width) << 3);
  const hull = edge + ((<usize>(width + 1)) << 3);
  let k = -1;
  for (let q = 0; q < n; q++) {
    const d = <f64>single(line, q);
    // What is farther than the limit in its own column brings nothing nearer.
    if (d >= limit) continue;
    const own = d * d + <f64>q * <f64>q;
    let s = -Infinity;
    while (k >= 0) {
      s = (own - double(f, k)) / <f64>(2 * (q - load<i32>(hull + ((<usize>k) << 2))));
      if (s > double(edge, k)) break;
      k--;
      s = -Infinity;
    }
    k++;
    store<i32>(hull + ((<usize>k) << 2), q);
    store<f64>(f + ((<usize>k) << 3), own);
    store<f64>(edge + ((<usize>k) << 3), s);
  }
  if (k < 0) {
    for (let q = 0; q < n; q++) store<f32>(line + ((<usize>q) << 2), <f32>limit);
    return;
  }
  store<f64>(edge + ((<usize>(k + 1)) << 3), Infinity);
  const square = limit * limit;
  k = 0;
  for (let q = 0; q < n; q++) {
    while (double(edge, k + 1) < <f64>q) k++;
    const v = load<i32>(hull + ((<usize>k) << 2));
    // f holds d² + v², so that (q − v)² + d² = q² − 2qv + f.
    const d = <f64>q * <f64>q - 2 * <f64>q * <f64>v + double(f, k);
    store<f32>(line + ((<usize>q) << 2), d < square ? <f32>sqrt(d) : <f32>limit);
  }
}
