/**
 * Pointwise steps, four pixels at a time: AssemblyScript, compiled to WebAssembly by `node scripts/kernels.mjs`. Each function
 * works on one block: `bytes` of every operand, which src/core/kernels/pointwise.ts has laid into slots. What a step means, its
 * source and its ranges stand where it is called from, in src/core.
 */
import { all, between, choose, least, most, operand, parameter, result, resultMask, unit } from "./blocks";

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
