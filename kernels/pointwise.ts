/**
 * Pointwise steps, four pixels at a time: AssemblyScript, compiled to WebAssembly by `node scripts/kernels.mjs`. Each function
 * works on one block: `bytes` of every operand, which src/core/kernels/pointwise.ts has laid into slots. What a step means, its
 * source and its ranges stand where it is called from, in src/core.
 */

/** Parameters lie at 0, as floats; slots follow. */
const SLOTS: i32 = 1024;
/** Bytes of a slot, and the first that is written. */
const STRIDE: i32 = 16384;
const FIRST_OUT: i32 = 12;

function parameter(k: i32): v128 {
  return v128.load32_splat(<usize>(k << 2));
}
function number(k: i32): f32 {
  return load<f32>(<usize>(k << 2));
}
function operand(slot: i32, at: i32): v128 {
  return v128.load(<usize>(SLOTS + slot * STRIDE + at));
}
function result(slot: i32, at: i32, value: v128): void {
  v128.store(<usize>(SLOTS + (FIRST_OUT + slot) * STRIDE + at), value);
}
/** Four bytes of a result that is a mask: 1 where set, 0 elsewhere. */
function resultMask(slot: i32, at: i32, mask: v128): void {
  const ones = v128.and(mask, i32x4.splat(1));
  const halves = i16x8.narrow_i32x4_u(ones, ones);
  v128.store32_lane(<usize>(SLOTS + (FIRST_OUT + slot) * STRIDE + (at >> 2)), i8x16.narrow_i16x8_u(halves, halves), 0);
}
function all(value: f32): v128 {
  return f32x4.splat(value);
}
function least(a: v128, b: v128): v128 {
  return f32x4.pmin(a, b);
}
function most(a: v128, b: v128): v128 {
  return f32x4.pmax(a, b);
}
function unit(a: v128): v128 {
  return least(most(a, all(0)), all(1));
}
/** `a` where the mask is set, else `b`. */
function choose(a: v128, b: v128, mask: v128): v128 {
  return v128.bitselect(a, b, mask);
}
/** a + k·(b − a). */
function between(a: v128, b: v128, k: v128): v128 {
  return f32x4.add(a, f32x4.mul(k, f32x4.sub(b, a)));
}

/** ka·A + kb·B + kc·C. */
export function weigh(bytes: i32): void {
  const ka = parameter(0),
    kb = parameter(1),
    kc = parameter(2);
  for (let at = 0; at < bytes; at += 16)
    result(0, at, f32x4.add(f32x4.add(f32x4.mul(ka, operand(0, at)), f32x4.mul(kb, operand(1, at))), f32x4.mul(kc, operand(2, at))));
}

export function product(bytes: i32): void {
  for (let at = 0; at < bytes; at += 16) result(0, at, f32x4.mul(operand(0, at), operand(1, at)));
}

/** The two upper of four floats, first. */
function upper(a: v128): v128 {
  return v128.shuffle<i64>(a, a, 1, 1);
}
/** a − b·c, worked out in double precision: what is left may be small beside both. */
function lessProduct(a: v128, b: v128, c: v128): v128 {
  const low = f64x2.sub(f64x2.promote_low_f32x4(a), f64x2.mul(f64x2.promote_low_f32x4(b), f64x2.promote_low_f32x4(c)));
  const high = f64x2.sub(
    f64x2.promote_low_f32x4(upper(a)),
    f64x2.mul(f64x2.promote_low_f32x4(upper(b)), f64x2.promote_low_f32x4(upper(c))),
  );
  return v128.shuffle<i64>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 2);
}

/** Variance, and what is added to it: means of squares, means. */
export function variance(bytes: i32): void {
  const added = parameter(0);
  for (let at = 0; at < bytes; at += 16) {
    const mean = operand(1, at);
    result(0, at, f32x4.add(most(lessProduct(operand(0, at), mean, mean), all(0)), added));
  }
}

/** How steeply one quantity follows another, at most so steeply: means of products, of the one, of the other, and the other's variance. */
export function steepness(bytes: i32): void {
  const steepest = parameter(0);
  const flattest = f32x4.neg(steepest);
  for (let at = 0; at < bytes; at += 16) {
    const k = f32x4.div(lessProduct(operand(0, at), operand(1, at), operand(2, at)), operand(3, at));
    result(0, at, least(most(k, flattest), steepest));
  }
}

/** A sum over how much of it is known, where anything is known at the place itself; else 0. */
export function meanWhere(bytes: i32): void {
  for (let at = 0; at < bytes; at += 16)
    result(0, at, v128.and(f32x4.div(operand(0, at), operand(1, at)), f32x4.gt(operand(2, at), all(0))));
}

/** Where a value lies between two others: a mask. */
export function within(bytes: i32): void {
  const low = parameter(0),
    high = parameter(1);
  for (let at = 0; at < bytes; at += 16) {
    const v = operand(0, at);
    resultMask(0, at, v128.and(f32x4.gt(v, low), f32x4.lt(v, high)));
  }
}

/** Light of the primary that is missing and light of the others that has come instead: P, U, V of the plate, then of the screen. */
export function missing(bytes: i32): void {
  for (let at = 0; at < bytes; at += 16) {
    const p = operand(3, at);
    const m = operand(0, at);
    const left = f32x4.div(m, most(p, all(1e-6)));
    const both = f32x4.add(operand(1, at), operand(2, at));
    result(0, at, f32x4.sub(p, m));
    result(1, at, f32x4.sub(both, f32x4.mul(left, f32x4.add(operand(4, at), operand(5, at)))));
  }
}

/** Where light is missing, and little enough has come instead: what is missing here and around, and what has come instead. A mask. */
export function thin(bytes: i32): void {
  const share = parameter(0);
  for (let at = 0; at < bytes; at += 16) {
    const lack = operand(0, at);
    const among = most(operand(1, at), f32x4.mul(lack, all(1.0 / 3.0)));
    resultMask(0, at, v128.and(f32x4.gt(lack, all(0)), f32x4.le(operand(2, at), f32x4.mul(share, among))));
  }
}

/** Where the light that is left is between a share of the screen's and all of it, and little else has come: the primary, the two others together, then those of the screen. A mask. */
export function shaded(bytes: i32): void {
  const darkest = parameter(0),
    share = parameter(1);
  for (let at = 0; at < bytes; at += 16) {
    const m = operand(0, at);
    const p = operand(2, at);
    const own = f32x4.sub(operand(1, at), f32x4.mul(f32x4.div(m, p), f32x4.add(operand(3, at), operand(4, at))));
    const lit = v128.and(f32x4.ge(m, f32x4.mul(darkest, p)), f32x4.lt(m, p));
    resultMask(0, at, v128.and(lit, f32x4.le(own, f32x4.mul(share, f32x4.sub(p, m)))));
  }
}

/** What is certain in a first matte, and what is solid by it or by the mean around it: two masks. */
export function firm(bytes: i32): void {
  const solid = parameter(0),
    nearly = parameter(1),
    calm = parameter(2);
  for (let at = 0; at < bytes; at += 16) {
    const m = operand(0, at);
    const certain = f32x4.ge(m, solid);
    resultMask(0, at, certain);
    resultMask(1, at, v128.or(certain, v128.and(f32x4.gt(m, nearly), f32x4.ge(operand(1, at), calm))));
  }
}

/**
 * Colour difference with the subject's own excess: P, U, V of the plate, then of the screen, then the excess; no less than what U and V both need to
 * be as bright as they are where nothing is brighter than `top`, but for `doubt`.
 */
export function difference(bytes: i32): void {
  const weight = parameter(0),
    rest = parameter(1),
    highest = parameter(2),
    top = parameter(3),
    doubt = parameter(4);
  for (let at = 0; at < bytes; at += 16) {
    const b = f32x4.sub(f32x4.sub(operand(3, at), f32x4.mul(weight, operand(4, at))), f32x4.mul(rest, operand(5, at)));
    const c = f32x4.sub(f32x4.sub(operand(0, at), f32x4.mul(weight, operand(1, at))), f32x4.mul(rest, operand(2, at)));
    const f = most(least(operand(6, at), f32x4.mul(highest, b)), f32x4.mul(all(-2), b));
    const u = f32x4.div(f32x4.sub(operand(1, at), operand(4, at)), f32x4.sub(top, operand(4, at)));
    const v = f32x4.div(f32x4.sub(operand(2, at), operand(5, at)), f32x4.sub(top, operand(5, at)));
    const bright = f32x4.sub(f32x4.min(u, v), doubt);
    const a = unit(f32x4.max(f32x4.div(f32x4.sub(b, c), f32x4.sub(b, f)), bright));
    result(0, at, choose(a, all(1), f32x4.gt(b, all(1e-6))));
  }
}

/** Two straight lines, the higher of them, clipped: (m − black)·k and (m − start)·steep. */
export function levels(bytes: i32): void {
  const black = parameter(0),
    k = parameter(1),
    start = parameter(2),
    steep = parameter(3);
  for (let at = 0; at < bytes; at += 16) {
    const m = operand(0, at);
    result(0, at, unit(f32x4.max(f32x4.mul(f32x4.sub(m, black), k), f32x4.mul(f32x4.sub(m, start), steep))));
  }
}

/** Soft step: 0 up to `from`, 1 from 1/k beyond it; v²·(3 − 2v) between. */
export function ramp(bytes: i32): void {
  const from = parameter(0),
    k = parameter(1);
  for (let at = 0; at < bytes; at += 16) {
    const v = unit(f32x4.mul(f32x4.sub(operand(0, at), from), k));
    result(0, at, f32x4.mul(f32x4.mul(v, v), f32x4.sub(all(3), f32x4.add(v, v))));
  }
}

/** Matte, what is in, what is out. */
export function bounded(bytes: i32): void {
  for (let at = 0; at < bytes; at += 16)
    result(0, at, f32x4.mul(between(operand(0, at), all(1), operand(1, at)), f32x4.sub(all(1), operand(2, at))));
}

/** Coverage, then foreground and background of up to three channels. */
export function over(bytes: i32): void {
  for (let at = 0; at < bytes; at += 16) {
    const a = operand(0, at);
    result(0, at, between(operand(4, at), operand(1, at), a));
    result(1, at, between(operand(5, at), operand(2, at), a));
    result(2, at, between(operand(6, at), operand(3, at), a));
  }
}

/** Degrees of hue from the primary's: the hexcone model, as `hueOffset` of src/core/spill/limit.ts. */
function hueOffset(p: v128, u: v128, v: v128): v128 {
  const top = most(p, most(u, v));
  const span = f32x4.sub(top, least(p, least(u, v)));
  const k = f32x4.div(all(60), span);
  const first = f32x4.mul(k, f32x4.sub(u, v));
  const nearU = f32x4.sub(all(120), f32x4.mul(k, f32x4.sub(p, v)));
  const nearV = f32x4.sub(f32x4.mul(k, f32x4.sub(p, u)), all(120));
  const leads = v128.and(f32x4.ge(p, u), f32x4.ge(p, v));
  const offset = choose(first, choose(nearU, nearV, f32x4.gt(u, v)), leads);
  return choose(offset, all(0), f32x4.gt(span, all(0)));
}

/** What spill is: limit (0 mix, 1 maximum, 2 minimum), mix, amount, luminances of P, U, V; whether hue limits it. Read once a block. */
let kind: f32 = 0;
let mix: v128 = i32x4.splat(0);
let amount: v128 = i32x4.splat(0);
let lp: v128 = i32x4.splat(0);
let lu: v128 = i32x4.splat(0);
let lv: v128 = i32x4.splat(0);
let everywhere: bool = true;
/** What a unit of taken light changes P, U, V by, and how much of each a unit takes away. */
let kp: v128 = i32x4.splat(0);
let ku: v128 = i32x4.splat(0);
let kv: v128 = i32x4.splat(0);
let several: bool = false;

/** Parameters: 0 to 5 as above, 6 and 7 reach towards U and V, 8 its shoulder, 9 to 11 changes, 12 to 14 the most taken for P, U, V. */
function readSpill(): void {
  kind = number(0);
  mix = parameter(1);
  amount = parameter(2);
  lp = parameter(3);
  lu = parameter(4);
  lv = parameter(5);
  everywhere = number(6) >= 180 && number(7) >= 180;
  kp = parameter(9);
  ku = parameter(10);
  kv = parameter(11);
  several = number(13) > 0 || number(14) > 0;
}

/** Share of a pixel's excess that its hue lets count. */
function withinReach(p: v128, u: v128, v: v128): v128 {
  const offset = hueOffset(p, u, v);
  const reach = choose(parameter(6), parameter(7), f32x4.ge(offset, all(0)));
  const s = unit(f32x4.div(f32x4.sub(f32x4.abs(offset), reach), parameter(8)));
  return f32x4.sub(all(1), f32x4.mul(f32x4.mul(s, s), f32x4.sub(all(3), f32x4.add(s, s))));
}

/** The most that may be taken of a channel which loses `k` of each unit. */
function atMost(take: v128, channel: v128, k: v128): v128 {
  return choose(least(take, f32x4.div(most(channel, all(0)), k)), take, f32x4.gt(k, all(0)));
}

/** Light that is taken for spill. @param own excess of the surface's own, as a share of luminance */
function spillOf(p: v128, u: v128, v: v128, own: v128): v128 {
  const limit = kind === 0 ? between(v, u, mix) : kind === 1 ? most(u, v) : least(u, v);
  const luminance = f32x4.add(f32x4.add(f32x4.mul(lp, p), f32x4.mul(lu, u)), f32x4.mul(lv, v));
  let take = f32x4.mul(amount, most(f32x4.sub(f32x4.sub(p, limit), f32x4.mul(own, luminance)), all(0)));
  if (!everywhere) take = f32x4.mul(take, withinReach(p, u, v));
  // Light of the screen's own hue leaves several channels: none may fall under nothing.
  if (several) take = atMost(atMost(atMost(take, p, parameter(12)), u, parameter(13)), v, parameter(14));
  return take;
}

/** P, U, V and the surface's own excess; gives P, U, V with spill changed, and what was taken. */
export function limitSpill(bytes: i32): void {
  readSpill();
  for (let at = 0; at < bytes; at += 16) {
    const p = operand(0, at);
    const u = operand(1, at);
    const v = operand(2, at);
    const take = spillOf(p, u, v, operand(3, at));
    result(0, at, f32x4.add(p, f32x4.mul(kp, take)));
    result(1, at, f32x4.add(u, f32x4.mul(ku, take)));
    result(2, at, f32x4.add(v, f32x4.mul(kv, take)));
    result(3, at, take);
  }
}

/**
 * P, U, V of the plate, of the treated plate, the matte, P, U, V of the screen, own excess; parameter 15 is the share of the
 * screen that goes. Gives P, U, V and what was taken for spill from mixed pixels.
 */
export function screenOut(bytes: i32): void {
  readSpill();
  const out = parameter(15);
  const nothing = all(0);
  for (let at = 0; at < bytes; at += 16) {
    const share = f32x4.mul(out, f32x4.sub(all(1), operand(6, at)));
    // Where nothing but screen is left, no colour can be told.
    const some = f32x4.lt(share, all(0.9999));
    const mixed = v128.and(some, f32x4.gt(share, nothing));
    if (!v128.any_true(mixed)) {
      result(0, at, v128.and(some, operand(3, at)));
      result(1, at, v128.and(some, operand(4, at)));
      result(2, at, v128.and(some, operand(5, at)));
      result(3, at, nothing);
      continue;
    }
    const k = f32x4.div(all(1), f32x4.sub(all(1), share));
    const p = most(f32x4.mul(k, f32x4.sub(operand(0, at), f32x4.mul(share, operand(7, at)))), nothing);
    const u = most(f32x4.mul(k, f32x4.sub(operand(1, at), f32x4.mul(share, operand(8, at)))), nothing);
    const v = most(f32x4.mul(k, f32x4.sub(operand(2, at), f32x4.mul(share, operand(9, at)))), nothing);
    const take = v128.and(mixed, spillOf(p, u, v, operand(10, at)));
    result(0, at, v128.and(some, choose(f32x4.add(p, f32x4.mul(kp, take)), operand(3, at), mixed)));
    result(1, at, v128.and(some, choose(f32x4.add(u, f32x4.mul(ku, take)), operand(4, at), mixed)));
    result(2, at, v128.and(some, choose(f32x4.add(v, f32x4.mul(kv, take)), operand(5, at), mixed)));
    result(3, at, take);
  }
}

/** Constants of a* and b*, set once a block: an engine builds a constant anew wherever it stands in the code. */
let magic: v128 = i32x4.splat(0);
let epsilon: v128 = i32x4.splat(0);
let slope: v128 = i32x4.splat(0);
let start: v128 = i32x4.splat(0);
const XW: f32 = 0.4124 + 0.3576 + 0.1805;
const ZW: f32 = 0.0193 + 0.1192 + 0.9505;

/** ε and κ of CIE 15:2004, 8.2.1, and the first guess of a cube root. */
function readLab(): void {
  magic = i32x4.splat(709921077);
  epsilon = all(216.0 / 24389.0);
  slope = all(24389.0 / 27.0 / 116.0);
  start = all(16.0 / 116.0);
}

/** A row of the matrix to XYZ, white brought to 1. */
function row(kr: f32, r: v128, kg: f32, g: v128, kb: f32, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(all(kr), r), f32x4.mul(all(kg), g)), f32x4.mul(all(kb), b));
}
/** A first guess of a cube root: a third of the bits, as 1/4 + 1/16 and on, leaves a third of the exponent. */
function guess(t: v128): v128 {
  let bits = i32x4.add(i32x4.shr_u(t, 2), i32x4.shr_u(t, 4));
  bits = i32x4.add(bits, i32x4.shr_u(bits, 4));
  return i32x4.add(magic, i32x4.add(bits, i32x4.shr_u(bits, 8)));
}
/** A nearer cube root: a step of Halley's method. */
function nearer(t: v128, x: v128): v128 {
  const cube = f32x4.mul(f32x4.mul(x, x), x);
  return f32x4.mul(x, f32x4.div(f32x4.add(cube, f32x4.add(t, t)), f32x4.add(t, f32x4.add(cube, cube))));
}
/** f of CIE 15:2004, 8.2.1. @param root cube root where `t` is above ε */
function labOf(t: v128, root: v128): v128 {
  return choose(root, f32x4.add(f32x4.mul(slope, t), start), f32x4.gt(t, epsilon));
}

let starA: v128 = i32x4.splat(0);
let starB: v128 = i32x4.splat(0);
/** a* and b* of four pixels, for `starA` and `starB`. Three roots side by side: none waits for another. */
function readChroma(r: v128, g: v128, b: v128): void {
  const x = row(0.4124 / XW, r, 0.3576 / XW, g, 0.1805 / XW, b);
  const y = row(0.2126, r, 0.7152, g, 0.0722, b);
  const z = row(0.0193 / ZW, r, 0.1192 / ZW, g, 0.9505 / ZW, b);
  const tx = most(x, epsilon);
  const ty = most(y, epsilon);
  const tz = most(z, epsilon);
  let rx = guess(tx);
  let ry = guess(ty);
  let rz = guess(tz);
  for (let k = 0; k < 2; k++) {
    rx = nearer(tx, rx);
    ry = nearer(ty, ry);
    rz = nearer(tz, rz);
  }
  const fy = labOf(y, ry);
  starA = f32x4.mul(all(500), f32x4.sub(labOf(x, rx), fy));
  starB = f32x4.mul(all(200), f32x4.sub(fy, labOf(z, rz)));
}

/** R, G, B; gives a* and b*, and their direction from grey, that of a* where there is none. */
export function chroma(bytes: i32): void {
  readLab();
  for (let at = 0; at < bytes; at += 16) {
    readChroma(operand(0, at), operand(1, at), operand(2, at));
    const square = f32x4.add(f32x4.mul(starA, starA), f32x4.mul(starB, starB));
    const coloured = f32x4.gt(square, all(1e-12));
    const unitLength = f32x4.div(all(1), f32x4.sqrt(square));
    result(0, at, starA);
    result(1, at, starB);
    result(2, at, choose(f32x4.mul(starA, unitLength), all(1), coloured));
    result(3, at, v128.and(f32x4.mul(starB, unitLength), coloured));
  }
}

/**
 * R, G, B of the plate, a* and b* of the screen, and their direction from grey; parameters: inner radius, 1 / (outer − inner), stretch.
 * Distance along the axis from grey through the screen, and across it.
 */
export function chromaDistance(bytes: i32): void {
  readLab();
  const inner = parameter(0);
  const k = parameter(1);
  const narrower = f32x4.div(all(1), parameter(2));
  for (let at = 0; at < bytes; at += 16) {
    readChroma(operand(0, at), operand(1, at), operand(2, at));
    const da = f32x4.sub(starA, operand(3, at));
    const db = f32x4.sub(starB, operand(4, at));
    const ua = operand(5, at);
    const ub = operand(6, at);
    const along = f32x4.mul(f32x4.add(f32x4.mul(da, ua), f32x4.mul(db, ub)), narrower);
    const across = f32x4.sub(f32x4.mul(da, ub), f32x4.mul(db, ua));
    const d = f32x4.sqrt(f32x4.add(f32x4.mul(along, along), f32x4.mul(across, across)));
    result(0, at, unit(f32x4.mul(f32x4.sub(d, inner), k)));
  }
}
