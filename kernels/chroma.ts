/**
 * Chroma at edges: AssemblyScript, compiled with kernels/pointwise.ts. Rows and planes lie as in kernels/rows.ts; what a step means, and the
 * sources, stand in src/core/image/chroma-rebuild.ts.
 */
import { codes, evens, leastOf3, mostOf3, odds, rangeOfThree, repeatEnds } from "./lanes";

/** A pair of chroma samples, each for the two luma columns it stands over. */
function twice(at: usize): v128 {
  const pair = v128.load64_zero(at);
  return v128.shuffle<f32>(pair, pair, 0, 0, 1, 1);
}

/** About e to the power of −v: (1 − v/8)⁸, nothing from 8 on. */
function fade(v: v128): v128 {
  const a = f32x4.pmax(f32x4.sub(f32x4.splat(1), f32x4.mul(v, f32x4.splat(0.125))), f32x4.splat(0));
  const b = f32x4.mul(a, a);
  const c = f32x4.mul(b, b);
  return f32x4.mul(c, c);
}

/**
 * How far each sample of a row of chroma is of one colour, as the luma it stands for tells, 0…1.
 * @param a, b, c the luma rows it stands for, as codes; the same one again where there are fewer
 * @param low, high rows of luma's width, with a float before each and eight after
 * @param cosited columns −1, 0, 1 around an even place; 0, 1 else
 * @param per what one code of spread counts
 */
export function oneColour(
  a: usize,
  b: usize,
  c: usize,
  low: usize,
  high: usize,
  to: usize,
  width: i32,
  cw: i32,
  cosited: bool,
  per: f32,
): void {
  for (let at: usize = 0; at < (<usize>width) << 2; at += 16) {
    const first = codes(a + (at >> 1));
    const second = codes(b + (at >> 1));
    const third = codes(c + (at >> 1));
    v128.store(low + at, f32x4.pmin(f32x4.pmin(first, second), third));
    v128.store(high + at, f32x4.pmax(f32x4.pmax(first, second), third));
  }
  repeatEnds(low, width);
  repeatEnds(high, width);
  const k = f32x4.splat(per);
  for (let at: usize = 0; at < (<usize>cw) << 2; at += 16) {
    const l = low + 2 * at;
    const h = high + 2 * at;
    let darkest = f32x4.pmin(odds(l), evens(l));
    let brightest = f32x4.pmax(odds(h), evens(h));
    if (cosited) {
      darkest = f32x4.pmin(darkest, odds(l - 8));
      brightest = f32x4.pmax(brightest, odds(h - 8));
    }
    const spread = f32x4.mul(k, f32x4.sub(brightest, darkest));
    v128.store(to + at, fade(f32x4.mul(spread, spread)));
  }
}

/**
 * 1 where either plane of chroma has an edge: the range of 3 × 3 is over `even`; 0 elsewhere.
 * @param room two rows of chroma's width, 16 floats besides each; both again `stride` bytes further
 */
export function edgesOf(first: usize, second: usize, edge: usize, room: usize, stride: usize, cw: i32, ch: i32, even: f32): void {
  const row = (<usize>cw) << 2;
  const low = room + 16;
  const high = low + stride;
  const low2 = high + stride;
  const high2 = low2 + stride;
  for (let y = 0; y < ch; y++) {
    const above = row * max(0, y - 1);
    const here = row * y;
    const below = row * min(ch - 1, y + 1);
    rangeOfThree(first + above, first + here, first + below, low, high, cw);
    rangeOfThree(second + above, second + here, second + below, low2, high2, cw);
    for (let at: usize = 0; at < row; at += 16) {
      const range = f32x4.sub(mostOf3(high + at), leastOf3(low + at));
      const range2 = f32x4.sub(mostOf3(high2 + at), leastOf3(low2 + at));
      v128.store(edge + here + at, v128.and(f32x4.gt(f32x4.pmax(range, range2), f32x4.splat(even)), f32x4.splat(1)));
    }
  }
}

/**
 * A row of both chroma planes at luma's width, mixed with the samples around it that are of one colour and of the pixel's own luma. Planes of
 * chroma's size have one sample before and after each row, `stride` bytes from row to row.
 * @param low luma at chroma's places
 * @param pure how far a sample is of one colour, 0…1
 * @param edge not 0 where colour has an edge
 * @param above, here, below how far into the planes the three rows lie, in bytes
 * @param dx columns from an even luma column to the sample over it; odd ones are one nearer
 * @param dy rows from this row to the sample's; `step` of them from sample to sample
 * @param near 1 / (2·σ²) of distance, px; @param like the same of luma, codes
 */
export function ownSide(
  Y: usize,
  low: usize,
  first: usize,
  second: usize,
  pure: usize,
  edge: usize,
  above: usize,
  here: usize,
  below: usize,
  f0: usize,
  f1: usize,
  width: i32,
  dx: f32,
  dy: f32,
  step: f32,
  near: f32,
  like: f32,
  doubt: f32,
): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const columns = f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(dx), 1, dx - 1), 3, dx - 1);
  const kNear = f32x4.splat(near);
  const kLike = f32x4.splat(like);
  // What all nine would count together.
  let all = zero;
  for (let j = -1; j <= 1; j++)
    for (let k = -1; k <= 1; k++) {
      const x = f32x4.add(columns, f32x4.splat(2 * <f32>k));
      const y = dy + <f32>j * step;
      all = f32x4.add(all, fade(f32x4.mul(kNear, f32x4.add(f32x4.mul(x, x), f32x4.splat(y * y)))));
    }
  const share = f32x4.div(one, all);
  const size = (<usize>width) << 2;
  for (let at: usize = 0; at < size; at += 16) {
    const sample = at >> 1;
    if (load<u64>(edge + here + sample + 4) === 0) continue;
    const luma = codes(Y + (at >> 1));
    let weight = zero;
    let sum0 = zero;
    let sum1 = zero;
    for (let j = -1; j <= 1; j++) {
      const row = (j < 0 ? above : j > 0 ? below : here) + sample;
      const y = dy + <f32>j * step;
      const rows = f32x4.splat(y * y);
      for (let k = 0; k <= 2; k++) {
        const q = row + ((<usize>k) << 2);
        const x = f32x4.add(columns, f32x4.splat(2 * <f32>k - 2));
        const d = f32x4.sub(luma, twice(low + q));
        const far = f32x4.add(f32x4.mul(kNear, f32x4.add(f32x4.mul(x, x), rows)), f32x4.mul(kLike, f32x4.mul(d, d)));
        const w = f32x4.mul(fade(far), twice(pure + q));
        weight = f32x4.add(weight, w);
        sum0 = f32x4.add(sum0, f32x4.mul(w, twice(first + q)));
        sum1 = f32x4.add(sum1, f32x4.mul(w, twice(second + q)));
      }
    }
    const sure = f32x4.mul(weight, share);
    const rest = f32x4.sub(one, sure);
    const t = f32x4.div(sure, f32x4.add(sure, f32x4.mul(f32x4.splat(doubt), f32x4.mul(rest, rest))));
    const per = f32x4.div(one, f32x4.add(weight, f32x4.splat(1e-12)));
    const a = v128.load(f0 + at);
    const b = v128.load(f1 + at);
    v128.store(f0 + at, f32x4.add(a, f32x4.mul(t, f32x4.sub(f32x4.mul(sum0, per), a))));
    v128.store(f1 + at, f32x4.add(b, f32x4.mul(t, f32x4.sub(f32x4.mul(sum1, per), b))));
  }
}
