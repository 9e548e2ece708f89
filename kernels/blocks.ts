/** A block of a pointwise step: its parameters, operands and results, four pixels at a time. Nothing of it is called from outside. */

/** Parameters lie at 0, as floats; slots follow. */
const SLOTS: i32 = 1024;
/** Bytes of a slot, and the first that is written. */
const STRIDE: i32 = 16384;
const FIRST_OUT: i32 = 12;

export function parameter(k: i32): v128 {
  return v128.load32_splat(<usize>(k << 2));
}
export function number(k: i32): f32 {
  return load<f32>(<usize>(k << 2));
}
export function operand(slot: i32, at: i32): v128 {
  return v128.load(<usize>(SLOTS + slot * STRIDE + at));
}
export function result(slot: i32, at: i32, value: v128): void {
  v128.store(<usize>(SLOTS + (FIRST_OUT + slot) * STRIDE + at), value);
}
/** Four bytes of a result that is a mask: 1 where set, 0 elsewhere. */
export function resultMask(slot: i32, at: i32, mask: v128): void {
  const ones = v128.and(mask, i32x4.splat(1));
  const halves = i16x8.narrow_i32x4_u(ones, ones);
  v128.store32_lane(<usize>(SLOTS + (FIRST_OUT + slot) * STRIDE + (at >> 2)), i8x16.narrow_i16x8_u(halves, halves), 0);
}
export function all(value: f32): v128 {
  return f32x4.splat(value);
}
export function least(a: v128, b: v128): v128 {
  return f32x4.pmin(a, b);
}
export function most(a: v128, b: v128): v128 {
  return f32x4.pmax(a, b);
}
export function unit(a: v128): v128 {
  return least(most(a, all(0)), all(1));
}
/** `a` where the mask is set, else `b`. */
export function choose(a: v128, b: v128, mask: v128): v128 {
  return v128.bitselect(a, b, mask);
}
/** a + k·(b − a). */
export function between(a: v128, b: v128, k: v128): v128 {
  return f32x4.add(a, f32x4.mul(k, f32x4.sub(b, a)));
}
