/**
 * Decoding, a row at a time: AssemblyScript, compiled with kernels/pointwise.ts. Every function is given where its rows lie, in
 * bytes; rows have room for eight floats past their end. What is read, and the sources, stand in src/core/image/raw-frame.ts,
 * chroma-rebuild.ts and chroma-behind-rgb.ts.
 */
import { codes } from "./lanes";

/**
 * A row of chroma at luma's width: between two rows of chroma, then between its samples.
 * @param share what the lower row counts
 * @param blend room for one row of chroma, with a float before it and eight after
 * @param before what the left neighbour counts in even columns
 * @param after what the right neighbour counts in odd columns
 * @param step luma columns for one chroma sample
 */
export function chromaRow(
  upper: usize,
  lower: usize,
  share: f32,
  blend: usize,
  to: usize,
  cw: i32,
  before: f32,
  after: f32,
  step: i32,
): void {
  const size = (<usize>cw) << 2;
  const k = f32x4.splat(share);
  const rest = f32x4.splat(1 - share);
  const line = step === 1 ? to : blend;
  for (let at: usize = 0; at < size; at += 16)
    v128.store(line + at, f32x4.add(f32x4.mul(rest, v128.load(upper + at)), f32x4.mul(k, v128.load(lower + at))));
  if (step === 1) return;
  store<f32>(blend - 4, load<f32>(blend));
  store<f32>(blend + size, load<f32>(blend + size - 4));
  const kb = f32x4.splat(before);
  const ownEven = f32x4.splat(1 - before);
  const ka = f32x4.splat(after);
  const ownOdd = f32x4.splat(1 - after);
  for (let at: usize = 0; at < size; at += 16) {
    const here = v128.load(blend + at);
    const even = f32x4.add(f32x4.mul(kb, v128.load(blend + at - 4)), f32x4.mul(ownEven, here));
    const odd = f32x4.add(f32x4.mul(ka, v128.load(blend + at + 4)), f32x4.mul(ownOdd, here));
    v128.store(to + 2 * at, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
    v128.store(to + 2 * at + 16, v128.shuffle<f32>(even, odd, 2, 6, 3, 7));
  }
}

/** base + rise · (Y − luma): chroma moved along luma. */
export function alongLuma(Y: usize, base: usize, rise: usize, luma: usize, to: usize, width: i32): void {
  const size = (<usize>width) << 2;
  for (let at: usize = 0; at < size; at += 16) {
    const d = f32x4.sub(codes(Y + (at >> 1)), v128.load(luma + at));
    v128.store(to + at, f32x4.add(v128.load(base + at), f32x4.mul(v128.load(rise + at), d)));
  }
}

/** Looks four places of the curve's table up, with what lies between. */
function curve(table: usize, last: v128, t: v128): v128 {
  const place = f32x4.pmin(f32x4.pmax(t, f32x4.splat(0)), last);
  const k = i32x4.trunc_sat_f32x4_s(place);
  const at0 = table + ((<usize>i32x4.extract_lane(k, 0)) << 2);
  const at1 = table + ((<usize>i32x4.extract_lane(k, 1)) << 2);
  const at2 = table + ((<usize>i32x4.extract_lane(k, 2)) << 2);
  const at3 = table + ((<usize>i32x4.extract_lane(k, 3)) << 2);
  // Each pair holds the value and the next.
  const first = v128.load64_lane(at1, v128.load64_zero(at0), 1);
  const second = v128.load64_lane(at3, v128.load64_zero(at2), 1);
  const here = v128.shuffle<f32>(first, second, 0, 2, 4, 6);
  const next = v128.shuffle<f32>(first, second, 1, 3, 5, 7);
  return f32x4.add(here, f32x4.mul(f32x4.sub(next, here), f32x4.sub(place, f32x4.convert_i32x4_s(k))));
}

/** One row of codes to light. `told`: eight floats, as decodeRows of raw-frame.ts makes them. */
export function decodeRow(Y: usize, cbs: usize, crs: usize, r: usize, g: usize, b: usize, width: i32, told: usize, table: usize): void {
  const luma = v128.load32_splat(told);
  const zero = v128.load32_splat(told + 4);
  const centre = v128.load32_splat(told + 8);
  const rCr = v128.load32_splat(told + 12);
  const gCb = v128.load32_splat(told + 16);
  const gCr = v128.load32_splat(told + 20);
  const bCb = v128.load32_splat(told + 24);
  const last = v128.load32_splat(told + 28);
  const size = (<usize>width) << 2;
  for (let at: usize = 0; at < size; at += 16) {
    const l = f32x4.add(f32x4.mul(codes(Y + (at >> 1)), luma), zero);
    const cb = f32x4.sub(v128.load(cbs + at), centre);
    const cr = f32x4.sub(v128.load(crs + at), centre);
    v128.store(r + at, curve(table, last, f32x4.add(l, f32x4.mul(rCr, cr))));
    v128.store(g + at, curve(table, last, f32x4.add(l, f32x4.add(f32x4.mul(gCb, cb), f32x4.mul(gCr, cr)))));
    v128.store(b + at, curve(table, last, f32x4.add(l, f32x4.mul(bCb, cb))));
  }
}

/**
 * A row of R'G'B' codes as luma, in codes of `scale` for each of theirs, and chroma.
 * @param shut where a mask is written to: all bits of what is at the bottom or the `top` of its range in any channel
 * @param kr luma's share of red @param kb of blue
 * @param cbScale of B' − Y' @param crScale of R' − Y', whole codes of luma being `last` at the most
 * @returns whether any is shut
 */
export function lumaAndChroma(
  R: usize,
  G: usize,
  B: usize,
  luma: usize,
  cb: usize,
  cr: usize,
  shut: usize,
  width: i32,
  kr: f32,
  kb: f32,
  top: f32,
  scale: f32,
  last: f32,
  cbScale: f32,
  crScale: f32,
): i32 {
  const shareR = f32x4.splat(kr);
  const shareG = f32x4.splat(1 - kr - kb);
  const shareB = f32x4.splat(kb);
  const zero = f32x4.splat(0);
  const most = f32x4.splat(top);
  let any = zero;
  for (let x = 0; x < width; x += 4) {
    const half = (<usize>x) << 1;
    const at = (<usize>x) << 2;
    const r = codes(R + half);
    const g = codes(G + half);
    const b = codes(B + half);
    const y = f32x4.add(f32x4.add(f32x4.mul(shareR, r), f32x4.mul(shareG, g)), f32x4.mul(shareB, b));
    v128.store(cb + at, f32x4.mul(f32x4.sub(b, y), f32x4.splat(cbScale)));
    v128.store(cr + at, f32x4.mul(f32x4.sub(r, y), f32x4.splat(crScale)));
    const whole = f32x4.pmin(f32x4.add(f32x4.mul(y, f32x4.splat(scale)), f32x4.splat(0.5)), f32x4.splat(last));
    v128.store64_lane(luma + half, i16x8.narrow_i32x4_u(i32x4.trunc_sat_f32x4_s(whole), zero), 0);
    const lowest = f32x4.pmin(f32x4.pmin(r, g), b);
    const highest = f32x4.pmax(f32x4.pmax(r, g), b);
    const mask = v128.or(f32x4.le(lowest, zero), f32x4.ge(highest, most));
    v128.store(shut + at, mask);
    const left = width - x;
    any = v128.or(any, left < 4 ? v128.and(mask, firstLanes(left)) : mask);
  }
  return v128.any_true(any) ? 1 : 0;
}

/** All bits of the first so many of four lanes. */
function firstLanes(count: i32): v128 {
  return i32x4.lt_s(i32x4(0, 1, 2, 3), i32x4.splat(count));
}
